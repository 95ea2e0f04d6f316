/** A deed: something that can be done, by its name, its keys, and what it is for. */

import { groupOf, type Thing } from "../state/document";
import { selectedThing, selection, useStore } from "../state/store";

/** What a deed is for; where that is not chosen it says so. */
const NEEDS = {
  object: ["choose an object", (thing: Thing | null) => thing !== null],
  outline: ["choose an outline", (thing: Thing | null) => thing !== null && !thing.picture],
  frame: ["choose a frame", (thing: Thing | null) => !!thing?.frame],
  picture: ["choose a picture", (thing: Thing | null) => !!thing?.picture],
  wrapping: ["choose an object that copy runs round", (thing: Thing | null) => !!thing?.wrap || !!thing?.picture],
  several: ["choose two or more objects", () => selection().length > 1],
  group: [
    "choose a group",
    () => !!useStore.getState().document && !!groupOf(useStore.getState().document!, selection()),
  ],
  page: ["choose nothing, so that the page is spoken of", (thing: Thing | null) => thing === null],
  own: ["only whose document it is shares it", () => useStore.getState().may === "own"],
  points: ["edit the points of an outline", () => useStore.getState().tool.kind === "points"],
} as const;

export type Need = keyof typeof NEEDS;
export type Head = "Make" | "Rules" | "Object" | "Points" | "Page" | "Look" | "Go" | "Help";

export interface Deed {
  id: string;
  name: string;
  head: Head;
  /** Everyday words for it, by which it is found as well. */
  also?: string;
  /** As shipped: strokes with a space between, "N R", "Ctrl+D". */
  keys?: string;
  needs?: Need;
  run: () => void;
}

/** Why a deed cannot be done now; null when it can. */
export function hinders(deed: Deed): string | null {
  if (!deed.needs) return null;
  const [said, met] = NEEDS[deed.needs];
  return met(selectedThing()) ? null : said;
}
