/** Edits the points of an outline, or of a picture's contour. */
import { choosePoints, putDown } from "../../state/choosing";
import { apply } from "../../state/geometry";
import { selectedThing, useStore } from "../../state/store";
import { knotsOf } from "../knots";
import {
  addBehind,
  addPoint,
  deletePoints,
  isChosen,
  movingHandle,
  movingPoints,
  nextPoint,
  nudgePoints,
  POINT_KINDS,
  pointSpotAt,
  sayIfItBecomesAPath,
  setPointKind,
} from "../pointing";
import { ARROWS, chosenObject, matrixOf, pressesWithin } from "./tool";
import type { BenchTool } from "./tool";

/** The second press of a double-click adds no second point. */
const sincePressed = pressesWithin(6);

export const points: BenchTool<"points"> = {
  down({ scene, at, when, keys }) {
    const object = chosenObject(scene);
    if (!object) return "hand";
    const matrix = matrixOf(scene, object.page);
    const spot = pointSpotAt(object, matrix, at);
    if (spot.kind === "handle") {
      sayIfItBecomesAPath(object, selectedThing()?.outline?.kind ?? "rectangle");
      return movingHandle(object, matrix, spot);
    }
    if (spot.kind === "knot") {
      const { points } = useStore.getState();
      const already = isChosen(points, spot.which);
      if (keys.shift)
        choosePoints(
          already ? points.filter((p) => p[0] !== spot.which[0] || p[1] !== spot.which[1]) : [...points, spot.which],
        );
      else if (!already) choosePoints([spot.which]);
      return movingPoints(scene, object, matrix, knotsOf(object)[spot.which[0]][spot.which[1]], at);
    }
    if (spot.kind !== "edge") return "box";
    if (sincePressed(at, when) >= 450) {
      sayIfItBecomesAPath(object, selectedThing()?.outline?.kind ?? "rectangle");
      void addPoint(object, matrix, at);
    }
    return "done";
  },
  over({ scene, at }) {
    const object = chosenObject(scene);
    const spot = object && pointSpotAt(object, matrixOf(scene, object.page), at);
    return !spot || spot.kind === "beside" ? "default" : spot.kind === "edge" ? "copy" : "move";
  },
  boxed({ from, to, adding }, scene) {
    const { points } = useStore.getState();
    const object = chosenObject(scene);
    if (!object) return;
    if (Math.hypot(to[0] - from[0], to[1] - from[1]) < 4) return points.length ? choosePoints([]) : putDown();
    const matrix = matrixOf(scene, object.page);
    const within = (v: number, a: number, b: number) => v >= Math.min(a, b) && v <= Math.max(a, b);
    const found: [number, number][] = [];
    knotsOf(object).forEach((ring, c) =>
      ring.forEach((knot, i) => {
        const [x, y] = apply(matrix, apply(object.matrix, knot.at));
        if (within(x, from[0], to[0]) && within(y, from[1], to[1])) found.push([c, i]);
      }),
    );
    choosePoints(adding ? [...points.filter((p) => !isChosen(found, p)), ...found] : found);
  },
  key(key, event) {
    const { selected, points } = useStore.getState();
    if (!selected) return false;
    // By keys: from point to point, then moved, with more between.
    if (key === "Tab") return nextPoint(selected, event.shiftKey ? -1 : 1);
    if (!points.length) return false;
    if (key === "Delete" || key === "Backspace") deletePoints(selected);
    else if (ARROWS[key]) nudgePoints(selected, ARROWS[key], event.shiftKey ? 10 : 1);
    else if (key.toLowerCase() === "a" && !event.ctrlKey && !event.metaKey) void addBehind(selected);
    else return false;
    return true;
  },
  Hint: PointsCard,
};

/** What can be done with points, and the kinds that the chosen ones can be. */
function PointsCard() {
  const chosen = useStore((s) => s.points.length);
  const selected = useStore((s) => s.selected);
  return (
    <div className="card absolute bottom-3 left-1/2 flex max-w-[96%] -translate-x-1/2 items-center gap-3 px-3 py-1.5 text-sm">
      {chosen > 0 && selected ? (
        <span className="flex shrink-0 gap-1">
          {POINT_KINDS.map(({ kind, name, key, drawing }) => (
            <button
              key={kind}
              className="button flex items-center gap-1.5 px-2 py-0.5 whitespace-nowrap"
              title={`${name} (${key.toUpperCase()})`}
              onClick={() => setPointKind(selected, kind)}
            >
              <svg
                width="20"
                height="20"
                viewBox="0 0 20 20"
                fill="none"
                stroke="currentColor"
                strokeWidth="1.6"
                aria-hidden
              >
                <path d={drawing} />
                <circle cx="10" cy={kind === "smooth" ? 7.2 : 5.2} r="2.2" fill="var(--color-sheet)" />
              </svg>
              {name}
            </button>
          ))}
        </span>
      ) : (
        <span className="whitespace-nowrap">Drag points and handles; click the edge for a new one.</span>
      )}
      <span className="pointer-events-none whitespace-nowrap text-soft">
        Tab: next · A: one more · arrows, Delete · Shift: level or upright · Alt: one handle alone · Esc: done
      </span>
    </div>
  );
}
