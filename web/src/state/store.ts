/** The one store: the open document, what is drawn, what is selected, and the two ways to change a document. */
import { create } from "zustand";
import {
  act,
  answer,
  api,
  type Face,
  type ObjectScene,
  type Operation,
  type Plain,
  post,
  Refused,
  type SceneOut,
  type Schemas,
} from "../api/client";
import type { OpenDocument, Outline, Thing } from "./document";
import type { Caught, DraftKnot, Scene, Why } from "./seen";
import { knowUnit } from "./units";
import { type Change, type Held, Queue, type Made, unreached } from "./queue";
import { WINDOW } from "./window";
import { changed, patchedShape } from "./taking";
import { pagesSeen } from "./geometry";
import { groupAround, knowLabels, leavesOf, thingsOf } from "./document";

export interface Notice {
  text: string;
  kind: "said" | "fault";
  action?: { label: string; run: () => void };
}

export type InHand =
  | { kind: "hand" }
  | { kind: "outline"; outline: Outline; name: string }
  | { kind: "draw"; contour?: string }
  | { kind: "points"; of?: "contour" }
  | { kind: "subject"; what: "box" | "keep" | "drop" }
  | { kind: "within" }
  | { kind: "copy" }
  | { kind: "line" }
  | { kind: "tie" }
  | { kind: "pivot" }
  | { kind: "why" };

/** Another window of the document, and where it is. */
export interface Other {
  window: string;
  who: string;
  page: number;
  chosen: string[];
  seen: number;
}

interface State {
  id: number | null;
  revision: number;
  document: OpenDocument | null;
  undoLabel: string | null;
  redoLabel: string | null;
  scene: Scene | null;
  /** Whether the scene has every page; a large document begins with its first. */
  complete: boolean;
  /** What the server calls what this window shows, of a large document. */
  shown: string;
  /** What a preview shows instead; null when nothing is being tried. */
  tried: SceneOut | null;
  triedFault: string | null;
  pictures: Record<string, string>;
  faces: Face[];
  selected: string | null;
  /** What is selected besides. */
  others: string[];
  /** Points chosen while an outline's points are edited: contour and place. */
  points: [number, number][];
  /** The outline being drawn freely. */
  draft: { page: number; knots: DraftKnot[] } | null;
  /** Where the caret is in a frame's copy, in code points; null while nothing is written. */
  caret: { frame: string; anchor: number; head: number } | null;
  /** What whoever is signed in may do with the open document, and whose it is. */
  may: Schemas["OpenOut"]["may"];
  owner: string;
  /** Where the page wants it. */
  wanted: { anchor: number; head: number; nonce: number; keep?: "add" | "clear"; text?: string } | null;
  caught: Caught[];
  /** Why what is pointed at stands there. */
  why: Why | null;
  snapping: boolean;
  turnStep: number;
  tool: InHand;
  clean: boolean;
  slots: boolean;
  galley: boolean;
  tally: boolean;
  /** Paragraphs selected in the galley, first and last; null for all of the copy. */
  paragraphs: [number, number] | null;
  /** Stretches of the copy chosen in the galley or on the page, in code points; the last is the caret's own. */
  stretches: [number, number][];
  /** Recipes of every document. */
  library: Schemas["RecipeOut"][];
  /** The recipe that changes in the sentence go to, instead of the frame. */
  onRecipe: string | null;
  /** The page that the sentence speaks of while nothing is selected, and that new pictures come to. */
  page: number;
  /** Whether the sentence says rules too that say nothing special. */
  everyRule: boolean;
  /** Whether how copy looks is changed in the version shown alone. */
  onlyShown: boolean;
  view: { scale: number; x: number; y: number };
  saving: boolean;
  /** Since when the server does not answer (ms), how many changes wait for it, and whether that is because of a session that ended. */
  away: { since: number; waiting: number; out: boolean } | null;
  notice: Notice | null;
  /** Whether the strip of small pages is shown. */
  strip: boolean;
  /** Whether handles, slots and tags are out of the way, while a figure is changed. */
  quiet: boolean;
  /** What lies over the whole screen: "do …", the list of keys, the words, the measuring of the screen. */
  asks: "do" | "keys" | "words" | "screen" | "out" | "home" | "strained" | "share" | null;
  /** What collides with another window's change, until a side is chosen. */
  collided: Held | null;
  /** The other windows that the document is open in. */
  windows: Other[];
  /** Grows when the document changed other than by the galley's own typing. */
  epoch: number;
  /** The caret is wanted in the copy of what is selected, with what was typed already. */
  begin: { text: string } | null;
  /** The outline just made: typing begins its copy, until the next press or Esc. */
  justMade: string | null;
  /** An outline that was drawn and is not stored yet, and what was typed since: it goes into its copy. */
  onItsWay: { id: string; text: string } | null;
}

/** Windows narrower than this, in CSS px, have a panel folded until it is opened. */
const NARROW = { galley: 920, tally: 720 } as const;

function opensWith(panel: "galley" | "tally"): boolean {
  return window.innerWidth >= NARROW[panel] && localStorage.getItem(`${panel}-folded`) !== "yes";
}

export const useStore = create<State>(() => ({
  id: null,
  revision: 0,
  document: null,
  undoLabel: null,
  redoLabel: null,
  scene: null,
  complete: true,
  shown: "",
  tried: null,
  triedFault: null,
  pictures: {},
  faces: [],
  selected: null,
  others: [],
  points: [],
  draft: null,
  caret: null,
  may: "own",
  owner: "",
  wanted: null,
  caught: [],
  why: null,
  snapping: true,
  turnStep: 15,
  tool: { kind: "hand" },
  clean: false,
  slots: true,
  galley: opensWith("galley"),
  tally: opensWith("tally"),
  paragraphs: null,
  stretches: [],
  library: [],
  onRecipe: null,
  page: 0,
  everyRule: localStorage.getItem("every-rule") === "yes",
  onlyShown: false,
  view: { scale: 1, x: 0, y: 0 },
  saving: false,
  away: null,
  notice: null,
  strip: false,
  quiet: false,
  asks: null,
  collided: null,
  windows: [],
  epoch: 0,
  begin: null,
  justMade: null,
  onItsWay: null,
}));

/** Say every rule in the sentence, or only those that say something. */
export function sayEveryRule(everyRule: boolean) {
  localStorage.setItem("every-rule", everyRule ? "yes" : "no");
  useStore.setState({ everyRule });
}

const set = useStore.setState;
const get = useStore.getState;

/** Fold a panel, or open it; that is remembered. */
export function fold(panel: "galley" | "tally", open = !get()[panel]) {
  localStorage.setItem(`${panel}-folded`, open ? "no" : "yes");
  set({ [panel]: open });
}

let width = window.innerWidth;
addEventListener("resize", () => {
  for (const panel of ["galley", "tally"] as const)
    if (width < NARROW[panel] !== window.innerWidth < NARROW[panel]) set({ [panel]: opensWith(panel) });
  width = window.innerWidth;
});

export function say(text: string, kind: Notice["kind"] = "said", action?: Notice["action"]) {
  set({ notice: { text, kind, action } });
}

export function opened(given: Schemas["OpenOut"], faces: Face[]) {
  queueOf(given.id).stand(given.revision);
  set({
    id: given.id,
    revision: given.revision,
    document: given.document as unknown as OpenDocument,
    undoLabel: given.undo,
    redoLabel: given.redo,
    scene: sceneOf(null, given.scene),
    complete: given.complete,
    shown: given.shown,
    pictures: given.pictures,
    may: given.may,
    owner: given.owner,
    faces,
    tried: null,
    triedFault: null,
    saving: queueOf(given.id).busy,
    collided: queueOf(given.id).held,
    windows: [],
    paragraphs: null,
    stretches: [],
    onRecipe: null,
    begin: null,
    justMade: null,
    onItsWay: null,
    page: 0,
    epoch: get().epoch + 1,
  });
}

/** The pages that were not drawn yet, unless the document has changed since they were asked for. */
export function completed(given: Schemas["OpenOut"]) {
  const { id, revision } = get();
  if (id !== given.id || revision !== given.revision) return;
  set({
    scene: sceneOf(null, given.scene),
    complete: given.complete,
    shown: given.shown,
    tried: null,
    triedFault: null,
    epoch: get().epoch + 1,
  });
}

/** A scene with what differs put in. */
export function sceneOf(before: Scene | null, change: SceneOut): Scene {
  // Pages that are as they were are left out.
  const pages = change.pages.map((page, index) => page ?? before!.pages[index]);
  const shown = new Set(pages.flatMap((page) => page.order));
  const nested = new Set(change.nested);
  const objects = keep({ ...before?.objects, ...change.objects }, shown);
  const nests = keep({ ...before?.nests, ...change.nests }, nested);
  const used = new Set(Object.values(nests).map((nest) => nest.shape));
  const labels = keep({ ...before?.labels, ...change.labels }, shown);
  const shapes = { ...before?.shapes, ...change.shapes };
  for (const [key, patch] of Object.entries(change.patches)) shapes[key] ??= patchedShape(shapes[patch.of], patch);
  return {
    pages,
    objects,
    labels,
    nests,
    shapes: keep(shapes, used),
    nowhere: change.nowhere,
    anchors: change.anchors,
  };
}

function keep<T>(all: Record<string, T>, wanted: Set<string>): Record<string, T> {
  return Object.fromEntries(Object.entries(all).filter(([key]) => wanted.has(key)));
}

let shownFor: { scene: Scene | null; tried: SceneOut | null; shown: Scene | null } = {
  scene: null,
  tried: null,
  shown: null,
};

/** What is drawn now: the scene, or with a preview put in. */
export function shownScene(state: State = get()): Scene | null {
  if (shownFor.scene !== state.scene || shownFor.tried !== state.tried) {
    shownFor = {
      scene: state.scene,
      tried: state.tried,
      shown: state.scene && state.tried ? sceneOf(state.scene, state.tried) : state.scene,
    };
  }
  return shownFor.shown;
}

/** Everything that is selected, the one spoken of first. */
export function selection(state: State = get()): string[] {
  return state.selected ? [state.selected, ...state.others] : [];
}

/** What goes with an object when it is chosen: all of its group, unless one object of that is chosen alone already. */
function together(id: string): string[] {
  const { document, selected, others } = get();
  const group = document && groupAround(document, id);
  if (!group) return [id];
  const leaves = leavesOf(group).map((leaf) => leaf.id);
  if (selected && !others.length && leaves.length > 1 && leaves.includes(selected)) return [id];
  return [id, ...leaves.filter((leaf) => leaf !== id)];
}

/** Select one thing with its group, or nothing; `adding` keeps what is selected and takes out what was. */
export function select(id: string | null, adding = false, alone = false) {
  if (get().justMade) set({ justMade: null });
  const { selected, others, tool, complete, scene } = get();
  if (id && !complete && !scene?.objects[id]) return; // its page is not there yet
  const points = {
    points: [],
    tool: tool.kind !== "draw" && tool.kind !== "outline" && tool.kind !== "line" ? ({ kind: "hand" } as const) : tool,
  };
  const ids = !id ? [] : alone ? [id] : together(id);
  const on = id ? get().scene?.objects[id]?.page : undefined;
  if (on !== undefined) set({ page: on });
  if (!adding || !id || !selected) return set({ selected: id, others: ids.slice(1), ...points });
  const all = [selected, ...others];
  const left = all.filter((o) => !ids.includes(o));
  if (all.includes(id)) return set({ selected: left[0] ?? null, others: left.slice(1), ...points });
  set({ selected: id, others: [...ids.slice(1), ...left], ...points });
}

/** Begin the copy of what is selected, or go on with it at its end, with what was typed already. */
export function beginCopy(text = "") {
  const { begin } = get();
  set({ galley: true, justMade: null, begin: { text: (begin?.text ?? "") + text } });
}

/** How long an outline that was drawn is waited for, in ms. */
const AT_MOST = 60_000;

/** An outline was drawn: as soon as it is there it is chosen, and what was typed meanwhile becomes its copy. */
export function comes(id: string) {
  set({ onItsWay: { id, text: "" } });
  const stop = useStore.subscribe((state) => {
    if (!state.scene?.objects[id]) return;
    stop();
    clearTimeout(late);
    const way = state.onItsWay;
    if (way && way.id !== id) return; // another was drawn since
    set({ selected: id, others: [], justMade: way && id, onItsWay: null });
    if (way?.text) beginCopy(way.text);
  });
  const late = setTimeout(() => {
    stop();
    const way = get().onItsWay;
    if (way?.id !== id) return;
    set({ onItsWay: null });
    if (way.text) say(`The outline could not be made, and “${way.text}” has no place. Draw it again.`, "fault");
  }, AT_MOST);
}

let caretLeft = 0;
let stood: { caret: State["caret"]; at: number } = { caret: null, at: 0 };

/** Where the caret stood before a dialog took the keys: for what is brought to it. */
export function lastCaret(): State["caret"] {
  return Date.now() - stood.at < 120_000 && stood.caret?.frame === get().selected && get().tool.kind !== "hand"
    ? stood.caret
    : null;
}

/** The caret has gone: what is typed within a second is not taken for a shortcut, unless it was left on purpose. */
export function caretGone(onPurpose = false) {
  caretLeft = onPurpose ? 0 : Date.now();
}

export function caretStoodJustNow(): boolean {
  return get().caret !== null || Date.now() - caretLeft < 1000;
}

/** What is typed where the keys have left the copy by themselves goes on in it, where its caret stood. */
export function typeOn(text: string): boolean {
  const { caret, selected } = get();
  const at = caret ?? (Date.now() - caretLeft < 1000 ? stood.caret : null);
  if (!at || at.frame !== selected) return false;
  // Letters that the copy has not taken yet go before this one.
  const before = get().wanted;
  const { anchor, head } = before?.text ? before : at;
  set({ wanted: { anchor, head, nonce: Math.random(), text: (before?.text ?? "") + text } });
  return true;
}

/** Put the caret into the copy on the page, or select a stretch of it. */
export function putCaret(anchor: number, head = anchor, keep?: "add" | "clear") {
  set({ tool: { kind: "copy" }, wanted: { anchor, head, nonce: Math.random(), keep } });
}

export function selectAll(ids: string[]) {
  set({ selected: ids[0] ?? null, others: ids.slice(1), points: [], tool: { kind: "hand" }, justMade: null });
}

/** What is selected, with the rules that it takes from its recipe. */
export function selectedThing(state: State = get()): Thing | null {
  const thing = state.selected && state.document && thingsOf(state.document).find((t) => t.id === state.selected);
  return thing ? ruled(thing, state) : null;
}

const withRules = new WeakMap<Thing, { follows: ObjectScene["follows"]; thing: Thing }>();

/** An object with the rules that it takes from its recipe. */
export function ruled(thing: Thing, state: State = get()): Thing {
  const follows = state.scene?.objects[thing.id]?.follows;
  if (!follows) return thing;
  let known = withRules.get(thing);
  if (known?.follows !== follows) {
    const { frame, ...own } = follows.rules as { frame: object } & Partial<Thing>;
    known = { follows, thing: { ...own, ...thing, ...(thing.frame ? { frame: { ...frame, ...thing.frame } } : {}) } };
    withRules.set(thing, known);
  }
  return known.thing;
}

/** Changes as they are meant: of all that is chosen, of the recipe that is spoken of. What each gets, the core knows. */
function meant(operations: Operation[]): Operation[] {
  const { onRecipe, selected, document } = get();
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

// ---- edits: stored, one at a time, in order; steps back and forward stand in the same queue

const queues = new Map<number, Queue>();

/** The queue of changes of a document. */
export function queueOf(doc: number): Queue {
  let queue = queues.get(doc);
  if (!queue) queues.set(doc, (queue = new Queue(doc, hooks)));
  return queue;
}

/** The queue of the open document. */
function queue(): Queue {
  return queueOf(get().id!);
}

const hooks = {
  shows: (one: Queue) => (get().id === one.doc ? shows() : {}),
  changed() {
    const { id, away } = get();
    const mine = id === null ? null : queueOf(id);
    const waiting = [...queues.values()].reduce((sum, one) => sum + (one.away ? one.changes.length : 0), 0);
    const cut = [...queues.values()].map((one) => one.away).find(Boolean);
    set({
      // Until all that waited is stored it counts down.
      away: cut
        ? { since: away?.since ?? cut.since, waiting, out: cut.out }
        : away && mine?.changes.length
          ? { ...away, waiting: mine.changes.length, out: false }
          : null,
      saving: mine?.busy ?? false,
      collided: mine?.held ?? null,
    });
    if (away && !cut && !mine?.changes.length) say("The server answers again: everything is stored.");
    if (!mine?.busy) void ask();
  },
  takeIn(one: Queue, made: Made, typing: boolean) {
    if (get().id === one.doc) takeIn(made, typing);
  },
  readAgain(one: Queue) {
    if (get().id === one.doc) void readAgain();
    say("What waited from before is stored.");
  },
  steps(one: Queue, made: Made) {
    if (get().id === one.doc) set({ undoLabel: made.undo, redoLabel: made.redo });
  },
  may(one: Queue, kind: "undo" | "redo") {
    const { id, undoLabel, redoLabel } = get();
    return id !== one.doc || (kind === "undo" ? undoLabel : redoLabel) !== null;
  },
  refused(one: Queue, error: unknown, change: Change) {
    if (get().id === one.doc) set({ tried: null, triedFault: null, epoch: get().epoch + 1 });
    if (!one.changes.length) set({ away: null }); // nothing waits, but this is not stored
    const words = change.join.startsWith("typing:") ? textIn(change.operations).trim() : "";
    const keep = words && { label: "Copy what was typed", run: () => void navigator.clipboard.writeText(words) };
    say(error instanceof Error ? error.message : String(error), "fault", keep || undefined);
    if (error instanceof Refused && error.status === 409 && get().id === one.doc) void readAgain();
  },
};

/** The text that stands in a value anywhere: in runs that are put into a copy. */
function textIn(value: unknown): string {
  if (Array.isArray(value)) return value.map(textIn).join("");
  if (!value || typeof value !== "object") return "";
  return Object.entries(value)
    .map(([key, part]) => (key === "text" && typeof part === "string" ? part : textIn(part)))
    .join("");
}

/** Whether the open document may be changed by who is signed in; where it may not, that is said. */
export function mayChange(): boolean {
  const { may, owner } = get();
  if (may !== "see") return true;
  say(`This is ${owner}’s document, and yours to see. A duplicate is yours to change.`, "said", {
    label: "Duplicate it",
    run: () => void duplicateOpen(),
  });
  return false;
}

/** Make a duplicate of the open document, one's own, and open it. */
export async function duplicateOpen() {
  const id = get().id;
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

/** Make a change. Resolves to whether it was made; a refusal is said to the user. */
export function edit(operations: Operation[], label: string, join = ""): Promise<boolean> {
  // What was tried until now is over.
  turn++;
  return keepTried(operations, label, join);
}

/** A change that typing makes: one that waits still can be made another (`Queue.amend`). */
export function type(operations: Operation[], label: string, join: string): Change {
  turn++;
  wanted = null;
  trying = false;
  return queue().add({ kind: "edit", operations, label, join, done: () => undefined });
}

/** Whether words that were typed are on their way: then the galley knows more than what is stored. */
export function typingWaits(): boolean {
  const { id } = get();
  return id !== null && queueOf(id).changes.some((change) => change.join.startsWith("typing:"));
}

/** Read the document again as it is stored. */
export async function readAgain() {
  const { id } = get();
  const given = (await answer(
    api.GET("/api/documents/{document_id}", { params: { path: { document_id: id! }, query: { window: WINDOW } } }),
  )) as Schemas["OpenOut"];
  if (get().id !== id || given.revision < get().revision) return;
  const document = given.document as unknown as OpenDocument;
  queueOf(id!).stand(given.revision);
  set({
    revision: given.revision,
    document,
    undoLabel: given.undo,
    redoLabel: given.redo,
    scene: sceneOf(null, given.scene),
    complete: given.complete,
    shown: given.shown,
    pictures: given.pictures,
    tried: null,
    epoch: get().epoch + 1,
  });
}

let catching = false;
/** The newest revision that this window was told of. */
let told = { id: 0, revision: 0 };

/** Take in what others changed up to a revision; with changes of one's own on their way it comes with their answer. */
export async function catchUp(revision: number) {
  const { id } = get();
  if (id === null) return;
  if (told.id !== id || told.revision < revision) told = { id, revision };
  if (catching || revision <= get().revision) return;
  catching = true;
  try {
    while (get().id === told.id && get().revision < told.revision) {
      const { id, complete } = get();
      if (id === null || !complete) return; // the pages behind the first are asked for anyway
      const mine = queue();
      if (mine.busy || mine.changes.length) {
        if (mine.held || mine.away) return; // it comes with the answer to what waits
        await new Promise((on) => setTimeout(on, 50));
        continue;
      }
      const stood = get().revision;
      const made = (await answer(
        api.GET("/api/documents/{document_id}/since", {
          params: { path: { document_id: id }, query: { revision: stood, window: WINDOW, shown: get().shown } },
        }),
      )) as Made;
      if (get().id !== id || get().revision !== stood || mine.busy || mine.changes.length) continue;
      if (made.revision <= stood) {
        told = { id, revision: stood }; // nothing was missed
        return;
      }
      takeIn(made, false);
      mine.stand(made.revision);
    }
  } catch {
    return; // it is told again
  } finally {
    catching = false;
  }
}

addEventListener("beforeunload", (event) => get().away && event.preventDefault());
addEventListener("online", () => queues.forEach((one) => one.now()));

/** Signed in again: what waits goes on its way. */
export function signedIn() {
  queues.forEach((one) => one.now());
}

function takeIn(made: Schemas["EditOut"], typing: boolean) {
  const before = get();
  const { gone, ...parts } = made.document as { gone: string[] } & Record<string, unknown>;
  const whole = { ...before.document, ...parts } as OpenDocument & Record<string, unknown>;
  const document = (made.operations ? changed(whole, made.operations as unknown as Plain[]) : whole) as OpenDocument &
    Record<string, unknown>;
  for (const name of gone ?? []) delete document[name];
  const scene = sceneOf(before.scene, made.scene);
  const selected = before.selected && scene.objects[before.selected] ? before.selected : null;
  set({
    revision: made.revision,
    undoLabel: made.undo,
    redoLabel: made.redo,
    document,
    scene,
    shown: made.shown,
    pictures: { ...before.pictures, ...made.pictures },
    // What is being tried meanwhile is shown on.
    tried: trying ? before.tried : null,
    triedFault: null,
    selected,
    others: selected ? before.others.filter((id) => scene.objects[id]) : [],
    ...(selected ? {} : { points: [] }),
    page: Math.min(before.page, scene.pages.length - 1),
    onRecipe: before.onRecipe && document.recipes?.[before.onRecipe] ? before.onRecipe : null,
    epoch: typing ? before.epoch : before.epoch + 1,
  });
  if (!made.complete) askRest();
}

/** Ms without a change after which the pages that are not seen are asked for. */
const REST = 500;
let resting = 0;

/** A change of a long copy is shown first where it is seen: the rest follows as soon as nothing more comes. */
function askRest() {
  clearTimeout(resting);
  resting = setTimeout(async () => {
    const { id, shown } = get();
    if (id === null) return;
    if (queue().busy) return askRest();
    try {
      const rest = await answer(
        api.GET("/api/documents/{document_id}/rest", { params: { path: { document_id: id }, query: { shown } } }),
      );
      const now = get();
      if (now.id !== id || now.shown !== shown || now.revision !== rest.revision) return; // another answer has come, and asks again
      set({ scene: sceneOf(now.scene, rest.scene as SceneOut), shown: rest.shown });
    } catch {
      if (get().id === id) askRest();
    }
  }, REST);
}

/** What goes with a change of a large document: what this window shows, so that the answer is what differs from that. */
function shows() {
  const { shown, scene, view } = get();
  return shown && scene ? { shown, seen: pagesSeen(scene, view) } : {};
}

function step(kind: "undo" | "redo"): Promise<boolean> {
  if (!mayChange()) return Promise.resolve(false);
  if (get().collided) return Promise.resolve(false); // first it is chosen what holds
  return new Promise((done) => void queue().add({ kind, operations: [], label: "", join: "", done }));
}

export const undo = () => step("undo");
export const redo = () => step("redo");

// ---- previews: not stored, the newest wins, one in flight

let wanted: { operations: Operation[]; caught: Caught[] } | null = null;
let asking = false;
let turn = 0;
/** Whether what is shown is being tried now, not what was kept and is on its way. */
let trying = false;

/** How many previews this window has asked for: of two that wait in the server only the later is worked out. */
let asked = Date.now();

/** Times of the last previews in ms, from asking to having the nest: read by the speed measurement. */
export const previewTimes: number[] = [];

/** Show what a change would look like, with the lines that it caught on, which are drawn once it is there. */
export function tryOut(operations: Operation[], caught: Caught[] = NOTHING) {
  if (get().may === "see") return;
  wanted = { operations: meant(operations), caught };
  trying = true;
  void ask();
}

const NOTHING: Caught[] = [];

/** Draw the lines that something caught on. */
export function showCaught(caught: Caught[]) {
  if (caught.length || get().caught.length) set({ caught });
}

/** Stop showing it. */
export function stopTrying() {
  wanted = null;
  trying = false;
  turn++;
  if (get().tried || get().triedFault) set({ tried: null, triedFault: null });
}

/** Make the change that was tried; what was shown, or is on its way to be, stays until it is stored. */
export function keepTried(operations: Operation[], label: string, join = ""): Promise<boolean> {
  if (!mayChange()) return Promise.resolve(false);
  wanted = null;
  trying = false;
  return new Promise((done) => void queue().add({ kind: "edit", operations: meant(operations), label, join, done }));
}

/** What is tried stands on what is stored and on the changes that are on their way: so that a hand need not wait for them. */
async function ask() {
  if (asking) return;
  asking = true;
  while (wanted && get().id !== null) {
    const mine = queue();
    if (mine.changes.some((change) => change.kind !== "edit")) break; // it is asked again when the step is made
    const { operations, caught } = wanted;
    const thisTurn = turn;
    const { id, revision } = get();
    const waiting = [...mine.on, ...mine.changes.flatMap((change) => change.operations)];
    wanted = null;
    const began = performance.now();
    try {
      const tried = await post<SceneOut>(`/api/documents/${id}/preview`, {
        base: revision,
        operations: [...waiting, ...operations],
        window: WINDOW,
        number: ++asked,
      });
      if (thisTurn === turn) {
        // What was kept meanwhile is shown until it is stored, and no longer: nobody would take it away.
        const stands = get().revision === revision;
        if (trying ? stands || mine.busy : stands && mine.busy)
          set({ tried, triedFault: null, caught: trying ? caught : NOTHING });
        else if (trying) wanted ??= { operations, caught }; // it stands on what was; what is tried still is asked for anew
      }
      previewTimes.push(performance.now() - began);
    } catch (error) {
      if (thisTurn !== turn) continue;
      if (error instanceof Refused && error.status === 409) {
        // A change came in between: one of this window's own, maybe the very one that was tried, or another's.
        if (trying) wanted ??= { operations, caught };
        if (mine.busy) break;
        if (get().revision === revision) await catchUp(revision + 1);
        if (get().revision === revision) break;
      } else if (error instanceof Refused && error.status === 400) set({ triedFault: error.message });
      else {
        if (!unreached(error) || !get().away) say(error instanceof Error ? error.message : String(error), "fault");
        break;
      }
    }
  }
  asking = false;
}

useStore.subscribe((state, before) => {
  if (before.caret && !state.caret) stood = { caret: before.caret, at: Date.now() };
  if (state.scene !== before.scene) knowLabels(state.scene?.labels ?? {});
  if (state.document !== before.document) knowUnit(state.document?.unit ?? "mm");
});

(window as unknown as { nestLine: unknown }).nestLine = { previewTimes, store: useStore };
