/** The subject of a picture marked by hand: a rectangle round it, strokes on it and beside it. */
import { putDown, markOn } from "../state/choosing";
import type { ObjectScene } from "../api/client";
import { type Subject, thingsOf } from "../state/document";
import { edit } from "../state/sending";
import { useStore } from "../state/store";
import { say, saidEnough } from "../state/viewing";
import { trace } from "../state/tracing";
import { apply, inverse, type Matrix, type Point } from "../state/geometry";
import type { Gesture } from "./gesture";

function subjectNow(): Subject {
  const { document: open, selected } = useStore.getState();
  return (open && thingsOf(open).find((t) => t.id === selected)?.contour?.subject) || {};
}

function boxOf(points: Point[]): [number, number, number, number] {
  const [a, b] = [points[0], points[points.length - 1]];
  const [x, y] = [Math.min(a[0], b[0]), Math.min(a[1], b[1])];
  return [x, y, Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1])];
}

/** What is marked, with the mark that is being made. */
export function marksNow() {
  const making = useStore.getState().marking;
  const subject = subjectNow();
  const strokes = (what: "keep" | "drop"): Point[][] => [
    ...(subject[what] ?? []),
    ...(making?.what === what ? [making.points] : []),
  ];
  return {
    box: making?.what === "box" ? boxOf(making.points) : subject.box,
    keep: strokes("keep"),
    drop: strokes("drop"),
  };
}

/** A mark made by dragging; when it is let go the contour is traced anew. */
export function marking(
  object: ObjectScene,
  page: Matrix,
  what: "box" | "keep" | "drop",
  from: Point,
  redraw: () => void,
): Gesture {
  const [x, y, w, h] = object.picture!.place;
  const share = (v: number) => Math.round(Math.min(1, Math.max(0, v)) * 1e4) / 1e4;
  const fraction = (at: Point): Point => {
    const own = apply(inverse(object.matrix), apply(inverse(page), at));
    return [share((own[0] - x) / w), share((own[1] - y) / h)];
  };
  const points = [fraction(from)];
  markOn({ what, points });
  return {
    readout: "",
    move(at) {
      const next = fraction(at);
      const last = points[points.length - 1];
      if (what === "box") points.splice(1, 1, next);
      else if (Math.hypot(next[0] - last[0], next[1] - last[1]) > 0.004 && points.length < 1900) points.push(next);
      redraw();
    },
    end() {
      markOn(null);
      redraw();
      const old = subjectNow();
      const box = what === "box" ? boxOf(points) : old.box;
      if (what === "box" && (!box || box[2] < 0.01 || box[3] < 0.01)) return;
      const subject: Subject = {
        ...old,
        ...(box ? { box } : {}),
        ...(what === "box" ? {} : { [what]: [...(old[what] ?? []), points] }),
      };
      void find(object.id, subject);
    },
    cancel() {
      markOn(null);
      redraw();
      putDown();
    },
  };
}

async function find(id: string, subject: Subject) {
  const open = useStore.getState().document;
  const contour = (open && thingsOf(open).find((t) => t.id === id)?.contour) || {};
  const wanted = { ...contour, from: "busy" as const, subject };
  const fault = await trace(
    id,
    wanted,
    ({ share }) => share > 0 && say(`Tracing the contour: ${Math.round(share * 100)} %`),
  );
  if (fault) return say(fault, "fault");
  if (await edit([{ do: "put", at: ["objects", id, "contour"], value: wanted }], "Mark the subject")) saidEnough();
}
