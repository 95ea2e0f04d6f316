/** Words on their way: what is typed into a copy waits in the document's queue at once, whichever galley shows it. An
 * outline that holds no copy yet is given it by its first words; what is typed behind them waits behind them. */
import type { Node as ProseNode } from "@tiptap/pm/model";
import { act, type Operation } from "../api/client";
import { fresh, type OpenDocument, type Paragraph, type Thing, thingsOf } from "../state/document";
import type { Change } from "../state/queue";
import { queueOf, type } from "../state/sending";
import { useStore } from "../state/store";
import { difference, paragraphsIn } from "./paragraphs";

interface Writing {
  /** The last change, unless all is stored. */
  change: Change | null;
  /** What the copy reads when that change is made. */
  words: Paragraph[];
  /** What stood there before it, for words that are typed while it has not gone. */
  before: Paragraph[];
  /** What the change is as long as it is not known how new copy looks. */
  whole: ((words: Paragraph[]) => Operation[]) | null;
}

const writings = new Map<string, Writing>();

/** The words of an object's copy that are on their way. They are found by the copy's name, before it has one by the
 * object. */
function writingOf(thing: Thing, version: string): Writing {
  const { id, document } = useStore.getState();
  const copy = copyOf(document, thing);
  const [byCopy, byThing] = [`${id} copy ${copy} ${version}`, `${id} in ${thing.id} ${version}`];
  let found = (copy && writings.get(byCopy)) || writings.get(byThing);
  if (found?.change?.over) found = undefined; // all is stored, or was refused
  writings.delete(byThing);
  found ??= { change: null, words: [], before: [], whole: null };
  writings.set(copy ? byCopy : byThing, found);
  return found;
}

function copyOf(document: OpenDocument | null, thing: Thing): string | null {
  return (document && thingsOf(document).find((t) => t.id === thing.id)?.frame?.copy) ?? null;
}

function storedIn(thing: Thing, version: string): Paragraph[] {
  const { document } = useStore.getState();
  const copy = copyOf(document, thing);
  return (copy && document!.copies[copy]?.versions[version]?.paragraphs) || [];
}

/** What an object's copy reads: the words that are on their way, else those that are stored. */
export function wordsOf(thing: Thing, version: string): Paragraph[] {
  const { change, words } = writingOf(thing, version);
  return change ? words : storedIn(thing, version);
}

/** Every keystroke is a change that waits to be stored; while one is on its way the next ones gather into one. */
export function write(thing: Thing, version: string, doc: ProseNode) {
  const { id, document } = useStore.getState();
  const copy = copyOf(document, thing);
  const queue = queueOf(id!);
  const work = writingOf(thing, version);
  const stored = storedIn(thing, version);
  const words = paragraphsIn(doc, stored);
  const waits = work.change !== null && queue.waits(work.change);
  if (!copy || (waits && work.whole)) {
    if (!work.change) {
      if (!words.some((paragraph) => paragraph.runs?.length)) return;
      work.whole = giving(thing, version);
    } else if (!waits) work.whole = (paragraphs) => act("write", { object: thing.id, version, paragraphs });
    if (waits) queue.amend(work.change!, work.whole!(words));
    else {
      const name = fresh(Object.keys(document!.copies), "Copy ");
      work.change = type(work.whole!(words), work.change ? "Type" : "Give copy", `typing:${name}`);
    }
    work.words = words;
    return;
  }
  // What the next words are typed behind: what was sent and is not taken in as yet, else what is stored.
  if (!waits) work.before = work.change ? work.words : stored;
  const operation = difference(copy, version, work.before, words);
  work.words = words;
  if (!operation) return;
  work.whole = null;
  if (waits) queue.amend(work.change!, [operation]);
  else work.change = type([operation], "Type", `typing:${copy}`);
}

/** What gives an object its first copy. */
function giving(thing: Thing, version: string): (words: Paragraph[]) => Operation[] {
  const begins = useStore.getState().library.find((recipe) => recipe.for_new_frames);
  const follow = begins
    ? act("follow", { objects: [thing.id], recipe: begins.name, rules: begins.rules, version })
    : [];
  return (paragraphs) => [...act("give-copy", { object: thing.id, version, paragraphs }), ...follow];
}
