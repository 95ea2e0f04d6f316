/** Ways in for who is not signed in: an invitation, a link to a new password, asking for one. */
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { answer, api } from "../api/client";
import { Logo } from "../parts/Logo";
import { sentence } from "../state/sentence";
import { Field, typed } from "./Frame";

function Door({ head, children }: { head: string; children: ReactNode }) {
  return (
    <main className="grid min-h-full place-items-center p-6">
      <div className="card w-full max-w-sm p-8">
        <div className="mb-4 flex items-center gap-3">
          <Logo size={28} />
          <h1 className="font-serif text-2xl font-bold">{head}</h1>
        </div>
        {children}
      </div>
    </main>
  );
}

function useForm(send: (given: FormData) => Promise<unknown>, onDone: () => void) {
  const [fault, setFault] = useState("");
  const [busy, setBusy] = useState(false);
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const given = new FormData(event.currentTarget);
    setBusy(true);
    setFault("");
    answer(api.GET("/api/session")) // brings the token that the next one needs
      .then(() => send(given))
      .then(onDone, (error: Error) => setFault(sentence(error.message)))
      .finally(() => setBusy(false));
  };
  return { fault, busy, submit };
}

const Said = ({ fault }: { fault: string }) => (
  <p role="alert" className="min-h-6 text-coral-text">
    {fault}
  </p>
);

/** An account is made by an invitation. */
export function Invited({ token, onDone }: { token: string; onDone: () => void }) {
  const known = useQuery({
    queryKey: ["invited", token],
    queryFn: () => answer(api.GET("/api/entry/invitation/{token}", { params: { path: { token } } })),
  });
  const { fault, busy, submit } = useForm(
    (given) =>
      answer(
        api.POST("/api/entry/invitation/{token}", {
          params: { path: { token } },
          body: {
            name: typed(given, "name"),
            password: typed(given, "password"),
            email: typed(given, "email"),
          },
        }),
      ),
    onDone,
  );
  if (known.isError)
    return (
      <Door head="Not any more">
        <p>{sentence(known.error.message)}</p>
        <a className="button-main mt-5 inline-block" href="/">
          Sign in
        </a>
      </Door>
    );
  if (!known.data) return null;
  const { name, email, team, by } = known.data;
  return (
    <Door head="Welcome">
      <p className="mb-5 font-serif text-[17px] leading-snug text-soft italic">
        {by ?? "Somebody"} invites you to Nest Line{team && `, into the team “${team}”`}.
      </p>
      <form onSubmit={submit}>
        <Field
          size="mb-4 w-full"
          label="Name"
          name="name"
          autoComplete="username"
          required
          maxLength={60}
          defaultValue={name}
          autoFocus
        />
        <Field size="mb-4 w-full" label="E-mail" name="email" type="email" autoComplete="email" defaultValue={email} />
        <Field
          size="mb-4 w-full"
          label="Password"
          name="password"
          type="password"
          autoComplete="new-password"
          required
          minLength={8}
        />
        <Said fault={fault} />
        <button className="button-main mt-2 w-full py-2" disabled={busy}>
          Come in
        </button>
      </form>
    </Door>
  );
}

/** A new password is set by the link of a mail. */
export function NewPassword({ user, token, onDone }: { user: string; token: string; onDone: () => void }) {
  const { fault, busy, submit } = useForm(
    (given) =>
      answer(api.POST("/api/entry/new-password", { body: { user, token, password: typed(given, "password") } })),
    onDone,
  );
  return (
    <Door head="A new password">
      <form onSubmit={submit}>
        <Field
          label="New password"
          name="password"
          type="password"
          autoComplete="new-password"
          required
          minLength={8}
          autoFocus
        />
        <Said fault={fault} />
        <button className="button-main mt-2 w-full py-2" disabled={busy}>
          Set it and sign in
        </button>
      </form>
    </Door>
  );
}

/** A link to a new password is asked for. */
export function Forgot({ onBack }: { onBack: () => void }) {
  const [said, setSaid] = useState("");
  const { fault, busy, submit } = useForm(
    (given) =>
      answer(api.POST("/api/entry/forgot", { body: { name: typed(given, "name") } })).then((out) =>
        setSaid(out.message),
      ),
    () => undefined,
  );
  return (
    <Door head="Forgot your password?">
      {said ? (
        <p role="status">{said}</p>
      ) : (
        <form onSubmit={submit}>
          <Field
            size="mb-4 w-full"
            label="Your name, or your e-mail"
            name="name"
            autoComplete="username"
            required
            autoFocus
          />
          <Said fault={fault} />
          <button className="button-main mt-2 w-full py-2" disabled={busy}>
            Send me a link
          </button>
        </form>
      )}
      <button className="button mt-3 w-full" onClick={onBack}>
        Back to signing in
      </button>
    </Door>
  );
}
