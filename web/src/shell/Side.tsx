import { ChevronLeft, ChevronRight } from "lucide-react";
import { type KeyboardEvent, type PointerEvent, type ReactNode, useState } from "react";
import { useStore } from "../state/store";
import { fold } from "../state/viewing";

const FOLDED = 22;
/** How wide a panel beside the bench is at first in a window 1,280 px wide, and how much wider for each px more; at
 * first at most; and how narrow and wide it can be dragged. */
const WIDTHS = { galley: [196, 0.13, 288, 150, 520], tally: [144, 0.1, 216, 120, 400] } as const;
const STEP = 16;

const NAMES = { galley: "Galley", tally: "Tally" } as const;
const KEYS = { galley: ";", tally: "'" } as const;

type Which = keyof typeof WIDTHS;

function first(which: Which): number {
  const [width, more, most] = WIDTHS[which];
  return Math.round(Math.min(most, width + more * Math.max(0, window.innerWidth - 1280)));
}

function kept(which: Which): number {
  const [, , , least, most] = WIDTHS[which];
  const said = Number(localStorage.getItem(`${which}-width`));
  return said >= least && said <= most ? said : first(which);
}

/** A panel beside the bench: its inner edge is dragged, and it folds to a slim edge that says its name. The galley
 * stays in the document when it is folded, since it may hold the copy that is being written on the page. */
export function Side({
  which,
  reachable,
  children,
}: {
  which: Which;
  /** Whether it is reached by keyboard although it is folded. */
  reachable?: boolean;
  children: ReactNode;
}) {
  const open = useStore((s) => s[which]);
  const clean = useStore((s) => s.clean);
  const [width, setWidth] = useState(() => kept(which));
  const [, , , least, most] = WIDTHS[which];
  const left = which === "galley";
  const seen = open && !clean;
  const keep = (now: number) => {
    const within = Math.round(Math.min(most, Math.max(least, now)));
    setWidth(within);
    localStorage.setItem(`${which}-width`, String(within));
  };
  const drag = (event: PointerEvent<HTMLDivElement>) => {
    const element = event.currentTarget;
    const from = event.clientX;
    element.setPointerCapture(event.pointerId);
    const move = (on: globalThis.PointerEvent) => keep(width + (left ? on.clientX - from : from - on.clientX));
    element.addEventListener("pointermove", move);
    element.addEventListener("lostpointercapture", () => element.removeEventListener("pointermove", move), {
      once: true,
    });
  };
  const keys = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    keep(width + (left ? by : -by));
  };
  const Fold = left === open ? ChevronLeft : ChevronRight;
  return (
    <div
      className={`relative h-full min-h-0 shrink-0 ${clean ? "w-0" : `border-line bg-card ${left ? "border-r" : "border-l"}`}`}
      style={{ width: clean ? 0 : open ? width : FOLDED }}
    >
      {/* Folded away it still holds the copy being written on the page. */}
      <div
        className={seen ? "h-full" : "pointer-events-none fixed top-0 -left-[400px] h-40 w-64 opacity-0"}
        inert={!seen && !reachable ? true : undefined}
      >
        {(seen || left) && children}
      </div>
      {!clean && (
        <button
          className={
            open
              ? `absolute top-2 z-10 grid size-6 place-items-center rounded-md text-soft hover:bg-inset ${left ? "left-1.5" : "right-1.5"}`
              : "flex h-full w-full flex-col items-center gap-2 py-3 text-soft hover:bg-inset hover:text-ink"
          }
          aria-expanded={open}
          title={`${open ? "Fold" : "Open"} the ${which} (${KEYS[which]})`}
          aria-label={`${open ? "Fold" : "Open"} the ${which}`}
          onClick={() => fold(which)}
        >
          <Fold size={15} />
          {!open && <span className="eyebrow [writing-mode:vertical-rl]">{NAMES[which]}</span>}
        </button>
      )}
      {seen && (
        <div
          role="separator"
          tabIndex={0}
          aria-orientation="vertical"
          aria-label={`Edge of the ${which}`}
          aria-valuenow={width}
          aria-valuemin={least}
          aria-valuemax={most}
          title="Drag to change its width; double-click for the first width"
          className={`absolute top-0 z-10 h-full w-[7px] cursor-col-resize hover:bg-slot/30 focus-visible:bg-slot/40 ${left ? "-right-1" : "-left-1"}`}
          onPointerDown={drag}
          onDoubleClick={() => keep(first(which))}
          onKeyDown={keys}
        />
      )}
    </div>
  );
}
