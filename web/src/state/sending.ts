/** Changes on their way to the server: stored, one at a time, in order; steps back and forward stand in the same
 * queue. */
import { act, answer, api, type Operation, Refused, type SceneOut, type Schemas } from "../api/client";
import { thingsOf } from "./document";
import { pagesSeen } from "./geometry";
import { stillThere } from "./model/chosen";
import { asGiven, changedBy, sceneOf } from "./model/opened";
import { standing, textIn } from "./model/sent";
import { kept } from "./model/tried";
import { type Change, type Made, Queue } from "./queue";
import { change, selection, useStore } from "./store";
import { say } from "./viewing";
import { WINDOW } from "./window";

const now = useStore.getState;
const queues = new Map<number, Queue>();

/** The queue of changes of a document. */
export function queueOf(doc: number): Queue {
  let queue = queues.get(doc);
  if (!queue) queues.set(doc, (queue = new Queue(doc, hooks)));
  return queue;
}

/** The queue of the open document. */
export function ownQueue(): Queue {
  return queueOf(now().id!);
}

/** What was cut off is asked for at once, not in a while. */
export function askAgain() {
  queues.forEach((one) => one.now());
}

const hooks = {
  shows: (one: Queue) => (now().id === one.doc ? shows() : {}),
  changed() {
    const before = now();
    const mine = before.id === null ? null : queueOf(before.id);
    const step = standing(before, mine, [...queues.values()]);
    change(step);
    if (before.away && !step.away && !mine?.changes.length) say("The server answers again: everything is stored.");
  },
  takeIn(one: Queue, made: Made, typing: boolean) {
    if (now().id === one.doc) takeIn(made, typing);
  },
  readAgain(one: Queue) {
    if (now().id === one.doc) void readAgain();
    say("What waited from before is stored.");
  },
  steps(one: Queue, made: Made) {
    if (now().id === one.doc) change({ undoLabel: made.undo, redoLabel: made.redo });
  },
  may(one: Queue, kind: "undo" | "redo") {
    const { id, undoLabel, redoLabel } = now();
    return id !== one.doc || (kind === "undo" ? undoLabel : redoLabel) !== null;
  },
  refused(one: Queue, error: unknown, refused: Change) {
    if (now().id === one.doc) change(({ epoch }) => ({ tried: null, triedFault: null, epoch: epoch + 1 }));
    if (!one.changes.length) change({ away: null }); // nothing waits, but this is not stored
    const words = refused.join.startsWith("typing:") ? textIn(refused.operations).trim() : "";
    const keep = words && { label: "Copy what was typed", run: () => void navigator.clipboard.writeText(words) };
    say(error instanceof Error ? error.message : String(error), "fault", keep || undefined);
    if (error instanceof Refused && error.status === 409 && now().id === one.doc) void readAgain();
  },
};

/** What goes with a change of a large document: what this window shows, so that the answer is what differs from
 * that. */
function shows() {
  const { shown, scene, view } = now();
  return shown && scene ? { shown, seen: pagesSeen(scene, view) } : {};
}

/** A change that was stored is what the window shows. */
export function takeIn(made: Schemas["EditOut"], typing: boolean) {
  change((before) => {
    const after = changedBy(before, made, typing);
    const { onRecipe } = before;
    return {
      ...after,
      ...stillThere(before, after.scene),
      // What is being tried meanwhile is shown on.
      tried: before.trying ? before.tried : null,
      triedFault: null,
      onRecipe: onRecipe && after.document.recipes?.[onRecipe] ? onRecipe : null,
    };
  });
  if (!made.complete) askRest();
}

/** Ms without a change after which the pages that are not seen are asked for. */
const REST = 500;

/** A change of a long copy is shown first where it is seen: the rest follows as soon as nothing more comes. */
function askRest() {
  const { id, shown } = now();
  setTimeout(async () => {
    const waits = now();
    if (waits.id !== id || waits.shown !== shown) return; // another answer has come, and asks again
    if (waits.saving) return askRest();
    try {
      const rest = await answer(
        api.GET("/api/documents/{document_id}/rest", { params: { path: { document_id: id! }, query: { shown } } }),
      );
      const { id: open, shown: still, revision, scene } = now();
      if (open !== id || still !== shown || revision !== rest.revision) return;
      change({ scene: sceneOf(scene, rest.scene as SceneOut), shown: rest.shown });
    } catch {
      if (now().id === id) askRest();
    }
  }, REST);
}

/** Read the document again as it is stored. */
export async function readAgain() {
  const { id } = now();
  const given = (await answer(
    api.GET("/api/documents/{document_id}", { params: { path: { document_id: id! }, query: { window: WINDOW } } }),
  )) as Schemas["OpenOut"];
  if (now().id !== id || given.revision < now().revision) return;
  queueOf(id!).stand(given.revision);
  change((before) => ({ ...asGiven(before, given), tried: null }));
}

/** Whether the open document may be changed by who is signed in; where it may not, that is said. */
export function mayChange(): boolean {
  const { may, owner } = now();
  if (may !== "see") return true;
  say(`This is ${owner}’s document, and yours to see. A duplicate is yours to change.`, "said", {
    label: "Duplicate it",
    run: () => void duplicateOpen(),
  });
  return false;
}

/** Make a duplicate of the open document, one's own, and open it. */
export async function duplicateOpen() {
  const { id } = now();
  if (id === null) return;
  try {
    const made = await answer(
      api.POST("/api/documents/{document_id}/duplicate", { params: { path: { document_id: id } } }),
    );
    location.assign(`/d/${made.id}`);
  } catch (error) {
    say(error instanceof Error ? error.message : String(error), "fault");
  }
}

/** Changes as they are meant: of all that is chosen, of the recipe that is spoken of. What each gets, the core
 * knows. */
export function meant(operations: Operation[]): Operation[] {
  const { onRecipe, selected, document } = now();
  const objects = selection();
  let out = operations;
  // Acts name the objects that they are for themselves.
  if (out.every((operation) => operation.do === "act" && "objects" in operation.given)) return out;
  if (objects.length > 1) out = act("for-all", { objects, operations: out });
  const thing = onRecipe && selected && document ? thingsOf(document).find((t) => t.id === selected) : null;
  if (thing?.recipe === onRecipe && thing)
    out = act("onto-recipe", { object: thing.id, recipe: onRecipe, operations: out });
  return out;
}

/** Make a change. Resolves to whether it was made; a refusal is said to the user. What was tried until now is over. */
export function edit(operations: Operation[], label: string, join = ""): Promise<boolean> {
  if (mayChange()) change(kept);
  else return Promise.resolve(false);
  return queued(operations, label, join);
}

/** Make the change that was tried; what was shown, or is on its way to be, stays until it is stored. */
export function keepTried(operations: Operation[], label: string, join = ""): Promise<boolean> {
  if (!mayChange()) return Promise.resolve(false);
  change({ wish: null, trying: false });
  return queued(operations, label, join);
}

function queued(operations: Operation[], label: string, join: string): Promise<boolean> {
  return new Promise((done) => void ownQueue().add({ kind: "edit", operations: meant(operations), label, join, done }));
}

/** A change that typing makes: one that waits still can be made another (`Queue.amend`). */
export function type(operations: Operation[], label: string, join: string): Change {
  change(kept);
  return ownQueue().add({ kind: "edit", operations, label, join, done: () => undefined });
}

/** Whether words that were typed are on their way: then the galley knows more than what is stored. */
export function typingWaits(): boolean {
  const { id } = now();
  return id !== null && queueOf(id).changes.some((one) => one.join.startsWith("typing:"));
}

function step(kind: "undo" | "redo"): Promise<boolean> {
  if (!mayChange() || now().collided) return Promise.resolve(false); // first it is chosen what holds
  return new Promise((done) => void ownQueue().add({ kind, operations: [], label: "", join: "", done }));
}

export const undo = () => step("undo");
export const redo = () => step("redo");

/** Until all is stored a window is not closed without a word; with the network back what waits goes on its way. */
export function guardWindow() {
  addEventListener("beforeunload", (event) => now().away && event.preventDefault());
  addEventListener("online", askAgain);
}

/** Arrows make an object's side longer or shorter: from what it is, or from what they gave it and is on its way. */
export function sizeBy(id: string, field: "width" | "height", size: number, more: number) {
  const { sized, saving } = now();
  const from = saving && sized?.id === id && sized.field === field ? sized.size : size;
  const next = Math.max(1, from + more);
  change({ sized: { id, field, size: next } });
  void edit(act("place", { object: id, field, value: next }), "Size", `size:${field} ${id}`);
}
