/** The menu of what can be done: what it is about, and where it opens. Shown by the shell. */
import { create } from "zustand";
import type { Point } from "../state/geometry";
import { selection, shownScene } from "../state/store";

/** What the menu is about; `at` is where it opens, in CSS px of the window. */
export type About =
  | { kind: "object"; at: Point; bench?: Point }
  | { kind: "page"; at: Point }
  | { kind: "words"; at: Point }
  | { kind: "guide"; at: Point; page: number; axis: "x" | "y"; place: number };

export const useMenu = create<{ about: About | null }>(() => ({ about: null }));

/** Open the menu of what can be done with something. */
export function openMenu(about: About) {
  useMenu.setState({ about });
}

/** The menu of what is chosen, by its place on the bench; of the page where nothing is. */
export function menuOfChosen(at: Point, bench?: Point) {
  const scene = shownScene();
  if (scene && selection().length) openMenu({ kind: "object", at, bench });
  else openMenu({ kind: "page", at });
}
