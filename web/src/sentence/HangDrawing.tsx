import { type PointerEvent, useRef, useState } from "react";

type Across = "line" | "column" | "frame" | "page";
type Down = "line" | "frame" | "page";

/** How an object hangs beside its line, as it is drawn: at which edge of what, within it or outside, how high. */
export interface Hanging {
  side: "left" | "right";
  across: Across;
  outside: boolean;
  down: Down;
}

/** The page, the frame on it, a column in that and the line: left, top, right, bottom. */
const BOXES: Record<Across, [number, number, number, number]> = {
  page: [6, 6, 234, 164],
  frame: [52, 30, 188, 146],
  column: [60, 38, 116, 138],
  line: [60, 88, 104, 94],
};
const TOPS: Record<Down, number> = { page: BOXES.page[1], frame: BOXES.frame[1], line: 84 };
const [WIDE, HIGH] = [26, 18];
const NAMES: Record<Across, string> = { page: "page", frame: "frame", column: "column", line: "line" };

/** Where the object's left edge is for an edge of something. */
function leftOf({ side, across, outside }: Pick<Hanging, "side" | "across" | "outside">): number {
  const [left, , right] = BOXES[across];
  if (side === "left") return outside ? left - WIDE - 2 : left + 2;
  return outside ? right + 2 : right - WIDE - 2;
}

const EVERY: Pick<Hanging, "side" | "across" | "outside">[] = (["line", "column", "frame", "page"] as const).flatMap(
  (across) =>
    (["left", "right"] as const).flatMap((side) =>
      [false, true].filter((outside) => across !== "page" || !outside).map((outside) => ({ side, across, outside })),
    ),
);

/** A page with a frame, a column and a line of copy: the object is dragged to where it shall hang, and catches on
 * edges. */
export function HangDrawing({
  value,
  onTry,
  onKeep,
}: {
  value: Hanging;
  onTry: (next: Hanging) => void;
  onKeep: (next: Hanging) => void;
}) {
  const [held, setHeld] = useState<{ x: number; y: number; next: Hanging } | null>(null);
  const grab = useRef<{ dx: number; dy: number } | null>(null);
  const at = held ?? { x: leftOf(value), y: TOPS[value.down], next: value };
  const place = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: ((event.clientX - box.left) / box.width) * 240, y: ((event.clientY - box.top) / box.height) * 170 };
  };
  const caught = (x: number, y: number): Hanging => {
    const far = (one: Pick<Hanging, "side" | "across" | "outside">) => Math.abs(leftOf(one) - x);
    const nearest = EVERY.reduce((a, b) => (far(b) < far(a) - 0.01 ? b : a));
    const down = (Object.keys(TOPS) as Down[]).reduce((a, b) =>
      Math.abs(TOPS[b] - y) < Math.abs(TOPS[a] - y) ? b : a,
    );
    return { ...nearest, down };
  };
  const step = (key: string) => {
    const order = [...EVERY].sort((a, b) => leftOf(a) - leftOf(b));
    const now = order.findIndex(
      (one) => one.side === at.next.side && one.across === at.next.across && one.outside === at.next.outside,
    );
    const downs = (Object.keys(TOPS) as Down[]).sort((a, b) => TOPS[a] - TOPS[b]);
    const row = downs.indexOf(at.next.down);
    const next = {
      ArrowLeft: { ...order[Math.max(0, now - 1)], down: at.next.down },
      ArrowRight: { ...order[Math.min(order.length - 1, now + 1)], down: at.next.down },
      ArrowUp: { ...at.next, down: downs[Math.max(0, row - 1)] },
      ArrowDown: { ...at.next, down: downs[Math.min(downs.length - 1, row + 1)] },
    }[key];
    if (next) onKeep(next);
    return !!next;
  };
  const [x, y] = held ? [leftOf(held.next), TOPS[held.next.down]] : [at.x, at.y];
  const { across, side } = at.next;
  const edge = BOXES[across][side === "left" ? 0 : 2];
  const top = TOPS[at.next.down];
  return (
    <svg
      viewBox="0 0 240 170"
      className="block w-full cursor-grab touch-none rounded-md bg-inset/50"
      role="application"
      aria-label={`It hangs at the ${side} of the ${NAMES[across]}. Drag it, or use the arrows.`}
      tabIndex={0}
      onKeyDown={(event) => step(event.key) && event.preventDefault()}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        const p = place(event);
        const inside = p.x >= at.x && p.x <= at.x + WIDE && p.y >= at.y && p.y <= at.y + HIGH;
        grab.current = inside ? { dx: p.x - at.x, dy: p.y - at.y } : { dx: WIDE / 2, dy: HIGH / 2 };
        if (!inside) setHeld({ x: p.x - WIDE / 2, y: p.y - HIGH / 2, next: caught(p.x - WIDE / 2, p.y - HIGH / 2) });
      }}
      onPointerMove={(event) => {
        if (!grab.current) return;
        const p = place(event);
        const [left, high] = [p.x - grab.current.dx, p.y - grab.current.dy];
        const next = caught(left, high);
        if (!held || JSON.stringify(next) !== JSON.stringify(held.next)) onTry(next);
        setHeld({ x: left, y: high, next });
      }}
      onPointerUp={() => {
        if (held) onKeep(held.next);
        grab.current = null;
        setHeld(null);
      }}
    >
      <rect
        x={BOXES.page[0]}
        y={BOXES.page[1]}
        width={BOXES.page[2] - BOXES.page[0]}
        height={BOXES.page[3] - BOXES.page[1]}
        fill="var(--color-sheet)"
        stroke="var(--color-line)"
      />
      <rect
        x={BOXES.frame[0]}
        y={BOXES.frame[1]}
        width={BOXES.frame[2] - BOXES.frame[0]}
        height={BOXES.frame[3] - BOXES.frame[1]}
        fill="none"
        stroke="var(--color-soft)"
        strokeOpacity="0.6"
      />
      {[0, 1].map((column) => (
        <g key={column} stroke="var(--color-ink)" strokeOpacity="0.28" strokeWidth="2.5">
          {Array.from({ length: 9 }, (_, i) => (
            <path
              key={i}
              d={`M${60 + column * 64} ${42 + i * 12}h${i === 4 && !column ? 44 : i === 8 ? 30 : 56}`}
              strokeOpacity={i === 4 && !column ? 1 : undefined}
            />
          ))}
        </g>
      ))}
      <path d={`M${edge} ${BOXES[across][1]}V${BOXES[across][3]}`} stroke="var(--color-slot)" strokeWidth="2" />
      <path
        d={`M${Math.min(edge, x)} ${top}H${Math.max(edge, x + WIDE)}`}
        stroke="var(--color-slot)"
        strokeWidth="1"
        strokeDasharray="3 3"
      />
      <rect
        x={held ? held.x : x}
        y={held ? held.y : y}
        width={WIDE}
        height={HIGH}
        rx="3"
        fill="var(--color-slot)"
        fillOpacity={held ? 0.35 : 0.75}
      />
      {held && (
        <rect x={x} y={y} width={WIDE} height={HIGH} rx="3" fill="none" stroke="var(--color-slot)" strokeWidth="1.5" />
      )}
    </svg>
  );
}
