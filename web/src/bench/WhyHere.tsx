import { type Schemas, post } from "../api/client";
import { thingsOf } from "../state/document";
import { select, pointAndAsk } from "../state/choosing";
import { shownScene, useStore } from "../state/store";
import { say, openPart, showWhy, pointAt } from "../state/viewing";
import { inUnit } from "../state/units";
import { apply, inverse, pagePlaces, type Point } from "../state/geometry";
import { pageAt } from "./hand";
import { pageMatrix } from "../state/geometry";

/** Ask why what is under the pointer stands there; while one answer is on its way the latest place waits. */
export async function askWhy(at: Point, pinned = false): Promise<void> {
  const { asking, pin } = useStore.getState().pointed;
  pointAt({ at, pin: pinned || (pin && asking), asking: true });
  if (asking) return;
  try {
    for (let here: Point | null = at; here; here = useStore.getState().pointed.at) {
      pointAt({ at: null });
      const scene = shownScene();
      const { id, view, tool } = useStore.getState();
      if (!scene || tool.kind !== "why") return;
      const page = pageAt(scene, here);
      const place = apply(inverse(pageMatrix(view, pagePlaces(scene)[page])), here);
      const found = await post<Schemas["WhyOut"]>(`/api/documents/${id}/why`, { page, at: place });
      const { tool: still, pointed } = useStore.getState();
      if (still.kind === "why")
        showWhy(found.frame ? { at: here, page, causes: found.causes, pinned: pointed.pin } : null);
    }
  } catch (error) {
    say(error instanceof Error ? error.message : String(error), "fault");
  } finally {
    pointAt({ asking: false });
  }
}

export function whyHere() {
  pointAndAsk(useStore.getState().tool.kind !== "why");
}

/** Select what the cause belongs to and open the rule that changes it. */
function goTo(cause: Schemas["CauseOut"]) {
  pointAndAsk(false);
  select(cause.object, false, true);
  openPart(cause.rule);
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
      onKeyDown={(event) => event.key === "Escape" && showWhy(null)}
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
