import { expect, test } from "vitest";
import type { Scene } from "./seen";
import { apply, extentOf, inverse, type Matrix, pageNear, pagePlaces, pagesSeen } from "./geometry";

const sheets = (count: number, facing = false) =>
  ({
    pages: Array.from({ length: count }, (_, n) => ({
      width: 200,
      height: 300,
      bleed: 0,
      side: facing ? (n % 2 ? "left" : "right") : "alone",
    })),
  }) as unknown as Scene;

test("a matrix and its inverse come to nothing, turned and moved", () => {
  const turned: Matrix = [Math.cos(1), Math.sin(1), -Math.sin(1), Math.cos(1), 30, -7];
  for (const point of [
    [0, 0],
    [12, -5],
    [1e4, 3],
  ] as [number, number][]) {
    const [x, y] = apply(inverse(turned), apply(turned, point));
    expect(x).toBeCloseTo(point[0], 8);
    expect(y).toBeCloseTo(point[1], 8);
  }
});

test("a turned object's extent holds all its corners", () => {
  const half = Math.SQRT1_2;
  const extent = extentOf({ matrix: [half, half, -half, half, 100, 100], box: [0, 0, 40, 20] });
  expect(extent.left).toBeCloseTo(100 - 20 * half, 8);
  expect(extent.right).toBeCloseTo(100 + 40 * half, 8);
  expect(extent.bottom).toBeCloseTo(100 + 60 * half, 8);
});

test("pages stand one under another; those that face each other side by side at the fold", () => {
  expect(pagePlaces(sheets(3))).toEqual([
    [0, 0],
    [0, 336],
    [0, 672],
  ]);
  expect(pagePlaces(sheets(4, true))).toEqual([
    [0, 0],
    [-200, 336],
    [0, 336],
    [-200, 672],
  ]);
  expect(pageNear(sheets(3), [50, 700])).toBe(2);
});

test("pages that a window may show are those that reach into it or stand just above, and not more than twelve", () => {
  Object.assign(globalThis, { innerHeight: 800, innerWidth: 1280 });
  expect(pagesSeen(sheets(100), { scale: 1, x: 0, y: 0 })).toEqual([0, 1]);
  expect(pagesSeen(sheets(100), { scale: 1, x: 0, y: -50 * 448 })).toEqual([49, 50, 51]);
  expect(pagesSeen(sheets(100), { scale: 0.05, x: 0, y: 0 })).toHaveLength(12);
});
