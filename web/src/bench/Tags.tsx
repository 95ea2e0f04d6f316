/** Tags at frames: words that are left over, and where copy goes on. */
import { openPart } from "../state/viewing";
import { type PointerEvent, useEffect, useRef, useState } from "react";
import { apply, type Matrix, pagePlaces, type Point } from "../state/geometry";
import { BOTTOM, COLUMNS, LEFT, PAST, RIGHT } from "../drawing/records";
import type { Scene } from "../state/seen";
import type { NestScene, Operation } from "../api/client";
import { thingsOf } from "../state/document";
import { beginCopy, selectOnly } from "../state/choosing";
import { keepTried } from "../state/sending";
import { ruled, shownScene, useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { leftoverSaid } from "../parts/leftover";
import { pageMatrix } from "../state/geometry";

/** Begins to drag the copy of a frame on to another. */
export type GoOn = (event: PointerEvent, frame: string) => void;

/** What a frame lacks for the words that are left over, and what pushes them away. */
function LeftoverWhy({ nest }: { nest: NestScene }) {
  const unit = useStore((s) => s.document?.unit ?? "mm");
  const labels = useStore((s) => s.scene?.labels);
  return <span className="pr-1.5">{leftoverSaid(nest, labels ?? {}, unit)}</span>;
}

/** Whether copy can go on from a frame by hand: not from a locked one, nor from one whose lines do not wrap. */
export function mayGoOn(frame: string): boolean {
  const { document, scene } = useStore.getState();
  const thing = document && thingsOf(document).find((t) => t.id === frame);
  return !!thing && !scene?.objects[frame]?.locked && ruled(thing).frame?.wrap_lines !== false;
}

/** How far down the bench a frame's leftover lines reach, in CSS px. */
function pastFoot(scene: Scene, id: string, page: Matrix): number {
  const { records, matrix } = scene.nests[id] ?? { records: [], matrix: null };
  let foot = -Infinity;
  for (let row = 0; row < records.length; row += COLUMNS)
    if (records[row + PAST])
      for (const x of [records[row + LEFT], records[row + RIGHT]]) {
        const place: Point = [x, records[row + BOTTOM]];
        foot = Math.max(foot, apply(page, matrix ? apply([...matrix] as Matrix, place) : place)[1]);
      }
  return foot;
}

/** What is offered where words are left over; dragged, the copy goes on there. */
export function LeftoverTags({ goOn }: { goOn: GoOn }) {
  const selected = useStore((s) => s.selected);
  const [held, setHeld] = useState<string | null>(null);
  const pressed = useRef<[number, number]>([0, 0]);
  // By what is stored: while a cure is pointed at nothing may be left over, and its button must not go away.
  const stored = useStore((s) => s.scene);
  useStore((s) => s.tried);
  const view = useStore((s) => s.view);
  const scene = shownScene();
  if (!scene || !stored) return null;
  const tops = pagePlaces(scene);
  return Object.values(stored.nests)
    .filter((nest) => nest.leftover > 0 && stored.objects[nest.id] && scene.objects[nest.id])
    .map((nest) => {
      // It stays under the pointer, whatever a cure that is pointed at does to its frame.
      const object = (held === nest.id ? stored : scene).objects[nest.id];
      const m = pageMatrix(view, tops[object.page]);
      const corners = [0, 1].flatMap((fx) =>
        [0, 1].map((fy) => apply(m, apply(object.matrix, [fx * object.box[2], fy * object.box[3]]))),
      );
      const left = (Math.min(...corners.map((c) => c[0])) + Math.max(...corners.map((c) => c[0]))) / 2;
      // Below the lines that are left over, which it speaks of; where these leave the bench, beside the frame.
      const past = pastFoot(scene, nest.id, m);
      const foot = document.querySelector("canvas")?.clientHeight ?? Infinity;
      const under = Math.max(...corners.map((c) => c[1]), past);
      const top = Math.min(under, Math.max(foot - 34, Math.max(...corners.map((c) => c[1]))));
      return (
        <div
          key={nest.id}
          className="absolute flex -translate-x-1/2 items-center rounded-full bg-coral-wash pr-1 pl-2.5 text-xs whitespace-nowrap text-coral-text shadow-sm"
          style={{ left, top: top + 6 }}
          onMouseEnter={() => setHeld(nest.id)}
          onMouseLeave={() => setHeld(null)}
        >
          <button
            className="touch-none py-0.5 pr-1.5 font-bold"
            title={
              !mayGoOn(nest.id)
                ? "Show them in the galley"
                : "Show them in the galley; dragged onto another frame or an empty place, the copy goes on there"
            }
            onPointerDown={(event) => {
              pressed.current = [event.clientX, event.clientY];
              event.currentTarget.setPointerCapture(event.pointerId);
            }}
            onPointerMove={(event) => {
              if (
                !mayGoOn(nest.id) ||
                !event.currentTarget.hasPointerCapture(event.pointerId) ||
                Math.hypot(event.clientX - pressed.current[0], event.clientY - pressed.current[1]) < 5
              )
                return;
              selectOnly(nest.id);
              goOn(event, nest.id);
            }}
            onClick={() => (selectOnly(nest.id), beginCopy())}
          >
            {nest.leftover} {nest.leftover === 1 ? "word" : "words"} left over
          </button>
          {nest.id === selected && <LeftoverWhy nest={nest} />}
          {nest.id === selected && nest.cures.map((cure) => <Cure key={cure.label} cure={cure} />)}
        </div>
      );
    });
}

/** A change that finds room for the words left over; pointing at it shows it. */
function Cure({ cure: { label, hint, operations } }: { cure: NestScene["cures"][number] }) {
  const cure = operations as Operation[];
  useEffect(() => stopTrying, []); // it may go while it is pointed at
  const shown = useRef(false);
  return (
    <button
      className="rounded-full px-2 py-0.5 underline decoration-dotted underline-offset-2 hover:bg-sheet"
      title={hint}
      // It comes by itself, maybe under a pointer at rest: only one that is moved on to it asks to see it.
      onMouseMove={({ movementX, movementY }) => {
        if (shown.current || !(movementX || movementY)) return;
        shown.current = true;
        tryOut(cure);
      }}
      onMouseLeave={() => {
        shown.current = false;
        stopTrying();
      }}
      onClick={() => void keepTried(cure, label)}
    >
      {label}
    </button>
  );
}

/** Where the copy of the selected frame goes on; dragged onto another frame or an empty place it goes on there. */
export function EndTag({ goOn }: { goOn: GoOn }) {
  const selected = useStore((s) => (s.others.length || s.tool.kind !== "hand" ? null : s.selected));
  useStore((s) => s.scene);
  useStore((s) => s.tried);
  const view = useStore((s) => s.view);
  const open = useStore((s) => s.document);
  const scene = shownScene();
  const nest = selected ? scene?.nests[selected] : undefined;
  const object = selected ? scene?.objects[selected] : undefined;
  if (!scene || !nest || !object || !open || !mayGoOn(object.id)) return null;
  const m = pageMatrix(view, pagePlaces(scene)[object.page]);
  const corners = [0, 1].flatMap((fx) =>
    [0, 1].map((fy) => apply(m, apply(object.matrix, [fx * object.box[2], fy * object.box[3]]))),
  );
  const [left, top] = [Math.max(...corners.map((c) => c[0])), Math.max(...corners.map((c) => c[1]))];
  const after = nest.chain?.after ? scene.objects[nest.chain.after] : null;
  const there = after && thingsOf(open).find((t) => t.id === after.id);
  return (
    <button
      className="absolute flex cursor-grab touch-none items-center gap-1 rounded-full border border-slot bg-sheet px-2 py-0.5 text-xs whitespace-nowrap text-slot-text shadow-sm"
      style={{ left: left + 14, top: top - 24 }}
      title="Drag it onto another frame or an empty place: the copy goes on there"
      onPointerDown={(event) => event.button === 0 && goOn(event, object.id)}
      onClick={(event) => event.detail === 0 && openPart("chain")}
    >
      {there
        ? `goes on in ${there.name || nest.chain!.frames.indexOf(after.id) + 1}${after.page !== object.page ? `, page ${after.page + 1}` : ""}`
        : "goes on …"}{" "}
      <span aria-hidden>↝</span>
    </button>
  );
}
