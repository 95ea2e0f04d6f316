/** The hand: chooses, moves, sizes and turns what stands on the pages. */
import { hover } from "../../state/viewing";
import { apply, extentOf, type Matrix, type Point } from "../../state/geometry";
import type { ObjectScene } from "../../api/client";
import { groupAround, leaderOf, leavesOf } from "../../state/document";
import { beginCopy, putCaret, select, selectAll, moveWithin, speakOf } from "../../state/choosing";
import { selectedThing, selection, useStore } from "../../state/store";
import type { Scene } from "../../state/seen";
import type { Gesture } from "../gesture";
import { dragging, movingInLine, objectsAt, pageAt, sizing, type Spot, spotAt, turning } from "../hand";
import { draggingGuide, guideAt } from "../rulers";
import { copyPlace } from "./copy";
import { chosenObject, matrixOf, pressesWithin } from "./tool";
import type { BenchTool } from "./tool";

export const hand: BenchTool<"hand"> & Required<Pick<BenchTool<"hand">, "over">> = {
  down({ scene, at, when, keys }) {
    const clean = useStore.getState().clean;
    const page = pageAt(scene, at);
    const guide = clean ? null : guideAt(scene, page, matrixOf(scene, page), at);
    if (guide) return draggingGuide(scene, page, matrixOf(scene, page), guide);
    const spot = spotAt(scene, at);
    if (spot.kind === "bench") {
      speakOf(page);
      return "box";
    }
    if (spot.kind === "object") {
      const { selected, others } = useStore.getState();
      if (keys.shift) select(spot.id, true);
      else if (spot.id !== selected && !others.includes(spot.id)) select(spot.id);
      if (!useStore.getState().selected) return "done";
    }
    const object = scene.objects[useStore.getState().selected!];
    const begun = started(scene, spot, object, matrixOf(scene, object.page), at);
    return spot.kind === "object" && !keys.shift && pressedAgain(at, when) ? behind(begun, at) : begun;
  },
  rests: true,
  over({ scene, at, redraw }) {
    const page = pageAt(scene, at);
    const guide = useStore.getState().clean ? null : guideAt(scene, page, matrixOf(scene, page), at);
    if (guide) return guide.axis === "x" ? "col-resize" : "row-resize";
    const spot = spotAt(scene, at);
    const over = spot.kind === "object" ? spot.id : null;
    if (over !== useStore.getState().hovered) {
      hover(over);
      redraw();
    }
    return cursorOf(spot, chosenObject(scene)?.turn ?? 0);
  },
  /** What a drawn box covers is chosen; of a group, all or nothing. */
  boxed({ from, to, adding }, scene) {
    const { selected, others, document: open } = useStore.getState();
    if (Math.hypot(to[0] - from[0], to[1] - from[1]) < 4) return adding ? undefined : select(null);
    const [left, right] = [Math.min(from[0], to[0]), Math.max(from[0], to[0])];
    const [top, bottom] = [Math.min(from[1], to[1]), Math.max(from[1], to[1])];
    const found = Object.values(scene.objects).filter((o) => {
      if (o.hidden || o.locked) return false;
      const matrix = matrixOf(scene, o.page);
      const extent = extentOf(o);
      const [a, b] = apply(matrix, [extent.left, extent.top]);
      const [c, d] = apply(matrix, [extent.right, extent.bottom]);
      return a >= left && c <= right && b >= top && d <= bottom;
    });
    const ids = found.flatMap((o) => {
      const group = open && groupAround(open, o.id);
      return group ? leavesOf(group).map((leaf) => leaf.id) : [o.id];
    });
    selectAll([...new Set(adding && selected ? [selected, ...others, ...ids] : ids)]);
  },
  /** Into a group, a picture, or the copy. */
  clicked({ scene, at }, times) {
    const thing = selectedThing();
    if (!thing || times !== 2) return;
    const { document: open, others } = useStore.getState();
    if (others.length && open && groupAround(open, thing.id)) {
      const spot = spotAt(scene, at);
      return select(spot.kind === "object" ? spot.id : thing.id, false, true);
    }
    if (thing.picture) moveWithin();
    else if (thing.frame) putCaret(copyPlace(at) ?? 0);
    else beginCopy();
  },
};

const sincePressed = pressesWithin(4);

/** A press where one was shortly before, and no double-click. */
function pressedAgain(at: Point, when: number): boolean {
  const since = sincePressed(at, when);
  return since > 450 && since < 2500;
}

/** Let go where it was pressed, it chooses what lies behind. */
function behind(begun: Gesture, at: Point): Gesture {
  let moved = false;
  return {
    get readout() {
      return begun.readout;
    },
    move(to, keys) {
      moved = true;
      begun.move(to, keys);
    },
    end() {
      if (moved) return begun.end();
      begun.cancel();
      const here = objectsAt(at);
      const now = here.indexOf(useStore.getState().selected ?? "");
      if (here.length > 1) select(here[(now + 1) % here.length]);
    },
    cancel: () => begun.cancel(),
  };
}

/** What a press on a spot of the chosen objects begins. */
function started(scene: Scene, spot: Spot, object: ObjectScene, page: Matrix, at: Point): Gesture {
  if (spot.kind === "handle") return sizing(scene, object, spot, at, page[0]);
  if (spot.kind === "turn") return turning(scene, object, page, at);
  if (spot.kind === "type") return sizing(scene, object, { fx: 1, fy: 1 }, at, page[0], true);
  const leader = scene.objects[leaderOf(scene, selection()) ?? ""];
  if (leader && (spot.kind === "anchor" || leader.anchor?.place === "in-line")) return movingInLine(leader);
  return dragging(scene, object, at, page[0]);
}

function cursorOf(spot: Spot, turn: number): string {
  if (spot.kind === "turn") return "grab";
  if (spot.kind === "type") return "nwse-resize";
  if (spot.kind === "anchor") return "grab";
  if (spot.kind === "object") return "move";
  if (spot.kind !== "handle") return "default";
  const angle = (Math.atan2(spot.fy - 0.5, spot.fx - 0.5) * 180) / Math.PI + turn;
  return ["ew-resize", "nwse-resize", "ns-resize", "nesw-resize"][((Math.round(angle / 45) % 4) + 4) % 4];
}
