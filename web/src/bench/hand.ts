/** What the hand does on the bench: drag, size, turn, draw a ready outline. Every step is a preview; letting go makes
 * the edit. */
import { act, type ObjectScene, type Operation } from "../api/client";
import { pathOf } from "../drawing/scene";
import { freshIds } from "../state/ids";
import { hostOf, leaderOf, thingsOf } from "../state/document";
import { selectAll, selectOnly } from "../state/choosing";
import { labelOf } from "../state/naming";
import { keepTried } from "../state/sending";
import { ruled, selection, useStore, shownScene } from "../state/store";
import { showCaught, stopTrying, tryOut } from "../state/trying";
import type { Caught, Scene } from "../state/seen";
import { inUnit } from "../state/units";
import {
  apply,
  extentOf,
  handlesOf,
  inverse,
  pageMatrix,
  pageNear,
  pagePlaces,
  type Point,
  rounded,
  sized,
} from "../state/geometry";
import { indexAt } from "../drawing/caret";
import type { Gesture, Keys } from "./gesture";
import { turnHandle, typeHandle } from "./handles";
import { around, caughtMove, caughtPoint, linesOf } from "./snapping";
import { met } from "./reach";

export type Spot =
  | { kind: "handle"; fx: number; fy: number }
  | { kind: "turn" }
  | { kind: "type" }
  | { kind: "anchor" }
  | { kind: "object"; id: string }
  | { kind: "bench" };

const probe = document.createElement("canvas").getContext("2d")!;

/** What is under a point of the bench (CSS px). */
export function spotAt(scene: Scene, at: Point): Spot {
  const { view, selected, others } = useStore.getState();
  const tops = pagePlaces(scene);
  const object = selected ? scene.objects[selected] : null;
  if (object && !object.locked && !object.hidden) {
    const m = pageMatrix(view, tops[object.page]);
    const leader = leaderOf(scene, [selected!, ...others]);
    const anchor = leader ? scene.anchors[leader] : undefined;
    const meets: { at: Point; reach: number; spot: Spot }[] = [];
    if (anchor)
      meets.push({
        at: apply(pageMatrix(view, tops[anchor.page]), [anchor.mark[0], anchor.mark[1]]),
        reach: 9,
        spot: { kind: "anchor" },
      });
    meets.push({ at: turnHandle(object, m), reach: 10, spot: { kind: "turn" } });
    const type = typeHandle(scene, object, others.length > 0, m);
    if (type) meets.push({ at: type, reach: 10, spot: { kind: "type" } });
    for (const { at, fx, fy } of others.length ? [] : handlesOf(object))
      meets.push({ at: apply(m, at), reach: 8.5, spot: { kind: "handle", fx, fy } });
    const far = (to: Point) => Math.hypot(at[0] - to[0], at[1] - to[1]);
    const [nearest] = meets.filter((one) => far(one.at) < met(one.reach)).sort((a, b) => far(a.at) - far(b.at));
    if (nearest) return nearest.spot;
  }
  const [id] = objectsAt(at, scene);
  return id ? { kind: "object", id } : { kind: "bench" };
}

/** All objects at a place of the bench that can be chosen, the front one first. */
export function objectsAt(at: Point, scene = shownScene()): string[] {
  const found: string[] = [];
  const tops = scene ? pagePlaces(scene) : [];
  for (let page = tops.length - 1; page >= 0; page--) {
    const place = apply(inverse(pageMatrix(useStore.getState().view, tops[page])), at);
    for (const id of [...scene!.pages[page].order].reverse()) {
      const thing = scene!.objects[id];
      if (!thing || thing.hidden || thing.locked) continue;
      const [x, y] = apply(inverse(thing.matrix), place);
      if (probe.isPointInPath(pathOf(thing), x, y)) found.push(id);
    }
  }
  return found;
}

export function put(id: string, field: string, value: unknown): Operation {
  return { do: "put", at: ["objects", id, field], value };
}

interface Step {
  operations: Operation[];
  readout: string;
  caught?: Caught[];
  label?: string;
}

/** A gesture whose every step is a set of operations. `after` is called once they are stored. */
export function gesture(label: string, operations: (at: Point, keys: Keys) => Step, after?: () => void): Gesture {
  let last: Step | null = null;
  return {
    readout: "",
    move(at, keys) {
      last = operations(at, keys);
      this.readout = last.readout;
      if (last.operations.length) tryOut(last.operations, last.caught);
      else showCaught(last.caught ?? []);
    },
    end() {
      showCaught([]);
      if (last?.operations.length)
        void keepTried(last.operations, last.label ?? label).then((made) => made && after?.());
    },
    cancel() {
      showCaught([]);
      stopTrying();
    },
  };
}

/** How near something catches, in CSS px. */
export const REACH = 5;

export function catches(keys: Keys): boolean {
  return useStore.getState().snapping !== keys.command;
}

export function unit(): string {
  return useStore.getState().document?.unit ?? "mm";
}

/** An object in line, or the anchor of one that stands elsewhere, goes to the words that it is dragged to. */
export function movingInLine(object: ObjectScene): Gesture {
  const { scene, document: open } = useStore.getState();
  const host = open && hostOf(open, object.id);
  const along = selection();
  return gesture("Move to other words", (at) => {
    const { view } = useStore.getState();
    const number = pageAt(scene!, at);
    const here = apply(inverse(pageMatrix(view, pagePlaces(scene!)[number])), at);
    const nests = Object.values(scene?.nests ?? {}).filter(
      (nest) => nest.page === number && nest.id !== object.id && !along.includes(nest.id) && scene?.shapes[nest.shape],
    );
    const over = nests.find((nest) => {
      const [x, y, w, h] = scene!.objects[nest.id].box;
      const [px, py] = apply(inverse(scene!.objects[nest.id].matrix), here);
      return w > 0 && h > 0 && px >= 0 && px <= w && py >= 0 && py <= h && Number.isFinite(x + y);
    });
    const nest = over ?? nests.find((one) => one.id === host?.id);
    if (!nest) return { operations: [], readout: "" };
    const index = indexAt(nest, scene!.shapes[nest.shape], here);
    return {
      operations: act("anchor", { object: object.id, frame: nest.id, at: index, version: nest.version }),
      readout: `in ${labelOf(thingsOf(open!).find((t) => t.id === nest.id)!)}`,
    };
  });
}

/** The page nearest to a place of the bench (CSS px). */
export function pageAt(scene: Scene, at: Point): number {
  const { view } = useStore.getState();
  const k = pageMatrix(view, [0, 0])[0];
  return pageNear(scene, [(at[0] - view.x) / k, (at[1] - view.y) / k]);
}

/** A frame's copy goes on where its end tag is dropped: in another object, or in a new frame at an empty place. */
export function linking(scene: Scene, object: ObjectScene): Gesture {
  const { document: open, view } = useStore.getState();
  const [id] = freshIds(1);
  let made: string | null = null;
  const nest = scene.nests[object.id];
  return gesture(
    "Go on in another frame",
    (at) => {
      const spot = spotAt(scene, at);
      const over = spot.kind === "object" ? scene.objects[spot.id] : null;
      if (spot.kind !== "bench" && (!over || over.id === object.id))
        return { operations: [], readout: "onto another frame, or an empty place" };
      if (over) {
        made = over.id;
        const name = labelOf(thingsOf(open!).find((t) => t.id === over.id)!);
        return {
          operations: act("link", { frame: object.id, to: over.id, version: nest?.version }),
          readout: `goes on in ${name}`,
        };
      }
      made = id;
      const page = pageAt(scene, at);
      const [x, y] = apply(inverse(pageMatrix(view, pagePlaces(scene)[page])), at);
      return {
        operations: act("link-new", { frame: object.id, page, at: [rounded(x), rounded(y)], id }),
        readout: `a new frame on page ${page + 1}`,
      };
    },
    () => made && selectOnly(made),
  );
}

/** Everything selected moves together; Alt leaves it where it is and moves a duplicate. */
export function dragging(scene: Scene, object: ObjectScene, from: Point, perPoint: number): Gesture {
  const ids = selection().filter(
    (id) => scene.objects[id] && !scene.objects[id].locked && scene.objects[id].page === object.page,
  );
  const moved = ids.map((id) => scene.objects[id]);
  const start = around(moved.map(extentOf));
  const lines = linesOf(scene, object.page, ids);
  const all = linesOf(scene, object.page, []);
  let made: string[] | null = null;
  let own: string[] | null = null;
  const fresher = () => (own ??= freshIds(ids.length));
  return gesture(
    "Move",
    (at, keys) => {
      let [dx, dy] = [(at[0] - from[0]) / perPoint, (at[1] - from[1]) / perPoint];
      if (keys.shift) [dx, dy] = Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
      let caught: Caught[] = [];
      if (catches(keys)) {
        const there = {
          left: start.left + dx,
          right: start.right + dx,
          top: start.top + dy,
          bottom: start.bottom + dy,
        };
        const found = caughtMove(there, keys.alt ? all : lines, REACH / perPoint);
        caught = found.caught.filter((c) => !keys.shift || (c.axis === "x" ? dx !== 0 : dy !== 0));
        if (!keys.shift || dx) dx += found.dx;
        if (!keys.shift || dy) dy += found.dy;
      }
      const readout = `${inUnit(rounded(object.box[0] + dx), unit())}, ${inUnit(rounded(object.box[1] + dy), unit())}`;
      if (keys.alt) {
        made = fresher();
        return {
          operations: [
            { do: "act", act: "duplicate", given: { objects: ids, by: [rounded(dx), rounded(dy)], ids: made } },
          ],
          readout,
          caught,
          label: "Duplicate",
        };
      }
      made = null;
      return {
        operations: dx || dy ? act("move", { objects: ids, by: [rounded(dx), rounded(dy)] }) : [],
        readout,
        caught,
      };
    },
    () => made && selectAll(made),
  );
}

/** Sizes an outline; with its type, in proportion, by the handle that shows a letter. */
export function sizing(
  scene: Scene,
  object: ObjectScene,
  handle: { fx: number; fy: number },
  from: Point,
  perPoint: number,
  type = false,
): Gesture {
  const even = object.picture !== null;
  // A line of type has the size that its letters give it: its corner enlarges these.
  const line = thingsOf(useStore.getState().document!).some(
    (t) => t.id === object.id && ruled(t).frame?.wrap_lines === false,
  );
  const lines = linesOf(scene, object.page, [object.id]);
  const upright = object.turn % 90 === 0 && object.turn === 0;
  return gesture("Size", (at, keys) => {
    let by: Point = [(at[0] - from[0]) / perPoint, (at[1] - from[1]) / perPoint];
    let caught: Caught[] = [];
    const withType = type || line;
    if (upright && useStore.getState().snapping && !withType) {
      const corner: Point = [
        object.box[0] + handle.fx * object.box[2] + by[0],
        object.box[1] + handle.fy * object.box[3] + by[1],
      ];
      const found = caughtPoint(corner, lines, REACH / perPoint);
      caught = found.caught.filter((c) => (c.axis === "x" ? handle.fx !== 0.5 : handle.fy !== 0.5));
      by = [
        by[0] + (found.at[0] - corner[0]) * (handle.fx !== 0.5 ? 1 : 0),
        by[1] + (found.at[1] - corner[1]) * (handle.fy !== 0.5 ? 1 : 0),
      ];
    }
    const box = sized(object, handle, by, withType || keys.shift !== even, keys.alt);
    if (withType) {
      const factor = box.width / object.box[2];
      const still: Point = keys.alt ? [0.5, 0.5] : [1 - handle.fx, 1 - handle.fy];
      const about = apply(object.matrix, [still[0] * object.box[2], still[1] * object.box[3]]);
      return {
        operations: [{ do: "act", act: "scale", given: { objects: [object.id], factor, about } }],
        readout: `${Math.round(factor * 1000) / 10} % with its type`,
        label: "Size with its type",
      };
    }
    return {
      operations: act("size", { object: object.id, box: [box.x, box.y, box.width, box.height] }),
      readout: `${inUnit(box.width, unit())} × ${inUnit(box.height, unit())}`,
      caught,
    };
  });
}

/** Turns what is selected: one object about its pivot, several about their common middle. */
export function turning(
  scene: Scene,
  object: ObjectScene,
  page: [number, number, number, number, number, number],
  from: Point,
): Gesture {
  const ids = selection().filter(
    (id) => scene.objects[id] && !scene.objects[id].locked && scene.objects[id].page === object.page,
  );
  const [x, y, w, h] = object.box;
  const whole = around(ids.map((id) => extentOf(scene.objects[id])));
  const about: Point =
    ids.length > 1
      ? [(whole.left + whole.right) / 2, (whole.top + whole.bottom) / 2]
      : [x + object.pivot[0] * w, y + object.pivot[1] * h];
  const pivot = apply(page, about);
  const start = Math.atan2(from[1] - pivot[1], from[0] - pivot[0]);
  return gesture("Turn", (at, keys) => {
    const by = ((Math.atan2(at[1] - pivot[1], at[0] - pivot[0]) - start) * 180) / Math.PI;
    const step = useStore.getState().turnStep;
    let turn = object.turn + by;
    turn = keys.shift ? Math.round(turn / step) * step : Math.round(turn * 2) / 2;
    turn = ((((turn + 180) % 360) + 360) % 360) - 180;
    if (ids.length > 1)
      return {
        operations: [{ do: "act", act: "turn", given: { objects: ids, by: turn - object.turn, about } }],
        readout: `${turn}°`,
      };
    return { operations: [put(object.id, "turn", turn)], readout: `${turn}°` };
  });
}
