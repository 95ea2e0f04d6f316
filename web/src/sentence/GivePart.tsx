import { DEFAULTS } from "../api/rules";
import { useState } from "react";
import { act } from "../api/client";
import type { Frame, Give, Thing } from "../state/document";
import { edit, keepTried } from "../state/sending";
import { useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { shown } from "../state/units";
import { type Edge, EDGES, giveSaid } from "./giveSaid";
import { LengthField } from "./LengthField";
import { Part } from "../parts/Part";

/** What a rule of this part is when nothing is said. */
const PLAIN: Record<string, unknown> = { least: null, greatest: null, wrap_lines: true, whole_pixels: false };

/** Which edges move when the copy changes: a drawing of the frame whose edges are switched between holding and
 * giving. */
export function GivePart({ thing, frame }: { thing: Thing; frame: Frame }) {
  const give = frame.give ?? [];
  const gives = useStore((s) => s.scene?.nests[thing.id]?.gives ?? true);
  const operations = (next: Partial<Frame>) =>
    Object.entries(next).map(([rule, value]) => ({
      do: "put" as const,
      at: ["objects", thing.id, "frame", rule],
      value: value ?? PLAIN[rule],
    }));
  const put = (next: Partial<Frame>) => void edit(operations(next), "Give");
  const toggle = (edge: Edge) => {
    const edges = give.filter((e): e is Edge => e !== "in-proportion");
    put({ give: edges.includes(edge) ? edges.filter((e) => e !== edge) : [...edges, edge] });
  };
  const across = give.some((e) => e === "left" || e === "right" || e === "in-proportion");
  const down = give.some((e) => e === "top" || e === "bottom" || e === "in-proportion");
  const limit = (which: "least" | "greatest", axis: "width" | "height", label: string) => {
    const value = frame[which]?.[axis];
    const next = (text: string): Partial<Frame> => ({
      [which]: emptied({ ...frame[which], [axis]: /^(|none|no)$/i.test(text.trim()) ? undefined : text }),
    });
    return (
      <LengthField
        above
        key={which + axis}
        label={label}
        value={value == null ? "none" : shown(value)}
        onTry={(text) => tryOut(operations(next(text)))}
        onKeep={(text) => void keepTried(operations(next(text)), label)}
      />
    );
  };
  // Of several that are chosen each closes up to its own copy.
  const others = useStore((s) => s.others);
  const nests = useStore((s) => s.scene?.nests);
  const frames = [thing.id, ...others.filter((id) => nests?.[id])];
  const close = (edges: Give[]) => frames.flatMap((object) => act("close-up", { object, edges }));
  return (
    <Part name="give" title="Which edges give when the copy changes" said={giveSaid(frame)} width="w-[340px]">
      {(shut) => (
        <div className="scroller max-h-[60vh] space-y-3">
          <Drawing give={give} onToggle={toggle} />
          <label className="flex items-center gap-2 text-soft">
            <input
              type="checkbox"
              className="accent-slot"
              checked={give.includes("in-proportion")}
              onChange={(e) => put({ give: e.target.checked ? ["in-proportion"] : [] })}
            />{" "}
            in proportion, about its pivot
          </label>
          <label className="flex items-center gap-2 text-soft">
            <input
              type="checkbox"
              className="accent-slot"
              checked={frame.wrap_lines === false}
              onChange={(e) => put({ wrap_lines: e.target.checked ? false : undefined })}
            />{" "}
            lines do not wrap
          </label>
          {(across || down) && (
            <div className="grid grid-cols-2 gap-x-4 gap-y-2">
              {across && limit("least", "width", "Least width")}
              {across && limit("greatest", "width", "Greatest width")}
              {down && limit("least", "height", "Least height")}
              {down && limit("greatest", "height", "Greatest height")}
            </div>
          )}
          {give.length > 0 && !gives && (
            <p className="text-soft">
              Its copy goes on in another frame, so it gives only up to a greatest size: set one.
            </p>
          )}
          {give.length > 0 && (
            <label className="flex items-center gap-2 text-soft">
              <input
                type="checkbox"
                className="accent-slot"
                checked={frame.whole_pixels ?? DEFAULTS.frame.whole_pixels}
                onChange={(e) => put({ whole_pixels: e.target.checked || undefined })}
              />{" "}
              rounded up to whole pixels
            </label>
          )}
          <div>
            <p className="mb-1 text-soft">Close it up to its copy once, without a rule:</p>
            <div className="-ml-2 flex flex-wrap">
              {(
                [
                  ["from below", ["bottom"]],
                  ["from the right", ["right"]],
                  ["in proportion", ["in-proportion"]],
                ] as [string, Give[]][]
              ).map(([label, edges]) => (
                <button
                  key={label}
                  className="button px-2 py-1"
                  onMouseEnter={() => tryOut(close(edges))}
                  onMouseLeave={stopTrying}
                  onClick={() => (shut(), void edit(close(edges), "Close up"))}
                >
                  {label}
                </button>
              ))}
            </div>
          </div>
        </div>
      )}
    </Part>
  );
}

type Limits = NonNullable<Frame["least"]>;

function emptied(limits: Limits): Limits | undefined {
  const kept = Object.fromEntries(Object.entries(limits).filter(([, value]) => value !== undefined));
  return Object.keys(kept).length ? kept : undefined;
}

/** The frame with its four edges: one that gives is open and moves, one that holds stands firm. Pointing at it plays
 * the growth. */
function Drawing({ give, onToggle }: { give: Give[]; onToggle: (edge: Edge) => void }) {
  const [grown, setGrown] = useState(false);
  const all = give.includes("in-proportion");
  const by = (edge: Edge) => (grown && (all || give.includes(edge)) ? (all ? 9 : 16) : 0);
  const [x0, y0, x1, y1] = [86 - by("left"), 46 - by("top"), 206 + by("right"), 112 + by("bottom")];
  const lines: Record<Edge, [number, number, number, number]> = {
    top: [x0, y0, x1, y0],
    right: [x1, y0, x1, y1],
    bottom: [x0, y1, x1, y1],
    left: [x0, y0, x0, y1],
  };
  const rows = Math.floor((y1 - y0 - 14) / 11);
  return (
    <svg
      viewBox="0 0 292 158"
      className="w-full overflow-visible select-none"
      onPointerEnter={() => setGrown(true)}
      onPointerLeave={() => setGrown(false)}
      role="group"
      aria-label="Edges of the frame"
    >
      <g className="motion-safe:[&_*]:transition-all motion-safe:[&_*]:duration-150">
        <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} fill="var(--color-slot-wash)" />
        {Array.from({ length: rows }, (_, i) => (
          <line
            key={i}
            x1={x0 + 10}
            x2={i === rows - 1 ? x0 + (x1 - x0) * 0.55 : x1 - 10}
            y1={y0 + 13 + i * 11}
            y2={y0 + 13 + i * 11}
            stroke="var(--color-soft)"
            strokeOpacity="0.5"
            strokeWidth="3"
            strokeLinecap="round"
          />
        ))}
        {EDGES.map((edge) => {
          const [a, b, c, d] = lines[edge];
          const gives = all || give.includes(edge);
          return (
            <line
              key={edge}
              x1={a}
              y1={b}
              x2={c}
              y2={d}
              stroke={gives ? "var(--color-slot)" : "var(--color-ink)"}
              strokeWidth={gives ? 2.5 : 5}
              strokeDasharray={gives ? "1 6" : undefined}
              strokeLinecap="round"
            />
          );
        })}
      </g>
      {EDGES.map((edge) => {
        const gives = all || give.includes(edge);
        const [x, y, anchor] = (
          {
            top: [146, 18, "middle"],
            right: [232, 83, "start"],
            bottom: [146, 148, "middle"],
            left: [60, 83, "end"],
          } as const
        )[edge];
        const [hx, hy, hw, hh] = (
          {
            top: [112, 4, 68, 28],
            right: [226, 68, 60, 30],
            bottom: [112, 134, 68, 24],
            left: [6, 68, 60, 30],
          } as const
        )[edge];
        const [a, b, c, d] = lines[edge];
        return (
          <g key={edge} className="cursor-pointer">
            <line x1={a} y1={b} x2={c} y2={d} stroke="transparent" strokeWidth="16" onClick={() => onToggle(edge)} />
            <g
              role="checkbox"
              aria-checked={gives}
              aria-label={`${edge} edge ${gives ? "gives" : "holds"}`}
              tabIndex={0}
              className="cursor-pointer outline-offset-2"
              onClick={() => onToggle(edge)}
              onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && (e.preventDefault(), onToggle(edge))}
            >
              <rect x={hx} y={hy} width={hw} height={hh} fill="transparent" />
              <text
                x={x}
                y={y}
                textAnchor={anchor}
                dominantBaseline="middle"
                fontSize="13"
                fontWeight={gives ? 700 : 400}
                fill={gives ? "var(--color-slot-text)" : "var(--color-soft)"}
              >
                {gives ? "gives" : "holds"}
              </text>
            </g>
          </g>
        );
      })}
    </svg>
  );
}
