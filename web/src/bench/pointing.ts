/** Points edited on the bench, and outlines drawn freely: what is under the pointer, and the gestures. */
import { act, type ObjectScene } from "../api/client";
import { thingsOf } from "../state/document";
import { comes, choosePoints, drawOn, drawn } from "../state/choosing";
import { edit } from "../state/sending";
import { shownScene, useStore } from "../state/store";
import { say } from "../state/viewing";
import type { DraftKnot, Scene } from "../state/seen";
import { apply, inverse, type Matrix, type Point } from "../state/geometry";
import { catches, gesture, REACH } from "./hand";
import { freshIds } from "../state/ids";
import { met } from "./reach";
import type { Gesture } from "./gesture";
import { editedOf, editedPath, type Knot, knotsOf } from "./knots";
import { caughtPoint, linesOf } from "./snapping";

export type Which = [number, number];
export type PointSpot =
  | { kind: "knot"; which: Which }
  | { kind: "handle"; which: Which; side: "before" | "after" }
  | { kind: "edge" }
  | { kind: "beside" };

const near = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1]);
const same = (a: Which, b: Which) => a[0] === b[0] && a[1] === b[1];

export function isChosen(points: Which[], which: Which): boolean {
  return points.some((p) => same(p, which));
}

const probe = document.createElement("canvas").getContext("2d")!;

/** What of an object's points is under a place of the bench (CSS px). `page` takes points to CSS px. */
export function pointSpotAt(object: ObjectScene, page: Matrix, at: Point): PointSpot {
  const place = (p: Point) => apply(page, apply(object.matrix, p));
  const { points } = useStore.getState();
  const knots = knotsOf(object);
  for (const which of points) {
    const knot = knots[which[0]]?.[which[1]];
    for (const side of ["before", "after"] as const)
      if (knot?.[side] && near(place(knot[side]), at) < met(8)) return { kind: "handle", which, side };
  }
  let best: { d: number; which: Which } | null = null;
  knots.forEach((ring, c) =>
    ring.forEach((knot, i) => {
      const d = near(place(knot.at), at);
      if (d < met(9) && (!best || d < best.d)) best = { d, which: [c, i] };
    }),
  );
  if (best) return { kind: "knot", which: (best as { which: Which }).which };
  const own = apply(inverse(object.matrix), apply(inverse(page), at));
  probe.lineWidth = met(14) / page[0];
  return probe.isPointInStroke(new Path2D(editedPath(object)), own[0], own[1]) ? { kind: "edge" } : { kind: "beside" };
}

/** Shift holds a way level or upright. */
function straight([dx, dy]: Point): Point {
  return Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
}

export function movingPoints(scene: Scene, object: ObjectScene, page: Matrix, grabbed: Knot, from: Point): Gesture {
  const { points, document: open } = useStore.getState();
  const kind = thingsOf(open!).find((t) => t.id === object.id)?.outline?.kind ?? "rectangle";
  const start = apply(object.matrix, grabbed.at);
  const lines = linesOf(scene, object.page, [object.id]);
  const back = inverse(page);
  const begin = apply(back, from);
  return gesture(
    points.length > 1 ? "Move points" : "Move point",
    (at, keys) => {
      const here = apply(back, at);
      let by: Point = [here[0] - begin[0], here[1] - begin[1]];
      if (keys.shift) by = straight(by);
      const found = catches(keys) ? caughtPoint([start[0] + by[0], start[1] + by[1]], lines, REACH / page[0]) : null;
      if (found && !keys.shift) by = [found.at[0] - start[0], found.at[1] - start[1]];
      return {
        operations: act("move-points", { of: editedOf(), object: object.id, points, by }),
        readout: "",
        caught: keys.shift ? [] : found?.caught,
      };
    },
    () => sayIfItBecomesAPath(object, kind),
  );
}

export function movingHandle(object: ObjectScene, page: Matrix, spot: PointSpot & { kind: "handle" }): Gesture {
  const back = inverse(page);
  const knot = knotsOf(object)[spot.which[0]][spot.which[1]];
  const middle = apply(object.matrix, knot.at);
  return gesture("Move handle", (at, keys) => {
    let to = apply(back, at);
    if (keys.shift) {
      const [dx, dy] = straight([to[0] - middle[0], to[1] - middle[1]]);
      to = [middle[0] + dx, middle[1] + dy];
    }
    return {
      operations: act("move-handle", {
        of: editedOf(),
        object: object.id,
        point: spot.which,
        side: spot.side,
        to,
        free: keys.alt,
      }),
      readout: "",
    };
  });
}

/** A ready outline becomes a path with the first edit of its points, and that is said once. */
export function sayIfItBecomesAPath(object: ObjectScene, kind: string | undefined) {
  if (kind !== "path" && editedOf() === "outline")
    say(
      `“${object.name || "The outline"}” is drawn by its points from now on; its ready figures are gone. Undo brings them back.`,
    );
}

export async function addPoint(object: ObjectScene, page: Matrix, at: Point) {
  const place = apply(inverse(page), at);
  if (!(await edit(act("add-point", { of: editedOf(), object: object.id, at: place }), "Add point"))) return;
  const made = useStore.getState().scene?.objects[object.id];
  if (!made) return;
  let best: { d: number; which: Which } | null = null;
  knotsOf(made).forEach((ring, c) =>
    ring.forEach((knot, i) => {
      const d = near(apply(made.matrix, knot.at), place);
      if (!best || d < best.d) best = { d, which: [c, i] };
    }),
  );
  if (best) choosePoints([(best as { which: Which }).which]);
}

/** Choose the next point of an outline, or the one before. */
export function nextPoint(id: string, by: 1 | -1): boolean {
  const object = shownScene()?.objects[id];
  if (!object) return false;
  const all = knotsOf(object).flatMap((ring, c) => ring.map((_, i): Which => [c, i]));
  if (!all.length) return false;
  const { points } = useStore.getState();
  const last = points[points.length - 1];
  const at = last ? all.findIndex((one) => same(one, last)) : by > 0 ? -1 : 0;
  choosePoints([all[(at + by + all.length) % all.length]]);
  return true;
}

/** Move the chosen points by so many points of the page. */
export function nudgePoints(id: string, [dx, dy]: Point, by: number) {
  const { points } = useStore.getState();
  void edit(
    act("move-points", { of: editedOf(), object: id, points, by: [dx * by, dy * by] }),
    "Move point",
    `points:${id} ${points.join(" ")}`,
  );
}

/** Put a point between the chosen one and the next. */
export async function addBehind(id: string) {
  const object = shownScene()?.objects[id];
  const [c, i] = useStore.getState().points[0] ?? [0, 0];
  const ring = object && knotsOf(object)[c];
  if (!object || !ring || ring.length < 2) return;
  const [a, b] = [ring[i], ring[(i + 1) % ring.length]];
  const [p, q] = [a.after ?? a.at, b.before ?? b.at];
  const middle: Point = [0, 1].map((k) => (a.at[k] + 3 * p[k] + 3 * q[k] + b.at[k]) / 8) as Point;
  await addPoint(object, [1, 0, 0, 1, 0, 0], apply(object.matrix, middle));
}

export function deletePoints(id: string) {
  const { points } = useStore.getState();
  if (points.length)
    void edit(
      act("delete-points", { of: editedOf(), object: id, points }),
      points.length > 1 ? "Delete points" : "Delete point",
    ).then(() => choosePoints([]));
}

/** The kinds of points: how they are called, their key while points are edited, and how they look. */
export const POINT_KINDS = [
  { kind: "corner", name: "a corner", key: "c", drawing: "M3 15 10 5 17 15" },
  { kind: "smooth", name: "a curve", key: "v", drawing: "M3 15C5 5 12 5 17 11" },
  { kind: "symmetrical", name: "an even curve", key: "b", drawing: "M3 15C6 2 14 2 17 15" },
] as const;

export function setPointKind(id: string, kind: (typeof POINT_KINDS)[number]["kind"]) {
  const { points } = useStore.getState();
  if (points.length) void edit(act("point-kind", { of: editedOf(), object: id, points, kind }), "Kind of point");
}

// ---- drawing freely: a click is a corner, a drag a curve

/** The place of a click, caught on lines; Shift holds it level or upright from the last point. */
export function drawnAt(
  scene: Scene,
  page: number,
  at: Point,
  perPoint: number,
  keys: { shift: boolean; command: boolean },
): Point {
  const { draft, snapping } = useStore.getState();
  const last = draft?.knots[draft.knots.length - 1]?.at;
  if (keys.shift && last) {
    const [dx, dy] = straight([at[0] - last[0], at[1] - last[1]]);
    return [last[0] + dx, last[1] + dy];
  }
  return snapping !== keys.command ? caughtPoint(at, linesOf(scene, page, []), REACH / perPoint).at : at;
}

export function closes(at: Point, perPoint: number): boolean {
  const { draft } = useStore.getState();
  return !!draft && draft.knots.length > 1 && near(draft.knots[0].at, at) * perPoint < met(11);
}

export function putKnot(page: number, knot: DraftKnot) {
  const { draft } = useStore.getState();
  drawOn(draft ? { ...draft, knots: [...draft.knots, knot] } : { page, knots: [knot] });
}

/** The last point's handles follow the drag, both alike. */
export function bendLast(to: Point) {
  const draft = useStore.getState().draft;
  if (!draft) return;
  const knots = [...draft.knots];
  const last = knots[knots.length - 1];
  knots[knots.length - 1] = { at: last.at, after: to, before: [2 * last.at[0] - to[0], 2 * last.at[1] - to[1]] };
  drawOn({ ...draft, knots });
}

export function takeBack() {
  const { draft } = useStore.getState();
  if (!draft) return;
  drawOn(draft.knots.length > 1 ? { ...draft, knots: draft.knots.slice(0, -1) } : null);
}

/** Close the outline and make it an object; fewer than two points make nothing. */
export async function finishDraft() {
  const { draft, document: open, tool } = useStore.getState();
  drawn();
  if (!draft || draft.knots.length < 2) return;
  if (tool.kind === "draw" && tool.contour)
    return void (await edit(
      act("draw-contour", { object: tool.contour, page: draft.page, knots: draft.knots }),
      "Draw the contour",
    ));
  const [id] = freshIds(1);
  const look = { fill: { color: open?.colors?.straw ? "straw" : "#f6e3b4" } };
  comes(id);
  await edit(act("draw", { page: draft.page, knots: draft.knots, id, look }), "Draw outline");
}
