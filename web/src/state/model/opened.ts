/** The open document and what is drawn of it. Pure: what this part of the state is, and how it goes on. */
import type { Face, Plain, SceneOut, Schemas } from "../../api/client";
import type { OpenDocument } from "../document";
import type { Scene } from "../seen";
import { changed, patchedShape } from "../taking";

/** Another window of the document, and where it is. */
export interface Other {
  window: string;
  who: string;
  page: number;
  chosen: string[];
  seen: number;
}

export interface Opened {
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
  pictures: Record<string, string>;
  faces: Face[];
  /** Recipes of every document. */
  library: Schemas["RecipeOut"][];
  /** What whoever is signed in may do with the open document, and whose it is. */
  may: Schemas["OpenOut"]["may"];
  owner: string;
  /** The other windows that the document is open in. */
  windows: Other[];
  /** Grows when the document changed other than by the galley's own typing. */
  epoch: number;
}

export const NOTHING_OPEN: Opened = {
  id: null,
  revision: 0,
  document: null,
  undoLabel: null,
  redoLabel: null,
  scene: null,
  complete: true,
  shown: "",
  pictures: {},
  faces: [],
  library: [],
  may: "own",
  owner: "",
  windows: [],
  epoch: 0,
};

/** A scene with what differs put in; pages lie as they lay. */
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
    laid: before?.laid ?? "under",
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

/** A document as the server gives it whole, drawn as its pages lay before. */
export function asGiven(before: Opened, given: Schemas["OpenOut"]) {
  const scene = sceneOf(null, given.scene);
  return {
    id: given.id,
    revision: given.revision,
    document: given.document as unknown as OpenDocument,
    undoLabel: given.undo,
    redoLabel: given.redo,
    scene: before.id === given.id && before.scene ? { ...scene, laid: before.scene.laid } : scene,
    complete: given.complete,
    shown: given.shown,
    pictures: given.pictures,
    epoch: before.epoch + 1,
  };
}

/** The document and its scene after a change that was stored. */
export function changedBy(before: Opened, made: Schemas["EditOut"], typing: boolean) {
  const { gone, ...parts } = made.document as { gone: string[] } & Record<string, unknown>;
  const whole = { ...before.document, ...parts } as OpenDocument & Record<string, unknown>;
  const document = (made.operations ? changed(whole, made.operations as unknown as Plain[]) : whole) as OpenDocument &
    Record<string, unknown>;
  for (const name of gone ?? []) delete document[name];
  return {
    revision: made.revision,
    undoLabel: made.undo,
    redoLabel: made.redo,
    document: document as OpenDocument,
    scene: sceneOf(before.scene, made.scene),
    shown: made.shown,
    pictures: { ...before.pictures, ...made.pictures },
    epoch: typing ? before.epoch : before.epoch + 1,
  };
}
