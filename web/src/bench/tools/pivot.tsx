/** What the chosen object turns about. */
import { putDown } from "../../state/choosing";
import type { ObjectScene } from "../../api/client";
import { apply, inverse, type Matrix } from "../../state/geometry";
import type { Gesture } from "../gesture";
import { catches, gesture, put } from "../hand";
import { Hint } from "./Hint";
import { chosenObject, matrixOf } from "./tool";
import type { BenchTool } from "./tool";

export const pivot: BenchTool<"pivot"> = {
  down({ scene, at, keys }) {
    const object = chosenObject(scene);
    putDown();
    if (!object) return "done";
    const moving = movingPivot(object, matrixOf(scene, object.page));
    moving.move(at, keys);
    return moving;
  },
  cursor: "crosshair",
  Hint: () => <Hint out="Leave it">Press where it is to turn about: on it or beside it.</Hint>,
};

/** Moves what an object turns about; the object stays where it is. */
function movingPivot(object: ObjectScene, page: Matrix): Gesture {
  const [, , w, h] = object.box;
  return gesture("Pivot", (at, keys) => {
    const own = apply(inverse(object.matrix), apply(inverse(page), at));
    let pivot: [number, number] = [own[0] / w, own[1] / h];
    if (catches(keys))
      pivot = pivot.map((v) => [0, 0.5, 1].find((stop) => Math.abs(v - stop) < 0.04) ?? v) as [number, number];
    pivot = [Math.round(pivot[0] * 1e4) / 1e4, Math.round(pivot[1] * 1e4) / 1e4];
    return {
      operations: [put(object.id, "pivot", pivot)],
      readout: `${Math.round(pivot[0] * 100)} %, ${Math.round(pivot[1] * 100)} %`,
    };
  });
}
