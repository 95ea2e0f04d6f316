/** Draws an outline point by point: a press is a corner, dragging bends a curve through it. */
import { apply, inverse, type Point } from "../../drawing/geometry";
import { useStore } from "../../state/store";
import { bendLast, closes, drawnAt, finishDraft, putKnot, takeBack } from "../pointing";
import { onPage } from "./tool";
import type { BenchTool } from "./tool";

let pen: Point | null = null;

/** Where the next point would be, on its page. */
export function penAt(): Point | null {
  return pen;
}

export const draw: BenchTool<"draw"> = {
  down({ scene, at, keys, redraw }) {
    const { page, matrix, place } = onPage(scene, at);
    if (closes(place, matrix[0])) {
      void finishDraft();
      return "done";
    }
    putKnot(page, { at: drawnAt(scene, page, place, matrix[0], keys) });
    return {
      readout: "",
      move(to) {
        pen = null;
        if (Math.hypot(to[0] - at[0], to[1] - at[1]) > 4) bendLast(apply(inverse(matrix), to));
        redraw();
      },
      end() {},
      cancel() {},
    };
  },
  over({ scene, at, keys, redraw }) {
    const { page, matrix, place } = onPage(scene, at);
    pen = closes(place, matrix[0])
      ? useStore.getState().draft!.knots[0].at
      : drawnAt(scene, page, place, matrix[0], keys);
    redraw();
    return "crosshair";
  },
  cursor: "crosshair",
  key(key) {
    if (key === "Backspace") takeBack();
    else if (key === "Escape" || key === "Enter") void finishDraft();
    else return false;
    return true;
  },
  Hint: () => (
    <p className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm">
      Click for a corner, drag for a curve; click the first point to close.{" "}
      <span className="text-soft">Backspace: take one back · Shift: level or upright · Esc: close here</span>
    </p>
  ),
};
