/** The copy's places on the page: where a caret stands, which place is under the pointer, what lies a line up or
 * down. */
import type { NestScene, ShapeScene } from "../api/client";
import {
  BASELINE,
  BOTTOM,
  COLUMNS,
  END,
  FIRST_WORD,
  LEFT,
  LINE,
  RIGHT,
  START,
  TOP,
  TRACKING,
  WIDE,
  WORDS,
} from "./records";
import { setLetters, textOf } from "./scene";
import { apply, inverse, type Point } from "../state/geometry";

const ruler = document.createElement("canvas").getContext("2d")!;

function widthOf(shape: ShapeScene, look: number, tracking: number, factor: number, text: string): number {
  setLetters(ruler, shape.looks[look], tracking, factor);
  ruler.fontKerning = "normal";
  ruler.textRendering = "geometricPrecision";
  return ruler.measureText(text).width * factor;
}

export interface CaretPlace {
  row: number;
  x: number;
  baseline: number;
  top: number;
  bottom: number;
}

/** Rows of a nest's records, one a slot that holds copy. */
function rows(nest: NestScene): number[] {
  return Array.from({ length: nest.records.length / COLUMNS }, (_, i) => i * COLUMNS);
}

/** Where in `nest.x` a row's words begin. */
function wordsBefore(nest: NestScene, row: number): number {
  let at = 0;
  for (let r = 0; r < row; r += COLUMNS) at += nest.records[r + WORDS];
  return at;
}

/** The x of a place of the copy within a row. */
function xIn(nest: NestScene, shape: ShapeScene, row: number, index: number): number {
  const r = nest.records;
  const [first, count, tracking, factor] = [r[row + FIRST_WORD], r[row + WORDS], r[row + TRACKING], r[row + WIDE]];
  const base = wordsBefore(nest, row);
  // Words stand in the copy's order; one that runs from right to left begins at its right end.
  let edge = count && shape.rtl[first] ? r[row + RIGHT] : r[row + LEFT];
  let last = r[row + START];
  for (let i = 0; i < count; i++) {
    const word = first + i;
    const [a, b] = [Math.max(shape.start[word], r[row + START]), Math.min(shape.end[word], r[row + END])];
    const wide = (to: number) => widthOf(shape, shape.look[word], tracking, factor, textOf(shape, a, to));
    const begin = shape.rtl[word] ? nest.x[base + i] + wide(b) : nest.x[base + i];
    const on = shape.rtl[word] ? -1 : 1;
    if (index < a) return edge + ((begin - edge) * (index - last)) / Math.max(1, a - last);
    if (index <= b) {
      const x = begin + on * wide(index);
      return index === b && i === count - 1 && b === r[row + END]
        ? Math.min(r[row + RIGHT], Math.max(r[row + LEFT], x))
        : x;
    }
    edge = begin + on * wide(b);
    last = b;
  }
  if (index <= last) return edge;
  return count && shape.rtl[first + count - 1] ? Math.min(edge, r[row + LEFT]) : Math.max(edge, r[row + RIGHT]);
}

function mixed(shape: ShapeScene): boolean {
  return shape.rtl.some((way) => way > 0);
}

/** Where a place of the copy stands; null when nothing is set. */
export function placeOf(nest: NestScene, shape: ShapeScene, index: number): CaretPlace | null {
  const r = nest.records;
  let found = -1;
  for (const row of rows(nest)) {
    if (r[row + START] > index) break;
    found = row;
  }
  if (found < 0) {
    if (!nest.bounds) return null;
    // There is no room for any line: it stands where copy would begin.
    const [x, top] = nest.bounds;
    return { row: -1, x, baseline: top + nest.size, top, bottom: top + nest.size };
  }
  return {
    row: found,
    x: xIn(nest, shape, found, index),
    baseline: r[found + BASELINE],
    top: r[found + TOP],
    bottom: r[found + BOTTOM],
  };
}

/** The place of the copy nearest to a point of its page. */
export function indexAt(nest: NestScene, shape: ShapeScene, at: Point): number {
  const [x, y] = nest.matrix ? apply(inverse(nest.matrix), at) : at;
  const r = nest.records;
  let best = -1;
  let least = Infinity;
  for (const row of rows(nest)) {
    const down = y < r[row + TOP] ? r[row + TOP] - y : y > r[row + BOTTOM] ? y - r[row + BOTTOM] : 0;
    const across = x < r[row + LEFT] ? r[row + LEFT] - x : x > r[row + RIGHT] ? x - r[row + RIGHT] : 0;
    const far = down * 1000 + across;
    if (far < least) [least, best] = [far, row];
  }
  return best < 0 ? 0 : indexIn(nest, shape, best, x);
}

function indexIn(nest: NestScene, shape: ShapeScene, row: number, x: number): number {
  let [low, high] = [nest.records[row + START], nest.records[row + END]];
  if (mixed(shape)) {
    let best = low;
    let least = Infinity;
    for (let index = low; index <= high; index++) {
      const far = Math.abs(xIn(nest, shape, row, index) - x);
      if (far < least) [least, best] = [far, index];
    }
    return best;
  }
  // The x of places grows along a row: the nearest is found by halves.
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (xIn(nest, shape, row, middle) <= x) low = middle;
    else high = middle;
  }
  return Math.abs(xIn(nest, shape, row, high) - x) < Math.abs(xIn(nest, shape, row, low) - x) ? high : low;
}

/** The place a line up or down, nearest to an x; at either end of its line. */
export function lineStep(
  nest: NestScene,
  shape: ShapeScene,
  index: number,
  key: string,
  goal: number | null,
): { index: number; goal: number | null } | null {
  const place = placeOf(nest, shape, index);
  if (!place || place.row < 0) return null;
  const r = nest.records;
  const line = r[place.row + LINE];
  if (key === "Home" || key === "End") {
    const mine = rows(nest).filter((row) => r[row + LINE] === line);
    return { index: key === "Home" ? r[mine[0] + START] : r[mine[mine.length - 1] + END], goal: null };
  }
  const x = goal ?? place.x;
  const other = key === "ArrowUp" ? line - 1 : line + 1;
  const there = rows(nest).filter((row) => r[row + LINE] === other);
  if (!there.length)
    return { index: key === "ArrowUp" ? r[START] : r[rows(nest)[rows(nest).length - 1] + END], goal: x };
  const away = (row: number) => (x < r[row + LEFT] ? r[row + LEFT] - x : x > r[row + RIGHT] ? x - r[row + RIGHT] : 0);
  const row = there.reduce((a, b) => (away(b) < away(a) ? b : a));
  return { index: indexIn(nest, shape, row, x), goal: x };
}

/** The place to the left or right of one, as it is seen, where copy runs both ways; null where the browser's step is
 * that. */
export function sideStep(nest: NestScene, shape: ShapeScene, index: number, key: string): number | null {
  if (!mixed(shape)) return null;
  const place = placeOf(nest, shape, index);
  if (!place || place.row < 0) return null;
  const r = nest.records;
  const [start, end] = [r[place.row + START], r[place.row + END]];
  const on = key === "ArrowRight" ? 1 : -1;
  let best: number | null = null;
  let nearest = Infinity;
  for (const at of clusters(textOf(shape, start, end), start)) {
    const away = on * (xIn(nest, shape, place.row, at) - place.x);
    if (away > 0.01 && away < nearest) [best, nearest] = [at, away];
  }
  if (best !== null) return best;
  // At a line's end as it is seen: the next line lies that way where lines begin at the other side.
  const fromRight = shape.fromRight[textOf(shape, 0, start).split("\n").length - 1] ?? false;
  const all = rows(nest);
  const other = all[all.indexOf(place.row) + ((on === -1) === fromRight ? 1 : -1)];
  if (other === undefined) return null;
  return (on === -1) === fromRight ? r[other + START] : Math.min(r[other + END], start - 1);
}

/** Where carets may stand in a text: between what is read as one letter. */
function clusters(text: string, start: number): number[] {
  const letters = new Intl.Segmenter(undefined, { granularity: "grapheme" });
  const out = [start];
  for (const { segment } of letters.segment(text)) out.push(out[out.length - 1] + [...segment].length);
  return out;
}

/** The stretches of a selection, row by row: left, right, top, bottom. */
export function stretches(
  nest: NestScene,
  shape: ShapeScene,
  from: number,
  to: number,
): [number, number, number, number][] {
  const r = nest.records;
  const out: [number, number, number, number][] = [];
  for (const row of rows(nest)) {
    const [a, b] = [Math.max(from, r[row + START]), Math.min(to, r[row + END])];
    if (a > b || (a === b && !(from < r[row + START] && to > r[row + END]))) continue;
    if (mixed(shape)) {
      for (let index = a; index < b; index++) {
        const [x0, x1] = [xIn(nest, shape, row, index), xIn(nest, shape, row, index + 1)];
        out.push([Math.min(x0, x1), Math.max(x0, x1), r[row + TOP], r[row + BOTTOM]]);
      }
      continue;
    }
    out.push([
      xIn(nest, shape, row, a),
      Math.max(xIn(nest, shape, row, b), xIn(nest, shape, row, a) + 1),
      r[row + TOP],
      r[row + BOTTOM],
    ]);
  }
  return out;
}
