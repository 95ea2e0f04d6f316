import type { ReactNode } from "react";

/** What a tool does, at the bench's foot; one that is `passing` is gone after a while. */
export function Hint({ children, keys, passing = false }: { children: ReactNode; keys: string; passing?: boolean }) {
  return (
    <p
      className={`${passing ? "passing" : ""} card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm whitespace-nowrap`}
    >
      {children} <span className="text-soft">{keys}</span>
    </p>
  );
}
