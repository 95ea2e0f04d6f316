import { type FormEvent, useState } from "react";
import { answer, api, Refused } from "../api/client";
import { Logo } from "./Logo";

export function SignIn({ onDone }: { onDone: () => void }) {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    setFault(null);
    try {
      await answer(api.POST("/api/session", { body: { name: name.trim(), password } }));
      onDone();
    } catch (error) {
      setFault(error instanceof Refused ? error.message : String(error));
    }
    setBusy(false);
  };
  return (
    <main className="grid min-h-full place-items-center p-6">
      <form onSubmit={submit} className="card w-full max-w-sm p-8">
        <div className="mb-1 flex items-center gap-3">
          <Logo size={34} />
          <h1 className="font-serif text-3xl font-bold">Nest Line</h1>
        </div>
        <p className="mb-6 font-serif text-[17px] leading-snug text-soft italic">Copy that sits right, and stays right.</p>
        <label className="mb-1 block font-bold" htmlFor="name">
          Name
        </label>
        <input id="name" className="field mb-4 w-full" autoComplete="username" autoFocus required value={name} onChange={(e) => setName(e.target.value)} />
        <label className="mb-1 block font-bold" htmlFor="password">
          Password
        </label>
        <input id="password" type="password" className="field mb-2 w-full" autoComplete="current-password" required value={password} onChange={(e) => setPassword(e.target.value)} aria-invalid={fault !== null} />
        <p role="alert" className="min-h-6 text-coral-text">
          {fault && `${fault[0].toUpperCase()}${fault.slice(1)}.`}
        </p>
        <button className="button-main mt-2 w-full py-2" disabled={busy}>
          Sign in
        </button>
      </form>
    </main>
  );
}
