/** Why here: what put a line, a gap or a baseline where it is. */
import { pointByKeys } from "../../state/choosing";
import { apply, type Matrix, type Point } from "../../state/geometry";
import { BASELINE, COLUMNS, LEFT, RIGHT } from "../../drawing/records";
import { shownScene, useStore } from "../../state/store";
import { askWhy } from "../WhyHere";
import { Hint } from "./Hint";
import { type BenchTool, matrixOf } from "./tool";

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
    const { whyAt } = useStore.getState();
    const [row, place] = whyAt.of === selected ? [whyAt.row + by[0], whyAt.place + by[1]] : [0, 0];
    const within = (value: number, most: number) => Math.min(most, Math.max(0, value));
    const at = { of: selected!, row: within(row, rows - 1), place: within(place, 2) };
    pointByKeys(at);
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
