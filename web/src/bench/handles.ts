/** Where the handles of a chosen object are. */
import type { ObjectScene } from "../api/client";
import type { Scene } from "../state/seen";
import { apply, type Matrix, type Point } from "../state/geometry";
import { met } from "./reach";

/** A turned object shows what it turns about. */
export function showsPivot(object: Pick<ObjectScene, "turn" | "pivot">): boolean {
  return object.turn !== 0 || object.pivot[0] !== 0.5 || object.pivot[1] !== 0.5;
}

/** A place outside a corner of an object, in CSS px, away from its middle: farther where a finger is to meet it and
 * no other. */
function outside({ matrix, box }: Pick<ObjectScene, "matrix" | "box">, [fx, fy]: Point, page: Matrix): Point {
  const on = (x: number, y: number) => apply(page, apply([...matrix] as Matrix, [x * box[2], y * box[3]]));
  const [corner, middle] = [on(fx, fy), on(0.5, 0.5)];
  const [dx, dy] = [corner[0] - middle[0], corner[1] - middle[1]];
  const far = met(21) / (Math.hypot(dx, dy) || 1);
  return [corner[0] + dx * far, corner[1] + dy * far];
}

/** Where the handle is that sizes a frame with its type: outside its lower right corner. None where there is no
 * copy. */
export function typeHandle(scene: Scene, object: ObjectScene, among: boolean, page: Matrix): Point | null {
  return among || !scene.nests[object.id]?.words ? null : outside(object, [1, 1], page);
}

/** Where the turning handle is, in CSS px: outside the upper right corner. */
export function turnHandle(object: Pick<ObjectScene, "matrix" | "box">, page: Matrix): Point {
  return outside(object, [1, 0], page);
}

/** The pivot on its page. */
export function pivotOf(object: Pick<ObjectScene, "box" | "pivot">): Point {
  return [object.box[0] + object.pivot[0] * object.box[2], object.box[1] + object.pivot[1] * object.box[3]];
}
