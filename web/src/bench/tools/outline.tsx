/** A ready outline, drawn from one corner to the other. */
import type { Operation } from "../../api/client";
import { comes, putDown } from "../../state/choosing";
import { keepTried } from "../../state/sending";
import { shownScene, useStore } from "../../state/store";
import type { Outline, Thing } from "../../state/document";
import { inUnit } from "../../state/units";
import { type Point, rounded } from "../../state/geometry";
import type { Gesture } from "../gesture";
import { catches, gesture, REACH, unit } from "../hand";
import { freshIds } from "../../state/ids";
import { caughtPoint, linesOf } from "../snapping";
import { apply, inverse } from "../../state/geometry";
import { pageAt } from "../hand";
import { Hint } from "./Hint";
import { matrixOf, middleOfBench } from "./tool";
import type { BenchTool } from "./tool";

export const outline: BenchTool<"outline"> = {
  down({ scene, at }) {
    const page = pageAt(scene, at);
    const back = inverse(matrixOf(scene, page));
    return drawing(page, at, (p) => apply(back, p));
  },
  cursor: "crosshair",
  /** By keys it is made in the middle of what is seen. */
  key(key) {
    const scene = shownScene();
    if (key !== "Enter" || !scene) return false;
    const middle = middleOfBench();
    const page = pageAt(scene, middle);
    const matrix = matrixOf(scene, page);
    const { width, height } = scene.pages[page];
    const half = (ready(width, height) / 2) * matrix[0];
    const back = inverse(matrix);
    drawing(page, [middle[0] - half, middle[1] - half], (p) => apply(back, p)).end();
    return true;
  },
  Hint: () => (
    <Hint keys="Shift: equal sides · Alt: from the centre · Enter: in the middle" out="Leave it">
      Drag from one corner to the other.
    </Hint>
  ),
};

/** The side of an outline that is made without being drawn. */
const ready = (width: number, height: number) => Math.min(width, height) / 3;

/** Drawing a new outline from one corner to the other; a click makes one of a ready size. */
function drawing(page: number, start: Point, toPage: (at: Point) => Point): Gesture {
  const { document, tool, scene } = useStore.getState();
  const shape =
    tool.kind === "outline" ? tool : { outline: { kind: "rectangle" } satisfies Outline, name: "Rectangle" };
  const [id] = freshIds(1);
  const count = document!.pages[page].objects.length;
  const begin = toPage(start);
  const [x0, y0] = useStore.getState().snapping
    ? caughtPoint(begin, linesOf(scene!, page, []), REACH * Math.abs(toPage([start[0] + 1, start[1]])[0] - begin[0])).at
    : begin;
  let moved = false;
  const make = (box: { x: number; y: number; width: number; height: number }): Operation[] => {
    const color = document!.colors?.straw ? "straw" : "#f6e3b4";
    const thing: Thing = { id, name: "", outline: shape.outline, ...box, fill: { color } };
    return [{ do: "splice", at: ["pages", page, "objects"], from: count, remove: 0, insert: [thing] }];
  };
  const lines = linesOf(scene!, page, []);
  const reach = REACH * Math.abs(toPage([start[0] + 1, start[1]])[0] - begin[0]);
  const inner = gesture(`Draw ${shape.name.toLowerCase()}`, (at, keys) => {
    const found = catches(keys) ? caughtPoint(toPage(at), lines, reach) : { at: toPage(at), caught: [] };
    let [x1, y1] = found.at;
    if (keys.shift) {
      const side = Math.max(Math.abs(x1 - x0), Math.abs(y1 - y0));
      [x1, y1] = [x0 + side * Math.sign(x1 - x0 || 1), y0 + side * Math.sign(y1 - y0 || 1)];
    }
    const [ax, ay] = keys.alt ? [2 * x0 - x1, 2 * y0 - y1] : [x0, y0];
    const box = {
      x: rounded(Math.min(ax, x1)),
      y: rounded(Math.min(ay, y1)),
      width: rounded(Math.max(4, Math.abs(x1 - ax))),
      height: rounded(Math.max(4, Math.abs(y1 - ay))),
    };
    return {
      operations: make(box),
      readout: `${inUnit(box.width, unit())} × ${inUnit(box.height, unit())}`,
      caught: found.caught,
    };
  });
  return {
    get readout() {
      return inner.readout;
    },
    move(at, keys) {
      moved = moved || Math.hypot(at[0] - start[0], at[1] - start[1]) > 3;
      if (moved) inner.move(at, keys);
    },
    end() {
      putDown();
      const side = ready(scene!.pages[page].width, scene!.pages[page].height);
      if (moved) inner.end();
      else
        void keepTried(
          make({ x: rounded(x0), y: rounded(y0), width: rounded(side), height: rounded(side) }),
          `Draw ${shape.name.toLowerCase()}`,
        );
      comes(id);
    },
    cancel() {
      putDown();
      inner.cancel();
    },
  };
}
