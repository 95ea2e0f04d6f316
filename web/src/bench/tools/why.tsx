/** Why here: what put a line, a gap or a baseline where it is. */
import { apply, type Matrix, type Point } from "../../state/geometry";
import { BASELINE, COLUMNS, LEFT, RIGHT } from "../../drawing/records";
import { shownScene, useStore } from "../../state/store";
import { askWhy } from "../WhyHere";
import { Hint } from "./Hint";
import { type BenchTool, matrixOf } from "./tool";

/** The line that arrows speak of, and which of its places. */
let at = { of: "", row: 0, place: 0 };

export const why: BenchTool<"why"> = {
  down({ at: here }) {
    void askWhy(here, true);
    return "done";
  },
  over({ at: here }) {
    if (!useStore.getState().why?.pinned) void askWhy(here);
    return "help";
  },
  /** By keys: up and down from line to line of the chosen frame, left and right between its ends and its middle. */
  key(key) {
    const by = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[key];
    const scene = shownScene();
    const { selected } = useStore.getState();
    const nest = scene?.nests[selected ?? ""];
    if (!by || !scene || !nest?.records.length) return false;
    const rows = nest.records.length / COLUMNS;
    at =
      at.of === selected
        ? { ...at, row: at.row + by[0], place: at.place + by[1] }
        : { of: selected!, row: 0, place: 0 };
    at = { ...at, row: Math.min(rows - 1, Math.max(0, at.row)), place: Math.min(2, Math.max(0, at.place)) };
    const r = nest.records.slice(at.row * COLUMNS, (at.row + 1) * COLUMNS);
    const x = [r[LEFT] + 0.5, (r[LEFT] + r[RIGHT]) / 2, r[RIGHT] - 0.5][at.place];
    const object = scene.objects[selected!];
    const spot: Point = [x, r[BASELINE] - 0.5];
    void askWhy(
      apply(matrixOf(scene, object.page), nest.matrix ? apply([...nest.matrix] as Matrix, spot) : spot),
      true,
    );
    return true;
  },
  Hint: () => (
    <Hint keys="By keys: arrows, in the chosen frame" out="Done">
      Point at a line’s end, a gap or a baseline: what put it there lights up.
    </Hint>
  ),
};
