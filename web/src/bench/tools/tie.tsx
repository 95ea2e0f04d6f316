/** Ties an edge of the chosen object to that of another, by dragging it there. */
import { putDown } from "../../state/choosing";
import type { ObjectScene } from "../../api/client";
import { thingsOf } from "../../state/document";
import type { Scene } from "../../state/seen";
import { apply, extentOf, inverse, type Matrix, type Point } from "../../state/geometry";
import type { Gesture } from "../gesture";
import { gesture, put } from "../hand";
import { Hint } from "./Hint";
import { chosenObject, matrixOf } from "./tool";
import type { BenchTool } from "./tool";
import { useStore } from "../../state/store";

export const tie: BenchTool<"tie"> = {
  down({ scene, at }) {
    const object = chosenObject(scene);
    const begun = object && tying(scene, object, matrixOf(scene, object.page), at);
    if (begun) return begun;
    putDown();
    return "done";
  },
  over: () => "crosshair",
  Hint: () => <Hint out="Leave it">Drag an edge of it onto an edge of another object.</Hint>,
};

type Side = "top" | "right" | "bottom" | "left";

/** The edges of an object's extent on its page, each with its axis and place, and its middle. */
function edgesOf(object: ObjectScene): { side: Side; axis: "x" | "y"; place: number; from: Point; to: Point }[] {
  const e = extentOf(object);
  return [
    { side: "top", axis: "y", place: e.top, from: [e.left, e.top], to: [e.right, e.top] },
    { side: "right", axis: "x", place: e.right, from: [e.right, e.top], to: [e.right, e.bottom] },
    { side: "bottom", axis: "y", place: e.bottom, from: [e.left, e.bottom], to: [e.right, e.bottom] },
    { side: "left", axis: "x", place: e.left, from: [e.left, e.top], to: [e.left, e.bottom] },
  ];
}

function awayFrom(at: Point, from: Point, to: Point): number {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const t = Math.min(1, Math.max(0, ((at[0] - from[0]) * dx + (at[1] - from[1]) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(at[0] - from[0] - t * dx, at[1] - from[1] - t * dy);
}

/** Ties the nearest edge of an object to the edge of another that it is dragged onto. Null where no edge is near. */
function tying(scene: Scene, object: ObjectScene, page: Matrix, from: Point): Gesture | null {
  const open = useStore.getState().document!;
  const thing = thingsOf(open).find((t) => t.id === object.id)!;
  const reach = 16 / page[0];
  const start = apply(inverse(page), from);
  const mine = edgesOf(object).sort((a, b) => awayFrom(start, a.from, a.to) - awayFrom(start, b.from, b.to))[0];
  if (awayFrom(start, mine.from, mine.to) > reach) return null;
  const others = scene.pages[object.page].order
    .map((id) => scene.objects[id])
    .filter((o) => o && o.id !== object.id && !o.hidden);
  const done = gesture("Tie", (at) => {
    const here = apply(inverse(page), at);
    let best: { far: number; id: string; side: Side; place: number; axis: "x" | "y"; name: string } | null = null;
    for (const other of others)
      for (const edge of edgesOf(other)) {
        const far = edge.axis === mine.axis ? awayFrom(here, edge.from, edge.to) : Infinity;
        if (far < reach && (!best || far < best.far))
          best = {
            far,
            id: other.id,
            side: edge.side,
            place: edge.place,
            axis: edge.axis,
            name: other.name || other.id,
          };
      }
    if (!best) return { operations: [], readout: `its ${mine.side} …` };
    const ties = [
      ...(thing.ties ?? []).filter((t) => t.edge !== mine.side),
      { edge: mine.side, to: best.id, its: best.side },
    ];
    return {
      operations: [put(object.id, "ties", ties)],
      readout: `its ${mine.side} to the ${best.side} of ${best.name}`,
      caught: [{ page: object.page, axis: best.axis, at: best.place }],
    };
  });
  const back = () => putDown();
  return {
    get readout() {
      return done.readout;
    },
    move: (at, keys) => done.move(at, keys),
    end: () => (back(), done.end()),
    cancel: () => (back(), done.cancel()),
  };
}
