import { type FormEvent, type ReactNode, useState } from "react";
import { answer, api, Refused } from "../api/client";
import { askAgain as signedIn } from "../state/sending";
import { useStore } from "../state/store";
import { Forgot } from "../people/Entry";
import { enterByPasskey, givenUp, hasPasskeys } from "../people/passkeys";
import { sentence } from "../state/sentence";
import { Logo } from "../parts/Logo";

/** The first page: nobody is signed in. */
export function SignIn({ onDone }: { onDone: () => void }) {
  const [forgot, setForgot] = useState(false);
  if (forgot) return <Forgot onBack={() => setForgot(false)} />;
  return (
    <main className="grid min-h-full place-items-center p-6">
      <SignInForm onDone={onDone} onForgot={() => setForgot(true)}>
        <div className="mb-1 flex items-center gap-3">
          <Logo size={34} />
          <h1 className="font-serif text-3xl font-bold">Nest Line</h1>
        </div>
        <p className="mb-6 font-serif text-[17px] leading-snug text-soft italic">
          Copy that sits right, and stays right.
        </p>
      </SignInForm>
    </main>
  );
}

/** The session ended while work was going on: signed in again where one is, what waits is stored. */
export function SignInAgain() {
  const out = useStore((s) => s.away?.out ?? false);
  const waiting = useStore((s) => s.away?.waiting ?? 0);
  if (!out) return null;
  // Beside the work, not over it: words go on being typed where they are.
  return (
    <aside role="alertdialog" aria-label="Sign in again" className="fixed top-16 right-6 z-50 w-80">
      <SignInForm onDone={signedIn} quiet>
        <h2 className="font-serif text-xl font-bold">Sign in again</h2>
        <p className="mt-1 mb-4 text-soft">
          Your session has ended. {waiting === 1 ? "One change waits" : `${waiting} changes wait`} here and will be
          stored; go on working.
        </p>
      </SignInForm>
    </aside>
  );
}

function SignInForm({
  onDone,
  onForgot,
  quiet = false,
  children,
}: {
  onDone: () => void;
  onForgot?: () => void;
  quiet?: boolean;
  children: ReactNode;
}) {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const enter = async (how: () => Promise<unknown>) => {
    setBusy(true);
    setFault(null);
    try {
      await answer(api.GET("/api/session")); // brings the token that the next one needs, when its cookie is gone
      await how();
      onDone();
    } catch (error) {
      if (!givenUp(error)) setFault(error instanceof Refused ? error.message : String(error));
    }
    setBusy(false);
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void enter(() => answer(api.POST("/api/session", { body: { name: name.trim(), password } })));
  };
  return (
    <form onSubmit={submit} className={`card w-full max-w-sm ${quiet ? "p-5" : "p-8"}`}>
      {children}
      <label className="mb-1 block font-bold" htmlFor="name">
        Name
      </label>
      <input
        id="name"
        className="field mb-4 w-full"
        autoComplete="username"
        autoFocus={!quiet}
        required
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <label className="mb-1 block font-bold" htmlFor="password">
        Password
      </label>
      <input
        id="password"
        type="password"
        className="field mb-2 w-full"
        autoComplete="current-password"
        required
        value={password}
        onChange={(e) => setPassword(e.target.value)}
        aria-invalid={fault !== null}
      />
      <p role="alert" className="min-h-6 text-coral-text">
        {fault && sentence(fault)}
      </p>
      <button className="button-main mt-2 w-full py-2" disabled={busy}>
        Sign in
      </button>
      {hasPasskeys() && (
        <button
          type="button"
          className="button mt-2 w-full py-2"
          disabled={busy}
          onClick={() => void enter(enterByPasskey)}
        >
          Sign in with a passkey
        </button>
      )}
      {onForgot && (
        <button type="button" className="mt-3 min-h-6 w-full text-sm text-soft underline" onClick={onForgot}>
          Forgot your password?
        </button>
      )}
    </form>
  );
}
