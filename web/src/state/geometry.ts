/** Where things are on the bench: pages one under another, and objects in their own turned boxes. */
import type { ObjectScene } from "../api/client";
import type { Point, Scene } from "./seen";

export type { Point };
export type Matrix = [number, number, number, number, number, number];

/** CSS px per point at 100 %. */
export const PX = 4 / 3;
const GAP = 36;

export function apply([a, b, c, d, e, f]: Matrix, [x, y]: Point): Point {
  return [a * x + c * y + e, b * x + d * y + f];
}

export interface Extent {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** An object's extent on its page, turned as it is. */
export function extentOf(object: Pick<ObjectScene, "matrix" | "box">): Extent {
  const [, , w, h] = object.box;
  const corners = (
    [
      [0, 0],
      [w, 0],
      [w, h],
      [0, h],
    ] as Point[]
  ).map((p) => apply(object.matrix, p));
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  return { left: Math.min(...xs), top: Math.min(...ys), right: Math.max(...xs), bottom: Math.max(...ys) };
}

export function inverse([a, b, c, d, e, f]: Matrix): Matrix {
  const det = a * d - b * c;
  return [d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det];
}

/**
 * The trim corner of each page on the bench, in points. Pages stand one under another at x = 0; those that face each
 * other side by side, the fold at x = 0.
 */
export function pagePlaces(scene: Scene): Point[] {
  const places: Point[] = [];
  if (scene.laid === "beside") {
    let right = 0;
    scene.pages.forEach((page, index) => {
      const open = page.side === "right" && index > 0;
      if (index > 0 && !open) right += GAP + 2 * page.bleed;
      places.push([right, 0]);
      right += page.width;
    });
    return places;
  }
  let [y, deep] = [0, 0];
  scene.pages.forEach((page, index) => {
    const beside = page.side === "right" && index > 0;
    if (index > 0 && !beside) [y, deep] = [y + deep, 0];
    deep = Math.max(deep, page.height + GAP + 2 * page.bleed);
    places.push([page.side === "left" ? -page.width : 0, y]);
  });
  return places;
}

/** The pages that lie open together with one, itself among them. */
export function openWith(scene: Scene, index: number): number[] {
  const { side } = scene.pages[index];
  if (side === "left" && index + 1 < scene.pages.length) return [index, index + 1];
  return side === "right" && index > 0 ? [index - 1, index] : [index];
}

/** The pages that a window may show. */
export function pagesSeen(scene: Scene, view: { scale: number; x: number; y: number }): number[] {
  const k = view.scale * PX;
  const [wide, high] = [Math.max(innerWidth, 400), Math.max(innerHeight, 400)];
  const places = pagePlaces(scene);
  const seen = scene.pages
    .map((_, index) => index)
    .filter((index) => {
      const [left, top] = [view.x + places[index][0] * k, view.y + places[index][1] * k];
      const { width, height } = scene.pages[index];
      return top < high && top + height * k > -high / 4 && left < wide && left + width * k > -wide / 4;
    });
  return seen.slice(0, 12);
}

/** The page nearest to a point of the bench, in points. */
export function pageNear(scene: Scene, [x, y]: Point): number {
  let [best, least] = [0, Infinity];
  pagePlaces(scene).forEach(([left, top], index) => {
    const page = scene.pages[index];
    const [dx, dy] = [Math.max(left - x, 0, x - left - page.width), Math.max(top - y, 0, y - top - page.height)];
    if (dx + dy < least - 1e-6) [best, least] = [index, dx + dy];
  });
  return best;
}

export interface Handle {
  /** Fractions of the box: 0, ½ or 1. */
  fx: number;
  fy: number;
  at: Point;
}

/** The handles of an object on its page. */
export function handlesOf(object: ObjectScene): Handle[] {
  const [, , w, h] = object.box;
  const out: Handle[] = [];
  for (const fy of [0, 0.5, 1])
    for (const fx of [0, 0.5, 1])
      if (fx !== 0.5 || fy !== 0.5) out.push({ fx, fy, at: apply(object.matrix, [fx * w, fy * h]) });
  return out;
}

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

const LEAST = 4;

/**
 * The box after a handle was dragged by a distance on the page: the opposite edge stays where it is on the page
 * (or the centre does). `even` keeps the proportions.
 */
export function sized(
  object: ObjectScene,
  handle: { fx: number; fy: number },
  by: Point,
  even: boolean,
  centre: boolean,
): Box {
  const [, , w, h] = object.box;
  const turn = (object.turn * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const along: Point = [by[0] * c + by[1] * s, -by[0] * s + by[1] * c];
  const grow = centre ? 2 : 1;
  let width = handle.fx === 0.5 ? w : Math.max(LEAST, w + grow * along[0] * (handle.fx === 1 ? 1 : -1));
  let height = handle.fy === 0.5 ? h : Math.max(LEAST, h + grow * along[1] * (handle.fy === 1 ? 1 : -1));
  if (even) {
    const factor = handle.fx === 0.5 ? height / h : handle.fy === 0.5 ? width / w : Math.max(width / w, height / h);
    [width, height] = [w * factor, h * factor];
  }
  const still: Point = centre ? [0.5, 0.5] : [1 - handle.fx, 1 - handle.fy];
  const at = apply(object.matrix, [still[0] * w, still[1] * h]);
  const [px, py] = [object.pivot[0] * width, object.pivot[1] * height];
  const [rx, ry] = [still[0] * width - px, still[1] * height - py];
  return { x: at[0] - px - (c * rx - s * ry), y: at[1] - py - (s * rx + c * ry), width, height };
}

export function rounded(value: number): number {
  return Math.round(value * 100) / 100;
}

export interface View {
  scale: number;
  x: number;
  y: number;
}

/** From points of a page to CSS px of the bench. */
export function pageMatrix(view: View, [left, top]: Point): Matrix {
  const k = view.scale * PX;
  return [k, 0, 0, k, view.x + left * k, view.y + top * k];
}
