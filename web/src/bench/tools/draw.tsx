/** Draws an outline point by point: a press is a corner, dragging bends a curve through it. */
import { penIs } from "../../state/choosing";
import { apply, inverse, type Point } from "../../state/geometry";
import { shownScene, useStore } from "../../state/store";
import { bendLast, closes, drawnAt, finishDraft, putKnot, takeBack } from "../pointing";
import { Hint, HintButton } from "./Hint";
import { ARROWS, middleOfBench, onPage } from "./tool";
import type { BenchTool } from "./tool";

/** Arrows move the pen by 10 px (Shift: 1), the space bar puts a point there. */
function penByKeys(key: string, fine: boolean): boolean {
  const scene = shownScene();
  if (!scene) return false;
  const from = useStore.getState().penByKeys ?? middleOfBench();
  const [dx, dy] = ARROWS[key] ?? [0, 0];
  const by = fine ? 1 : 10;
  const byKeys: Point = [from[0] + dx * by, from[1] + dy * by];
  const { page, matrix, place } = onPage(scene, byKeys);
  if (key === " " && closes(place, matrix[0])) {
    close();
    return true;
  }
  if (key === " ") putKnot(page, { at: place });
  penIs(place, byKeys);
  return true;
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
        penIs(null);
        if (Math.hypot(to[0] - at[0], to[1] - at[1]) > 4) bendLast(apply(inverse(matrix), to));
        redraw();
      },
      end() {},
      cancel: takeBack,
    };
  },
  over({ scene, at, keys, redraw }) {
    const { page, matrix, place } = onPage(scene, at);
    penIs(
      closes(place, matrix[0]) ? useStore.getState().draft!.knots[0].at : drawnAt(scene, page, place, matrix[0], keys),
    );
    redraw();
    return "crosshair";
  },
  cursor: "crosshair",
  key(key, event) {
    if (key === "Backspace") takeBack();
    else if (key === "Escape" || key === "Enter") close();
    else if (key === " " || ARROWS[key]) return penByKeys(key, event.shiftKey);
    else return false;
    return true;
  },
  Hint: DrawHint,
};

function close() {
  penIs(null, null);
  void finishDraft();
}

function DrawHint() {
  const drawn = useStore((s) => s.draft?.knots.length ?? 0);
  return (
    <Hint keys="Arrows and Space · Shift: level, upright" out={drawn ? undefined : "Leave it"}>
      Press for a corner, drag for a curve; press the first point to close.
      {drawn > 0 && (
        <span className="mx-2 inline-flex gap-1.5">
          <HintButton title="Backspace" onClick={takeBack}>
            Take one back
          </HintButton>
          <HintButton title="Enter" onClick={close}>
            Close here
          </HintButton>
        </span>
      )}
    </Hint>
  );
}
