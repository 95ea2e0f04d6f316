/** Moves a picture within its outline. */
import type { ObjectScene } from "../../api/client";
import { thingsOf } from "../../state/document";
import { useStore } from "../../state/store";
import { apply, inverse, type Matrix, type Point, rounded } from "../../state/geometry";
import type { Gesture } from "../gesture";
import { gesture } from "../hand";
import { spotAt } from "../hand";
import { hand } from "./hand";
import { Hint } from "./Hint";
import { chosenObject, matrixOf } from "./tool";
import type { BenchTool } from "./tool";

export const within: BenchTool<"within"> = {
  down({ scene, at }) {
    const object = chosenObject(scene);
    const spot = spotAt(scene, at);
    if (!object?.picture || spot.kind !== "object" || spot.id !== object.id) return "hand";
    return movingPicture(object, matrixOf(scene, object.page), at);
  },
  over: hand.over,
  Hint: () => <Hint out="Done">Drag the picture within its outline.</Hint>,
};

/** Moves a picture within its outline. */
function movingPicture(object: ObjectScene, page: Matrix, from: Point): Gesture {
  const open = useStore.getState().document!;
  const thing = thingsOf(open).find((t) => t.id === object.id)!;
  const [, , w, h] = object.box;
  const [px, py, pw, ph] = object.picture!.place;
  // Where it stands now, as a way from the middle of its outline.
  const [x, y] = [px + pw / 2 - w / 2, py + ph / 2 - h / 2];
  const own = (at: Point) => apply(inverse(object.matrix), apply(inverse(page), at));
  const start = own(from);
  return gesture("Move the picture", (at) => {
    const here = own(at);
    const value = { ...thing.picture!, x: rounded(x + here[0] - start[0]), y: rounded(y + here[1] - start[1]) };
    return { operations: [{ do: "put", at: ["objects", object.id, "picture"], value }], readout: "" };
  });
}
