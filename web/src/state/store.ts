/** The one store: the open document, what is drawn, what is selected, and the two ways to change a document. */
import { create } from "zustand";
import { type Face, type NestScene, type ObjectScene, type Operation, post, Refused, type SceneOut, type Schemas, type ShapeScene } from "../api/client";
import type { OpenDocument, Thing } from "./document";
import { groupAround, leavesOf, thingsOf } from "./document";

export interface Scene {
  pages: Schemas["PageScene"][];
  objects: Record<string, ObjectScene>;
  nests: Record<string, NestScene>;
  shapes: Record<string, ShapeScene>;
}

export interface Notice {
  text: string;
  kind: "said" | "fault";
  action?: { label: string; run: () => void };
}

export type InHand = { kind: "hand" } | { kind: "outline"; outline: Record<string, unknown>; name: string } | { kind: "draw" } | { kind: "points" } | { kind: "within" } | { kind: "copy" } | { kind: "line" } | { kind: "tie" };

/** A knot of an outline that is being drawn, in points of its page. */
export interface DraftKnot {
  at: [number, number];
  before?: [number, number];
  after?: [number, number];
}

/** A line that something caught on while it was moved. */
export interface Caught {
  page: number;
  axis: "x" | "y";
  at: number;
}

interface Change {
  operations: Operation[];
  label: string;
  join: string;
  done: (made: boolean) => void;
}

interface State {
  id: number | null;
  revision: number;
  document: OpenDocument | null;
  undoLabel: string | null;
  redoLabel: string | null;
  scene: Scene | null;
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
  /** Where the page wants it. */
  wanted: { anchor: number; head: number; nonce: number; keep?: "add" | "clear" } | null;
  caught: Caught[];
  snapping: boolean;
  turnStep: number;
  tool: InHand;
  clean: boolean;
  slots: boolean;
  galley: boolean;
  /** Paragraphs selected in the galley, first and last; null for all of the copy. */
  paragraphs: [number, number] | null;
  /** Stretches of the copy chosen in the galley or on the page, in code points; the last is the caret's own. */
  stretches: [number, number][];
  view: { scale: number; x: number; y: number };
  saving: boolean;
  notice: Notice | null;
  overtaken: Operation[] | null;
  /** Grows when the document changed other than by the galley's own typing. */
  epoch: number;
  focusGalley: number;
}

export const useStore = create<State>(() => ({
  id: null,
  revision: 0,
  document: null,
  undoLabel: null,
  redoLabel: null,
  scene: null,
  tried: null,
  triedFault: null,
  pictures: {},
  faces: [],
  selected: null,
  others: [],
  points: [],
  draft: null,
  caret: null,
  wanted: null,
  caught: [],
  snapping: true,
  turnStep: 15,
  tool: { kind: "hand" },
  clean: false,
  slots: true,
  galley: true,
  paragraphs: null,
  stretches: [],
  view: { scale: 1, x: 0, y: 0 },
  saving: false,
  notice: null,
  overtaken: null,
  epoch: 0,
  focusGalley: 0,
}));

const set = useStore.setState;
const get = useStore.getState;

export function say(text: string, kind: Notice["kind"] = "said", action?: Notice["action"]) {
  set({ notice: { text, kind, action } });
}

export function opened(given: Schemas["OpenOut"], faces: Face[]) {
  queue.length = 0;
  set({
    id: given.id,
    revision: given.revision,
    document: given.document as unknown as OpenDocument,
    undoLabel: given.undo,
    redoLabel: given.redo,
    scene: sceneOf(null, given.scene),
    pictures: given.pictures,
    faces,
    tried: null,
    triedFault: null,
    saving: false,
    overtaken: null,
    paragraphs: null,
    stretches: [],
    epoch: get().epoch + 1,
  });
}

/** A scene with what differs put in. */
export function sceneOf(before: Scene | null, change: SceneOut): Scene {
  const shown = new Set(change.pages.flatMap((page) => page.order));
  const nested = new Set(change.nested);
  const objects = keep({ ...before?.objects, ...change.objects }, shown);
  const nests = keep({ ...before?.nests, ...change.nests }, nested);
  const used = new Set(Object.values(nests).map((nest) => nest.shape));
  return { pages: change.pages, objects, nests, shapes: keep({ ...before?.shapes, ...change.shapes }, used) };
}

function keep<T>(all: Record<string, T>, wanted: Set<string>): Record<string, T> {
  return Object.fromEntries(Object.entries(all).filter(([key]) => wanted.has(key)));
}

let shownFor: { scene: Scene | null; tried: SceneOut | null; shown: Scene | null } = { scene: null, tried: null, shown: null };

/** What is drawn now: the scene, or with a preview put in. */
export function shownScene(state: State = get()): Scene | null {
  if (shownFor.scene !== state.scene || shownFor.tried !== state.tried) {
    shownFor = { scene: state.scene, tried: state.tried, shown: state.scene && state.tried ? sceneOf(state.scene, state.tried) : state.scene };
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
  const { selected, others, tool } = get();
  const points = { points: [], tool: tool.kind !== "draw" && tool.kind !== "outline" && tool.kind !== "line" ? ({ kind: "hand" } as const) : tool };
  const ids = !id ? [] : alone ? [id] : together(id);
  if (!adding || !id || !selected) return set({ selected: id, others: ids.slice(1), ...points });
  const all = [selected, ...others];
  const left = all.filter((o) => !ids.includes(o));
  if (all.includes(id)) return set({ selected: left[0] ?? null, others: left.slice(1), ...points });
  set({ selected: id, others: [...ids.slice(1), ...left], ...points });
}

/** Put the caret into the copy on the page, or select a stretch of it. */
export function putCaret(anchor: number, head = anchor, keep?: "add" | "clear") {
  set({ tool: { kind: "copy" }, wanted: { anchor, head, nonce: Math.random(), keep } });
}

export function selectAll(ids: string[]) {
  set({ selected: ids[0] ?? null, others: ids.slice(1), points: [], tool: { kind: "hand" } });
}

export function selectedThing(state: State = get()): Thing | null {
  return (state.selected && state.document && thingsOf(state.document).find((t) => t.id === state.selected)) || null;
}

// ---- edits: stored, one at a time, in order

const queue: Change[] = [];
let busy = false;

/** Make a change. Resolves to whether it was made; a refusal is said to the user. */
export function edit(operations: Operation[], label: string, join = ""): Promise<boolean> {
  return new Promise((done) => {
    queue.push({ operations, label, join, done });
    void work();
  });
}

async function work() {
  if (busy) return;
  busy = true;
  set({ saving: true });
  while (queue.length) {
    const { operations, label, join, done } = queue[0];
    const { id, revision } = get();
    try {
      const made = await post<Schemas["EditOut"]>(`/api/documents/${id}/edits`, { base: revision, operations, label, join });
      if (get().id === id) takeIn(made, join.startsWith("typing:"));
      queue.shift();
      done(true);
    } catch (error) {
      queue.shift();
      fail(error, operations);
      done(false);
    }
  }
  busy = false;
  set({ saving: false });
}

function takeIn(made: Schemas["EditOut"], typing: boolean) {
  const before = get();
  const { gone, ...parts } = made.document as { gone: string[] } & Record<string, unknown>;
  const document = { ...before.document, ...parts } as OpenDocument & Record<string, unknown>;
  for (const name of gone ?? []) delete document[name];
  const scene = sceneOf(before.scene, made.scene);
  const selected = before.selected && scene.objects[before.selected] ? before.selected : null;
  set({
    revision: made.revision,
    undoLabel: made.undo,
    redoLabel: made.redo,
    document,
    scene,
    pictures: { ...before.pictures, ...made.pictures },
    tried: null,
    triedFault: null,
    selected,
    others: selected ? before.others.filter((id) => scene.objects[id]) : [],
    ...(selected ? {} : { points: [] }),
    epoch: typing ? before.epoch : before.epoch + 1,
  });
}

function fail(error: unknown, operations: Operation[]) {
  set({ tried: null, triedFault: null, epoch: get().epoch + 1 });
  if (error instanceof Refused && error.status === 409) set({ overtaken: operations });
  else say(error instanceof Error ? error.message : String(error), "fault");
}

async function step(which: "undo" | "redo") {
  const { id, revision, undoLabel, redoLabel } = get();
  if (busy || !(which === "undo" ? undoLabel : redoLabel)) return;
  busy = true;
  set({ saving: true });
  try {
    takeIn(await post<Schemas["EditOut"]>(`/api/documents/${id}/${which}`, { base: revision }), false);
  } catch (error) {
    fail(error, []);
  }
  busy = false;
  set({ saving: false });
  void work();
}

export const undo = () => step("undo");
export const redo = () => step("redo");

// ---- previews: not stored, the newest wins, one in flight

let wanted: Operation[] | null = null;
let asking = false;
let turn = 0;

/** Times of the last previews in ms, from asking to having the nest: read by the speed measurement. */
export const previewTimes: number[] = [];

/** Show what a change would look like. */
export function tryOut(operations: Operation[]) {
  wanted = operations;
  void ask();
}

/** Stop showing it. */
export function stopTrying() {
  wanted = null;
  turn++;
  if (get().tried || get().triedFault) set({ tried: null, triedFault: null });
}

/** Make the change that was tried; what was shown stays until it is stored. */
export async function keepTried(operations: Operation[], label: string, join = ""): Promise<boolean> {
  wanted = null;
  turn++;
  return edit(operations, label, join);
}

async function ask() {
  if (asking) return;
  asking = true;
  while (wanted) {
    const operations = wanted;
    wanted = null;
    const mine = turn;
    const { id, revision } = get();
    const began = performance.now();
    try {
      const tried = await post<SceneOut>(`/api/documents/${id}/preview`, { base: revision, operations });
      if (mine === turn && get().revision === revision) set({ tried, triedFault: null });
      previewTimes.push(performance.now() - began);
    } catch (error) {
      if (mine !== turn) continue;
      if (error instanceof Refused && error.status === 400) set({ triedFault: error.message });
      else fail(error, operations);
    }
  }
  asking = false;
}

(window as unknown as { nestLine: unknown }).nestLine = { previewTimes, store: useStore };
