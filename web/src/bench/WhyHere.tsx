import { type Schemas, post } from "../api/client";
import { thingsOf } from "../state/document";
import { say, sayEveryRule, select, shownScene, useStore } from "../state/store";
import { inUnit } from "../state/units";
import { apply, inverse, pagePlaces, type Point } from "../state/geometry";
import { pageAt } from "./hand";
import { pageMatrix } from "../state/geometry";

let asking = false;
let next: Point | null = null;
let pin = false;

/** Ask why what is under the pointer stands there; while one answer is on its way the latest place waits. */
export async function askWhy(at: Point, pinned = false): Promise<void> {
  next = at;
  pin = pinned || (pin && asking);
  if (asking) return;
  asking = true;
  try {
    while (next) {
      const here: Point = next;
      next = null;
      const scene = shownScene();
      const { id, view, tool } = useStore.getState();
      if (!scene || tool.kind !== "why") return;
      const page = pageAt(scene, here);
      const place = apply(inverse(pageMatrix(view, pagePlaces(scene)[page])), here);
      const found = await post<Schemas["WhyOut"]>(`/api/documents/${id}/why`, { page, at: place });
      if (useStore.getState().tool.kind === "why")
        useStore.setState({ why: found.frame ? { at: here, page, causes: found.causes, pinned: pin } : null });
    }
  } catch (error) {
    say(error instanceof Error ? error.message : String(error), "fault");
  } finally {
    asking = false;
  }
}

export function whyHere() {
  const on = useStore.getState().tool.kind === "why";
  useStore.setState({ tool: on ? { kind: "hand" } : { kind: "why" }, why: null });
}

/** Select what the cause belongs to and open the rule that changes it. */
function goTo(cause: Schemas["CauseOut"]) {
  useStore.setState({ tool: { kind: "hand" }, why: null });
  select(cause.object, false, true);
  const find = () => document.querySelector<HTMLElement>(`[data-part=${cause.rule}]`);
  requestAnimationFrame(() => {
    if (!find()) sayEveryRule(true);
    requestAnimationFrame(() => find()?.click());
  });
}

const WHAT: Record<string, string> = {
  "left end": "Left end",
  "right end": "Right end",
  baseline: "Baseline",
  "word spaces": "Within the line",
  place: "Place",
  size: "Size",
  box: "Box",
};

/** The causes of what is under the pointer, the nearest first. */
export function WhyCard() {
  const why = useStore((s) => s.why);
  const open = useStore((s) => s.document);
  const unit = useStore((s) => s.document?.unit ?? "mm");
  if (!why || !open) return null;
  const shown = why.pinned ? why.causes : why.causes.slice(0, 3);
  return (
    <div
      className={`card absolute z-20 w-80 overflow-y-auto p-3 text-sm ${why.pinned ? "" : "pointer-events-none"}`}
      role={why.pinned ? "dialog" : "status"}
      aria-label="Why here"
      style={place(why.at)}
      onKeyDown={(event) => event.key === "Escape" && useStore.setState({ why: null })}
    >
      <ul className="space-y-1.5">
        {shown.map((cause, index) => {
          const other = thingsOf(open).find((t) => t.id === cause.object);
          return (
            <li
              key={index}
              className={`flex items-start gap-2 ${index === 0 ? "" : "border-t border-line pt-1.5 text-soft"}`}
            >
              <span className="min-w-0 flex-1">
                <span className="eyebrow block">{WHAT[cause.what]}</span>
                <span className={index === 0 ? "font-bold" : ""}>{cause.said}</span>
                {cause.figure !== null && cause.figure > 0.005 ? (
                  <span className="tabular-nums">
                    : {inUnit(cause.figure, ["size", "baseline", "word spaces"].includes(cause.what) ? "pt" : unit)}
                  </span>
                ) : null}
              </span>
              {why.pinned && other && (
                <button
                  className="button shrink-0 px-2 py-0.5 text-slot-text underline"
                  autoFocus={index === 0}
                  onClick={() => goTo(cause)}
                >
                  Change it
                </button>
              )}
            </li>
          );
        })}
      </ul>
      {!why.pinned && <p className="mt-2 text-xs text-soft">Click to change it.</p>}
    </div>
  );
}

function place([x, y]: Point): { left: number; top?: number; bottom?: number; maxHeight: number } {
  const canvas = document.querySelector("canvas");
  const [w, h] = [canvas?.clientWidth ?? 800, canvas?.clientHeight ?? 600];
  const left = Math.max(8, x + 18 + 320 > w ? x - 18 - 320 : x + 18);
  return y > h / 2 ? { left, bottom: h - y + 14, maxHeight: y - 24 } : { left, top: y + 14, maxHeight: h - y - 24 };
}
