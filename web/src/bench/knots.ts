/** An object's points as the bench draws them, read off its path data (absolute M, L, C, Z). */
import type { ObjectScene } from "../api/client";
import { useStore } from "../state/store";
import type { Point } from "../state/geometry";

export interface Knot {
  at: Point;
  before: Point | null;
  after: Point | null;
}

const known = { outline: new WeakMap<ObjectScene, Knot[][]>(), contour: new WeakMap<ObjectScene, Knot[][]>() };

/** Whose points are edited: an object's outline, or its picture's contour. */
export function editedOf(): "outline" | "contour" {
  const { tool } = useStore.getState();
  return tool.kind === "points" ? (tool.of ?? "outline") : "outline";
}

/** The path whose points are edited. */
export function editedPath(object: ObjectScene): string {
  return editedOf() === "contour" ? (object.contour?.path ?? "") : object.path;
}

export function knotsOf(object: ObjectScene, of = editedOf()): Knot[][] {
  let found = known[of].get(object);
  if (!found) known[of].set(object, (found = read(of === "contour" ? (object.contour?.path ?? "") : object.path)));
  return found;
}

function read(path: string): Knot[][] {
  const out: Knot[][] = [];
  let knots: Knot[] = [];
  const close = () => {
    if (knots.length > 1) {
      const [first, last] = [knots[0], knots[knots.length - 1]];
      // A curve back to the first point ends in a knot of its own: the two are one.
      if (Math.hypot(first.at[0] - last.at[0], first.at[1] - last.at[1]) < 1e-6) {
        first.before = last.before;
        knots.pop();
      }
    }
    if (knots.length) out.push(knots);
    knots = [];
  };
  for (const [, command, rest] of path.matchAll(/([MLCZ])([^MLCZ]*)/g)) {
    const n = (rest.match(/-?[\d.]+(?:e-?\d+)?/g) ?? []).map(Number);
    if (command === "M") {
      close();
      knots = [{ at: [n[0], n[1]], before: null, after: null }];
    } else if (command === "L") knots.push({ at: [n[0], n[1]], before: null, after: null });
    else if (command === "C") {
      knots[knots.length - 1].after = [n[0], n[1]];
      knots.push({ at: [n[4], n[5]], before: [n[2], n[3]], after: null });
    } else close();
  }
  close();
  return out;
}
