import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { answer, api, type Schemas } from "../api/client";
import { exportAccount } from "../state/jobs";
import { say } from "../state/viewing";
import { sentence } from "../state/sentence";
import { Field, Part, Row, when } from "./Frame";
import { Invitations } from "./Invitations";
import { givenUp, hasPasskeys, makePasskey } from "./passkeys";

type Account = Schemas["AccountOut"];

const fault = (error: Error) => say(sentence(error.message), "fault");

/** One's own account: who, how one comes in, where one is signed in, what is kept, the end. */
export function AccountPage({ onGone }: { onGone: () => void }) {
  const queries = useQueryClient();
  const { data, isError, error } = useQuery({ queryKey: ["account"], queryFn: () => answer(api.GET("/api/account")) });
  const again = () => void queries.invalidateQueries({ queryKey: ["account"] });
  const done = (out: { message: string }) => {
    say(sentence(out.message));
    again();
  };
  if (isError) return <main className="p-10 text-coral-text">{error.message}</main>;
  if (!data) return <main className="p-10 text-soft">Opening …</main>;
  return (
    <main className="mx-auto max-w-4xl px-8 py-9">
      <h1 className="font-serif text-[34px] leading-tight font-bold">{data.name}</h1>
      <p className="mt-1 text-soft">
        {data.administrator ? "An administrator, here" : "Here"} since {when(data.made)}
        {data.teams.length > 0 && <>; in {data.teams.map((team) => team.name).join(", ")}</>}.
        {data.administrator && (
          <>
            {" "}
            <a className="text-slot-text underline" href="/admin/">
              All accounts
            </a>
          </>
        )}
      </p>
      <Part head="Coming in" said="A link to a new password goes to your address.">
        <Email account={data} onDone={done} />
        <Password account={data} onDone={done} />
        <Passkeys account={data} onDone={again} />
      </Part>
      {data.administrator && <Invitations teams={data.teams} />}
      <Part head="Where you are signed in" said="What you do not know, end; then change your password.">
        <ul className="max-h-72 overflow-y-auto pr-2" tabIndex={0} aria-label="Where you are signed in">
          {data.visits.map((one) => (
            <Row
              key={one.id}
              what={
                <>
                  {browser(one.agent)}
                  {one.here && <b className="ml-2 text-slot-text">here</b>}
                </>
              }
              about={`${one.address ?? "unknown address"}, since ${when(one.made)} by ${one.by}; used ${when(one.seen)}`}
            >
              {!one.here && (
                <button
                  className="button"
                  onClick={() =>
                    void answer(
                      api.DELETE("/api/account/visits/{visit_id}", { params: { path: { visit_id: one.id } } }),
                    ).then(done, fault)
                  }
                >
                  End it
                </button>
              )}
            </Row>
          ))}
        </ul>
        {data.visits.length > 1 && (
          <button
            className="button mt-2 -ml-3"
            onClick={() =>
              void answer(api.DELETE("/api/session/elsewhere")).then(
                () => done({ message: "you are signed out everywhere else" }),
                fault,
              )
            }
          >
            End other sessions
          </button>
        )}
      </Part>
      <Part head="What happened" said="Kept for two years.">
        <ul className="max-h-72 overflow-y-auto pr-2" tabIndex={0} aria-label="What happened">
          {data.happenings.map((one, n) => (
            <Row
              key={n}
              what={sentence(one.what).replace(/\.$/, "")}
              about={[when(one.at), one.about, one.address].filter(Boolean).join(" · ")}
            />
          ))}
        </ul>
      </Part>
      <Part
        head="Your data"
        said={
          <>
            All documents with their pictures, fonts, recipes, and what is kept of you, in one archive. A program gets
            at them by{" "}
            <a className="text-slot-text underline" href="/api/reference">
              the API
            </a>
            .
          </>
        }
      >
        <button className="button-main" onClick={() => void exportAccount()}>
          Take it all along
        </button>
      </Part>
      <Leave account={data} onGone={onGone} />
    </main>
  );
}

/** A browser as people call it. */
function browser(agent: string): string {
  const system = /Windows|Mac OS X|Android|iPhone|iPad|Linux/.exec(agent)?.[0].replace("Mac OS X", "a Mac") ?? "";
  const name = /Firefox|Edg|Chrome|Safari/.exec(agent)?.[0].replace("Edg", "Edge") ?? "";
  return [name || agent.slice(0, 40) || "A browser", system && `on ${system}`].filter(Boolean).join(" ");
}

function Email({ account, onDone }: { account: Account; onDone: (out: { message: string }) => void }) {
  const [email, setEmail] = useState(account.email);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void answer(api.PATCH("/api/account", { body: { email } })).then(onDone, fault);
  };
  return (
    <form className="flex items-end gap-2" onSubmit={submit}>
      <Field
        label="E-mail"
        size="w-72"
        type="email"
        autoComplete="email"
        value={email}
        onChange={(e) => setEmail(e.target.value)}
      />
      <button className="button" disabled={email === account.email}>
        Keep it
      </button>
    </form>
  );
}

function Password({ account, onDone }: { account: Account; onDone: (out: { message: string }) => void }) {
  const [open, setOpen] = useState(false);
  const [old, setOld] = useState("");
  const [next, setNext] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void answer(api.POST("/api/account/password", { body: { old, new: next } })).then((out) => {
      setOpen(false);
      setOld("");
      setNext("");
      onDone(out);
    }, fault);
  };
  if (!open)
    return (
      <button className="button mt-3 -ml-3 block" onClick={() => setOpen(true)}>
        {account.password ? "Change the password …" : "Set a password …"}
      </button>
    );
  return (
    <form className="mt-4 flex flex-wrap items-end gap-2" onSubmit={submit}>
      <input type="hidden" autoComplete="username" value={account.name} readOnly />
      {account.password && (
        <Field
          label="Password now"
          type="password"
          autoComplete="current-password"
          autoFocus
          required
          value={old}
          onChange={(e) => setOld(e.target.value)}
        />
      )}
      <Field
        label="New password"
        type="password"
        autoComplete="new-password"
        required
        minLength={8}
        value={next}
        onChange={(e) => setNext(e.target.value)}
      />
      <button className="button-main">Change it</button>
      <button type="button" className="button" onClick={() => setOpen(false)}>
        Leave it
      </button>
      <p className="w-full text-sm text-soft">At least 8 letters, not a common word. Every other session ends.</p>
    </form>
  );
}

function Passkeys({ account, onDone }: { account: Account; onDone: () => void }) {
  const make = () =>
    void makePasskey(browser(navigator.userAgent)).then(
      () => {
        say("The passkey is kept: you can sign in with it.");
        onDone();
      },
      (error: Error) => (givenUp(error) ? undefined : fault(error)),
    );
  return (
    <div className="mt-5">
      <h3 className="text-sm font-bold">Passkeys</h3>
      <ul>
        {account.passkeys.map((one) => (
          <Row
            key={one.id}
            what={one.name}
            about={`made ${when(one.made)}; ${one.used ? `used ${when(one.used)}` : "not used yet"}`}
          >
            <button
              className="button"
              onClick={() =>
                void answer(
                  api.DELETE("/api/account/passkeys/{passkey_id}", { params: { path: { passkey_id: one.id } } }),
                ).then(onDone, fault)
              }
            >
              Take it away
            </button>
          </Row>
        ))}
      </ul>
      {hasPasskeys() ? (
        <button className="button -ml-3" onClick={make}>
          Make a passkey on this device
        </button>
      ) : (
        <p className="text-sm text-soft">
          Passkeys need an address with a name, over TLS or as <i>localhost</i>; this one has none.
        </p>
      )}
    </div>
  );
}

function Leave({ account, onGone }: { account: Account; onGone: () => void }) {
  const [open, setOpen] = useState(false);
  const [password, setPassword] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void answer(api.POST("/api/account/leave", { body: { password } })).then((out) => {
      say(sentence(out.message));
      onGone();
    }, fault);
  };
  return (
    <Part
      head="The end"
      said="Your documents go with you, also for those they are shared with; so does what you gave to teams."
    >
      {open ? (
        <form className="flex flex-wrap items-end gap-2" onSubmit={submit}>
          {account.password && (
            <Field
              label="Your password"
              type="password"
              autoComplete="current-password"
              autoFocus
              required
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
          )}
          <button className="button bg-coral-wash text-coral-text">Delete {account.name} for good</button>
          <button type="button" className="button" onClick={() => setOpen(false)}>
            Stay
          </button>
        </form>
      ) : (
        <button className="button -ml-3 text-coral-text" onClick={() => setOpen(true)}>
          Delete this account …
        </button>
      )}
    </Part>
  );
}
