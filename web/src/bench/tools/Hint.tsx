import { stepOut } from "../../state/choosing";
import type { ReactNode } from "react";

/** What a tool does, at the bench's foot; one that is `passing` is gone after a while. `out` is a button that ends it
 * as Esc does, for hands without keys. */
export function Hint({
  children,
  keys,
  out,
  passing = false,
}: {
  children: ReactNode;
  keys?: string;
  out?: "Done" | "Leave it";
  passing?: boolean;
}) {
  return (
    <div
      className={`${passing ? "passing" : ""} card pointer-events-none absolute inset-x-0 bottom-3 mx-auto flex w-fit max-w-[96%] items-center gap-2 px-3 py-1.5 text-sm`}
    >
      <p>
        {children} {keys && <span className="text-soft">{keys}</span>}
      </p>
      {out && (
        <HintButton title="Esc" onClick={stepOut}>
          {out}
        </HintButton>
      )}
    </div>
  );
}

export function HintButton({ title, onClick, children }: { title: string; onClick: () => void; children: ReactNode }) {
  return (
    <button
      className="button pointer-events-auto bg-inset px-2.5 py-0.5 whitespace-nowrap"
      title={title}
      onMouseDown={(event) => event.preventDefault()} // the keys stay where they are
      onClick={onClick}
    >
      {children}
    </button>
  );
}
