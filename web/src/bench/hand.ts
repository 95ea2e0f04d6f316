/** What the hand does on the bench: select, drag, size, turn, draw. Every step is a preview; letting go makes the edit. */
import type { ObjectScene, Operation } from "../api/client";
import { pathOf } from "../drawing/scene";
import { fresh, type Thing, thingsOf } from "../state/document";
import { keepTried, type Scene, stopTrying, tryOut, useStore } from "../state/store";
import { inUnit } from "../state/units";
import { apply, handlesOf, inverse, pageTops, type Point, rounded, sized } from "./geometry";
import { pageMatrix, turnHandle } from "./paint";

export interface Gesture {
  move(at: Point, keys: { shift: boolean; alt: boolean }): void;
  end(): void;
  cancel(): void;
  /** What to show beside the pointer. */
  readout: string;
}

export type Spot =
  | { kind: "handle"; fx: number; fy: number }
  | { kind: "turn" }
  | { kind: "object"; id: string }
  | { kind: "bench" };

const probe = document.createElement("canvas").getContext("2d")!;

/** What is under a point of the bench (CSS px). */
export function spotAt(scene: Scene, at: Point): Spot {
  const { view, selected } = useStore.getState();
  const tops = pageTops(scene);
  const object = selected ? scene.objects[selected] : null;
  if (object && !object.locked && !object.hidden) {
    const m = pageMatrix(view, tops[object.page]);
    const [tx, ty] = turnHandle(object.matrix, object.box, m);
    if (Math.hypot(at[0] - tx, at[1] - ty) < 10) return { kind: "turn" };
    let nearest: { d: number; spot: Spot } | null = null;
    for (const handle of handlesOf(object)) {
      const [x, y] = apply(m, handle.at);
      const d = Math.hypot(at[0] - x, at[1] - y);
      if (d < 8 && (!nearest || d < nearest.d)) nearest = { d, spot: { kind: "handle", fx: handle.fx, fy: handle.fy } };
    }
    if (nearest) return nearest.spot;
  }
  for (let page = scene.pages.length - 1; page >= 0; page--) {
    const m = pageMatrix(view, tops[page]);
    const [px, py] = apply(inverse(m), at);
    for (const id of [...scene.pages[page].order].reverse()) {
      const thing = scene.objects[id];
      if (!thing || thing.hidden || thing.locked) continue;
      const [x, y] = apply(inverse(thing.matrix), [px, py]);
      if (probe.isPointInPath(pathOf(thing), x, y)) return { kind: "object", id };
    }
  }
  return { kind: "bench" };
}

function put(id: string, field: string, value: unknown): Operation {
  return { do: "put", at: ["objects", id, field], value };
}

function gesture(label: string, operations: (at: Point, keys: { shift: boolean; alt: boolean }) => { operations: Operation[]; readout: string }): Gesture {
  let last: Operation[] | null = null;
  return {
    readout: "",
    move(at, keys) {
      const step = operations(at, keys);
      last = step.operations;
      this.readout = step.readout;
      tryOut(last);
    },
    end() {
      if (last) void keepTried(last, label);
    },
    cancel: stopTrying,
  };
}

function unit(): string {
  return useStore.getState().document?.unit ?? "mm";
}

export function dragging(object: ObjectScene, from: Point, perPoint: number): Gesture {
  return gesture("Move", (at, keys) => {
    let [dx, dy] = [(at[0] - from[0]) / perPoint, (at[1] - from[1]) / perPoint];
    if (keys.shift) [dx, dy] = Math.abs(dx) > Math.abs(dy) ? [dx, 0] : [0, dy];
    const [x, y] = [rounded(object.box[0] + dx), rounded(object.box[1] + dy)];
    return { operations: [put(object.id, "x", x), put(object.id, "y", y)], readout: `${inUnit(x, unit())}, ${inUnit(y, unit())}` };
  });
}

export function sizing(object: ObjectScene, handle: { fx: number; fy: number }, from: Point, perPoint: number): Gesture {
  const even = object.picture !== null;
  return gesture("Size", (at, keys) => {
    const by: Point = [(at[0] - from[0]) / perPoint, (at[1] - from[1]) / perPoint];
    const box = sized(object, handle, by, keys.shift !== even, keys.alt);
    const operations = (["x", "y", "width", "height"] as const).map((field) => put(object.id, field, rounded(box[field])));
    return { operations, readout: `${inUnit(box.width, unit())} × ${inUnit(box.height, unit())}` };
  });
}

export function turning(object: ObjectScene, page: [number, number, number, number, number, number], from: Point): Gesture {
  const [x, y, w, h] = object.box;
  const pivot = apply(page, [x + object.pivot[0] * w, y + object.pivot[1] * h]);
  const start = Math.atan2(from[1] - pivot[1], from[0] - pivot[0]);
  return gesture("Turn", (at, keys) => {
    const by = ((Math.atan2(at[1] - pivot[1], at[0] - pivot[0]) - start) * 180) / Math.PI;
    let turn = object.turn + by;
    turn = keys.shift ? Math.round(turn / 15) * 15 : Math.round(turn * 2) / 2;
    turn = ((((turn + 180) % 360) + 360) % 360) - 180;
    return { operations: [put(object.id, "turn", turn)], readout: `${turn}°` };
  });
}

/** Drawing a new outline from one corner to the other; a click makes one of a ready size. */
export function drawing(page: number, start: Point, toPage: (at: Point) => Point): Gesture {
  const { document, tool, scene } = useStore.getState();
  const shape = tool.kind === "outline" ? tool : { outline: { kind: "rectangle" }, name: "Rectangle" };
  const id = fresh(thingsOf(document!).map((t) => t.id), "o");
  const count = document!.pages[page].objects.length;
  const [x0, y0] = toPage(start);
  let moved = false;
  const make = (box: { x: number; y: number; width: number; height: number }): Operation[] => {
    const color = document!.colors?.straw ? "straw" : "#f6e3b4";
    const thing: Thing = { id, name: "", outline: shape.outline, ...box, fill: { color } };
    return [{ do: "splice", at: ["pages", page, "objects"], from: count, remove: 0, insert: [thing] }];
  };
  const inner = gesture(`Draw ${shape.name.toLowerCase()}`, (at, keys) => {
    let [x1, y1] = toPage(at);
    if (keys.shift) {
      const side = Math.max(Math.abs(x1 - x0), Math.abs(y1 - y0));
      [x1, y1] = [x0 + side * Math.sign(x1 - x0 || 1), y0 + side * Math.sign(y1 - y0 || 1)];
    }
    const [ax, ay] = keys.alt ? [2 * x0 - x1, 2 * y0 - y1] : [x0, y0];
    const box = { x: rounded(Math.min(ax, x1)), y: rounded(Math.min(ay, y1)), width: rounded(Math.max(4, Math.abs(x1 - ax))), height: rounded(Math.max(4, Math.abs(y1 - ay))) };
    return { operations: make(box), readout: `${inUnit(box.width, unit())} × ${inUnit(box.height, unit())}` };
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
      useStore.setState({ tool: { kind: "hand" } });
      const ready = Math.min(scene!.pages[page].width, scene!.pages[page].height) / 3;
      if (moved) inner.end();
      else void keepTried(make({ x: rounded(x0), y: rounded(y0), width: rounded(ready), height: rounded(ready) }), `Draw ${shape.name.toLowerCase()}`);
      const waiting = useStore.subscribe((state) => {
        if (state.scene?.objects[id]) {
          waiting();
          useStore.setState({ selected: id });
        }
      });
      setTimeout(waiting, 10000);
    },
    cancel() {
      useStore.setState({ tool: { kind: "hand" } });
      inner.cancel();
    },
  };
}
