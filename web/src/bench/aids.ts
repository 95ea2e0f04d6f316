/** What is drawn over the pages besides, and in which colours. */

import type { Caught, DraftKnot } from "../state/seen";
import type { Why } from "../state/seen";
import { type Point } from "../state/geometry";

export interface Colors {
  bench: string;
  card: string;
  sheet: string;
  line: string;
  slot: string;
  soft: string;
  coral: string;
}

export function readColors(): Colors {
  const style = getComputedStyle(document.documentElement);
  const of = (name: string) => style.getPropertyValue(`--color-${name}`).trim();
  return {
    bench: of("bench"),
    card: of("card"),
    sheet: "#fffdf8",
    line: of("line"),
    slot: "#1e8a8f",
    soft: of("soft"),
    coral: "#b03a22",
  };
}

export interface Aids {
  selected: string | null;
  others: string[];
  caught: Caught[];
  caret: { frame: string; anchor: number; head: number } | null;
  /** Stretches of its copy that are chosen. */
  stretches: [number, number][];
  /** Whether the caret shows just now: it blinks. */
  blink: boolean;
  unit: string;
  /** Points chosen, while points are edited; null when they are not. */
  points: [number, number][] | null;
  draft: { page: number; knots: DraftKnot[] } | null;
  /** Where the drawing pen is, in points of the draft's page. */
  pen: Point | null;
  hovered: string | null;
  /** Marks of a picture's subject, while they are made: fractions of the picture. */
  marks: { box?: [number, number, number, number] | null; keep: Point[][]; drop: Point[][] } | null;
  why: Why | null;
  slots: boolean;
  clean: boolean;
  /** Whether handles and slots are out of the way. */
  quiet: boolean;
}
