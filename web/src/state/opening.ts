/** A document opened, completed, kept up with what others change, and closed. */
import { answer, api, type Face, type Schemas } from "../api/client";
import { HAND } from "./model/chosen";
import { asGiven, NOTHING_OPEN, type Other } from "./model/opened";
import { ownQueue, queueOf, takeIn } from "./sending";
import type { Made } from "./queue";
import { change, useStore } from "./store";
import { WINDOW } from "./window";

const now = useStore.getState;

export function opened(given: Schemas["OpenOut"], faces: Face[]) {
  const queue = queueOf(given.id);
  queue.stand(given.revision);
  change((before) => ({
    ...asGiven(before, given),
    may: given.may,
    owner: given.owner,
    faces,
    tried: null,
    triedFault: null,
    saving: queue.busy,
    collided: queue.held,
    windows: [],
    paragraphs: null,
    stretches: [],
    onRecipe: null,
    begin: null,
    justMade: null,
    onItsWay: null,
    page: 0,
  }));
}

/** The pages that were not drawn yet, unless the document has changed since they were asked for. */
export function completed(given: Schemas["OpenOut"]) {
  const { id, revision } = now();
  if (id !== given.id || revision !== given.revision) return;
  change((before) => {
    const { scene, complete, shown, epoch } = asGiven(before, given);
    return { scene, complete, shown, epoch, tried: null, triedFault: null };
  });
}

/** No document is open. */
export function closed() {
  const { id, document, scene, windows } = NOTHING_OPEN;
  change({
    ...{ id, document, scene, windows },
    tried: null,
    selected: null,
    others: [],
    points: [],
    draft: null,
    tool: HAND,
    collided: null,
    notice: null,
    asks: null,
    askedPart: null,
    onlyShown: false,
  });
}

/** Take in what others changed up to a revision; with changes of one's own on their way it comes with their answer. */
export async function catchUp(revision: number) {
  const { id, told, catching } = now();
  if (id === null) return;
  if (told.id !== id || told.revision < revision) change({ told: { id, revision } });
  if (catching || revision <= now().revision) return;
  change({ catching: true });
  try {
    while (behind()) if (!(await caughtUp())) return;
  } catch {
    return; // it is told again
  } finally {
    change({ catching: false });
  }
}

const behind = () => now().id === now().told.id && now().revision < now().told.revision;

/** Ask once for what is missing; whether it goes on. */
async function caughtUp(): Promise<boolean> {
  const { id, complete, revision, shown } = now();
  if (id === null || !complete) return false; // the pages behind the first are asked for anyway
  const mine = ownQueue();
  if (mine.busy || mine.changes.length) {
    if (mine.held || mine.away) return false; // it comes with the answer to what waits
    await new Promise((on) => setTimeout(on, 50));
    return true;
  }
  const made = (await answer(
    api.GET("/api/documents/{document_id}/since", {
      params: { path: { document_id: id }, query: { revision, window: WINDOW, shown } },
    }),
  )) as Made;
  if (now().id !== id || now().revision !== revision || mine.busy || mine.changes.length) return true;
  if (made.revision <= revision) {
    change({ told: { id, revision } }); // nothing was missed
    return false;
  }
  takeIn(made, false);
  mine.stand(made.revision);
  return true;
}

// ---- what is known of it besides

export function knowPicture(file: string, url: string) {
  change(({ pictures }) => ({ pictures: { ...pictures, [file]: url }, notice: null }));
}

export function knowFaces(faces: Face[]) {
  change({ faces });
}

export function knowLibrary(library: Schemas["RecipeOut"][]) {
  change({ library });
}

/** What one may do with it has changed. */
export function knowMay(may: Schemas["OpenOut"]["may"], owner: string) {
  change({ may, owner });
}

/** The other windows that it is open in. */
export function knowWindows(windows: Other[]) {
  change({ windows });
}
