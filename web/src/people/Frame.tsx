import type { InputHTMLAttributes, ReactNode } from "react";
import { Logo } from "../parts/Logo";

/** Where else one can go, beside the work itself. */
const PLACES = [
  ["/", "Documents"],
  ["/teams", "Teams"],
] as const;

/** A page beside the work: documents, teams, the account. */
export function Frame({
  at,
  name,
  onGo,
  onSignOut,
  children,
}: {
  at: string;
  name: string;
  onGo: (to: string) => void;
  onSignOut: () => void;
  children: ReactNode;
}) {
  const link = (to: string, said: ReactNode, more = "") => (
    <a
      key={to}
      href={to}
      aria-current={to === at ? "page" : undefined}
      className={`button ${to === at ? "font-bold" : ""} ${more}`}
      onClick={(event) => {
        if (event.ctrlKey || event.metaKey || event.shiftKey || event.altKey || event.button) return;
        event.preventDefault();
        onGo(to);
      }}
    >
      {said}
    </a>
  );
  return (
    <div className="min-h-full">
      <header className="flex h-12 items-center gap-2.5 border-b border-line bg-card px-4">
        <Logo />
        <span className="mr-3 font-serif text-[19px] font-bold">Nest Line</span>
        <nav aria-label="Places" className="flex flex-1 gap-0.5">
          {PLACES.map(([to, said]) => link(to, said))}
        </nav>
        {link("/account", name, "max-w-48 truncate")}
        <button className="button" onClick={onSignOut}>
          Sign out
        </button>
      </header>
      {children}
    </div>
  );
}

/** A part of a page with a head of its own. */
export function Part({ head, children, said }: { head: string; children: ReactNode; said?: ReactNode }) {
  return (
    <section
      className="mt-10 grid gap-x-10 gap-y-3 border-t border-line pt-5 md:grid-cols-[15rem_1fr]"
      aria-label={head}
    >
      <div>
        <h2 className="font-serif text-xl font-bold">{head}</h2>
        {said && <p className="mt-1 text-sm text-soft">{said}</p>}
      </div>
      <div className="min-w-0">{children}</div>
    </section>
  );
}

/** A line of a list: what it is, something about it, what can be done. */
export function Row({ what, about, children }: { what: ReactNode; about?: ReactNode; children?: ReactNode }) {
  return (
    <li className="flex min-h-11 items-center gap-3 border-b border-line/60 py-1.5 last:border-0">
      <div className="min-w-0 flex-1">
        <p className="truncate">{what}</p>
        {about && <p className="truncate text-sm text-soft">{about}</p>}
      </div>
      {children}
    </li>
  );
}

export function when(at: string): string {
  return new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" }).format(new Date(at));
}

/** What was typed into a field of a form. */
export function typed(form: FormData, field: string): string {
  const found = form.get(field);
  return typeof found === "string" ? found : "";
}

/** A field of a form under its label; `size` says how wide it is. */
export function Field({
  label,
  size = "w-60",
  ...more
}: { label: string; size?: string } & Omit<InputHTMLAttributes<HTMLInputElement>, "className" | "id" | "size">) {
  return (
    <label className={`block ${size}`}>
      <span className="mb-1 block text-sm font-bold">{label}</span>
      <input className="field w-full" {...more} />
    </label>
  );
}
