/** Previews: not stored, the newest wins, one is on its way. */
import { type Operation, post, Refused, type SceneOut } from "../api/client";
import { answered, NONE_CAUGHT, stopped } from "./model/tried";
import { catchUp } from "./opening";
import { unreached } from "./queue";
import type { Caught } from "./seen";
import { meant, ownQueue } from "./sending";
import { change, useStore } from "./store";
import { say } from "./viewing";
import { WINDOW } from "./window";

const now = useStore.getState;

/** Times of the last previews in ms, from asking to having the nest: read by the speed measurement. */
export const previewTimes: number[] = [];

/** Show what a change would look like, with the lines that it caught on, which are drawn once it is there. */
export function tryOut(operations: Operation[], caught: Caught[] = NONE_CAUGHT) {
  if (now().may === "see") return;
  change({ wish: { operations: meant(operations), caught }, trying: true });
  void ask();
}

/** Draw the lines that something caught on. */
export function showCaught(caught: Caught[]) {
  if (caught.length || now().caught.length) change({ caught });
}

/** Stop showing what is tried. */
export function stopTrying() {
  change(stopped);
}

/** When all that was on its way is stored, what is still wished for is asked. */
export function followTrying() {
  useStore.subscribe((state, before) => {
    if (state.rested !== before.rested && state.wish) void ask();
  });
}

/** What is tried stands on what is stored and on the changes that are on their way: so that a hand need not wait for
 * them. */
async function ask() {
  if (now().asking) return;
  change({ asking: true });
  while (now().wish && now().id !== null && (await askOnce()));
  change({ asking: false });
}

/** Ask for what is wished, once; whether the next may follow at once. */
async function askOnce(): Promise<boolean> {
  const { wish, id, revision, turn, asked } = now();
  const mine = ownQueue();
  if (mine.changes.some((one) => one.kind !== "edit")) return false; // it is asked again when the step is made
  const { operations, caught } = wish!;
  const waiting = [...mine.on, ...mine.changes.flatMap((one) => one.operations)];
  const number = Math.max(asked + 1, Date.now());
  change({ wish: null, asked: number });
  const began = performance.now();
  try {
    const tried = await post<SceneOut>(`/api/documents/${id}/preview`, {
      base: revision,
      operations: [...waiting, ...operations],
      window: WINDOW,
      number,
    });
    const step = answered(now(), { turn, revision, busy: mine.busy, operations, caught }, tried);
    if (Object.keys(step).length) change(step);
    previewTimes.push(performance.now() - began);
    return true;
  } catch (error) {
    if (turn !== now().turn) return true;
    if (error instanceof Refused && error.status === 409) {
      // A change came in between: one of this window's own, maybe the very one that was tried, or another's.
      if (now().trying && !now().wish) change({ wish: { operations, caught } });
      if (mine.busy) return false;
      if (now().revision === revision) await catchUp(revision + 1);
      return now().revision !== revision;
    }
    if (error instanceof Refused && error.status === 400) {
      change({ triedFault: error.message.replace(/^\$[^:]*: /, "") }); // the field is where it is typed
      return true;
    }
    if (!unreached(error) || !now().away) say(error instanceof Error ? error.message : String(error), "fault");
    return false;
  }
}
