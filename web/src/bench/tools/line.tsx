/** Type line: a click makes a line of display type, a drag a frame of that width. */
import { putCaret, arrived, putDown, selectOnly, typeAhead, waitFor } from "../../state/choosing";
import { edit } from "../../state/sending";
import { shownScene, useStore } from "../../state/store";
import { inUnit } from "../../state/units";
import { type Point, rounded } from "../../state/geometry";
import type { Gesture } from "../gesture";
import { unit } from "../hand";
import { freshIds } from "../../state/ids";
import { apply, inverse } from "../../state/geometry";
import { pageAt } from "../hand";
import { Hint } from "./Hint";
import { matrixOf, middleOfBench } from "./tool";
import type { BenchTool } from "./tool";

export const line: BenchTool<"line"> = {
  down({ scene, at }) {
    const page = pageAt(scene, at);
    const back = inverse(matrixOf(scene, page));
    return makingLine(page, at, (p) => apply(back, p));
  },
  cursor: "text",
  /** By keys it is made in the middle of what is seen. */
  key(key) {
    const scene = shownScene();
    if (key !== "Enter" || !scene) return false;
    const middle = middleOfBench();
    const page = pageAt(scene, middle);
    const back = inverse(matrixOf(scene, page));
    makingLine(page, middle, (p) => apply(back, p)).end();
    return true;
  },
  Hint: () => (
    <Hint keys="Enter: in the middle" out="Leave it">
      Click for a line that grows with its words, drag for a frame of fixed width.
    </Hint>
  ),
};

/** A click makes a line of display type, a drag a frame of that width; the caret is in it at once. */
function makingLine(page: number, start: Point, toPage: (at: Point) => Point): Gesture {
  const open = useStore.getState().document!;
  const [id] = freshIds(1);
  const [x0, y0] = toPage(start);
  const version = open.language ?? "en";
  let box: { at: Point; width: number; height: number } | null = null;
  const done = (given: Record<string, unknown>) => {
    // What is typed until it is there goes into it.
    putDown();
    waitFor(id);
    void edit([{ do: "act", act: "type-line", given: { page, version, id, ...given } }], "Line of type").then(
      (made) => {
        const typed = arrived(id);
        if (!made || typed === null) return;
        selectOnly(id);
        putCaret(0);
        if (typed) typeAhead(typed);
      },
    );
  };
  return {
    readout: "",
    move(at) {
      const [x1, y1] = toPage(at);
      const far = Math.hypot(at[0] - start[0], at[1] - start[1]) > 6;
      box = far
        ? {
            at: [rounded(Math.min(x0, x1)), rounded(Math.min(y0, y1))],
            width: rounded(Math.max(12, Math.abs(x1 - x0))),
            height: rounded(Math.max(12, Math.abs(y1 - y0))),
          }
        : null;
      this.readout = box ? `${inUnit(box.width, unit())} wide` : "";
    },
    end() {
      done(box ?? { at: [rounded(x0), rounded(y0)] });
    },
    cancel() {
      putDown();
    },
  };
}
