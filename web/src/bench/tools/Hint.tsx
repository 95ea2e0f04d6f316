import type { ReactNode } from "react";

/** What a tool does, at the bench's foot. */
export function Hint({ children, keys }: { children: ReactNode; keys: string }) {
  return (
    <p className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm whitespace-nowrap">
      {children} <span className="text-soft">{keys}</span>
    </p>
  );
}
