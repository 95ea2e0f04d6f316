/** What a tool of the bench is: what it does from pressing to letting go, what it shows meanwhile, which keys it
 * takes. */
import type { ComponentType } from "react";
import type { Matrix, Point } from "../../state/geometry";
import { apply, inverse, pagePlaces } from "../../state/geometry";
import type { ObjectScene } from "../../api/client";
import type { InHand } from "../../state/model/chosen";
import { useStore } from "../../state/store";
import type { Scene } from "../../state/seen";
import type { Gesture, Keys } from "../gesture";
import { pageAt } from "../hand";
import { pageMatrix } from "../../state/geometry";

/** Where the pointer is, and what is pressed with it. */
export interface Pointed {
  scene: Scene;
  /** CSS px from the bench's corner. */
  at: Point;
  /** ms, when it was there; a busy machine hears of it later. */
  when: number;
  keys: Keys;
  /** Draw the bench again. */
  redraw: () => void;
}

/** What a press begins: something that goes on until it is let go; a box about what is to be chosen; "done", it is
 * over with the press; "hand", it is not for this tool: the hand is taken instead. */
export type Begun = Gesture | "box" | "done" | "hand";

export interface Box {
  from: Point;
  to: Point;
  adding: boolean;
}

type Of<Kind extends InHand["kind"]> = Extract<InHand, { kind: Kind }>;

export interface BenchTool<Kind extends InHand["kind"] = InHand["kind"]> {
  down: (pressed: Pointed, tool: Of<Kind>) => Begun;
  /** The pointer moves with nothing begun. Returns the cursor. */
  over?: (pointed: Pointed) => string;
  /** The cursor wherever the pointer is. */
  cursor?: string;
  /** A box was drawn. */
  boxed?: (box: Box, scene: Scene) => void;
  /** Clicked twice or more. */
  clicked?: (pointed: Pointed, times: number) => void;
  /** A key that it takes before the shortcuts do; false leaves it to them. */
  key?: (key: string, event: KeyboardEvent) => boolean;
  /** What can be done with it, in a line. */
  Hint?: ComponentType<{ now: Of<Kind> }>;
  /** Whether it writes: a press leaves the keyboard with the copy. */
  writes?: boolean;
  /** Whether a press that stays where it is asks for the menu. */
  rests?: boolean;
}

/** Which way an arrow key goes. */
export const ARROWS: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Tells at each press how many ms before it one was made within so many px of it, at last; ∞ where none was. */
export function pressesWithin(near: number): (at: Point, when: number) => number {
  let last = { at: [0, 0], when: -Infinity };
  return (at, when) => {
    const before = last;
    last = { at, when };
    return Math.hypot(at[0] - before.at[0], at[1] - before.at[1]) < near ? when - before.when : Infinity;
  };
}

/** The middle of what the bench shows. */
export function middleOfBench(): Point {
  const element = document.querySelector("canvas");
  return element ? [element.clientWidth / 2, element.clientHeight / 2] : [0, 0];
}

/** The object that is spoken of. */
export function chosenObject(scene: Scene): ObjectScene | undefined {
  return scene.objects[useStore.getState().selected ?? ""];
}

/** A page's place on the bench. */
export function matrixOf(scene: Scene, page: number): Matrix {
  return pageMatrix(useStore.getState().view, pagePlaces(scene)[page]);
}

/** The page nearest to a place of the bench, and that place on it. */
export function onPage(scene: Scene, at: Point): { page: number; matrix: Matrix; place: Point } {
  const page = useStore.getState().draft?.page ?? pageAt(scene, at);
  const matrix = matrixOf(scene, page);
  return { page, matrix, place: apply(inverse(matrix), at) };
}
