/** Marks of a picture's subject: a rectangle round it, strokes on it and beside it. */

import { putDown } from "../../state/choosing";
import { marking } from "../marking";
import { Hint } from "./Hint";
import { chosenObject, matrixOf } from "./tool";
import type { BenchTool } from "./tool";

const SAID = {
  box: "Drag a rectangle round the subject.",
  keep: "Draw over what belongs to the subject.",
  drop: "Draw over what does not belong to it.",
};

export const subject: BenchTool<"subject"> = {
  down({ scene, at, redraw }, { what }) {
    const object = chosenObject(scene);
    if (object?.picture) return marking(object, matrixOf(scene, object.page), what, at, redraw);
    putDown();
    return "done";
  },
  over: () => "crosshair",
  Hint: ({ now }) => <Hint out="Done">{SAID[now.what]}</Hint>,
};
