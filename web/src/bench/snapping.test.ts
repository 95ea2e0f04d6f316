import { expect, test } from "vitest";
import type { Extent } from "../state/geometry";
import type { Scene } from "../state/seen";
import { around, caughtMove, caughtPoint, type Lines, linesOf } from "./snapping";

const box = (left: number, top: number, width: number, height: number): Extent => ({
  left,
  top,
  right: left + width,
  bottom: top + height,
});
const none = (others: Extent[] = [], x: number[] = [], y: number[] = []): Lines => ({ page: 2, x, y, others });

/** Figures that look thrown and are always the same. */
function* dice(seed: number): Generator<number> {
  for (let n = seed; ; n = (n * 48271) % 2147483647) yield n / 2147483647;
}

test("what takes all extents in reaches as far as each of them", () => {
  expect(around([box(3, 5, 10, 2), box(-4, 6, 2, 30), box(0, 0, 1, 1)])).toEqual({
    left: -4,
    top: 0,
    right: 13,
    bottom: 36,
  });
});

test("a moved box catches on the nearest line within reach, by its edges or its middle, and on no other", () => {
  const throws = dice(7);
  const next = () => throws.next().value as number;
  for (let n = 0; n < 300; n++) {
    const moving = box(next() * 100, next() * 100, 5 + next() * 30, 5 + next() * 30);
    const lines = none([], [next() * 120, next() * 120, next() * 120], [next() * 120]);
    const reach = 1 + next() * 6;
    const found = caughtMove(moving, lines, reach);
    const ways = (low: number, high: number, at: number[]) =>
      at.flatMap((line) => [low, (low + high) / 2, high].map((place) => line - place));
    for (const [by, all, axis] of [
      [found.dx, ways(moving.left, moving.right, lines.x), "x"],
      [found.dy, ways(moving.top, moving.bottom, lines.y), "y"],
    ] as const) {
      const nearest = Math.min(...all.map(Math.abs));
      const line = found.caught.find((one) => one.axis === axis);
      if (nearest < reach) {
        expect(Math.abs(by)).toBeCloseTo(nearest, 9);
        expect(lines[axis]).toContain(line!.at);
        expect(line!.page).toBe(2);
      } else {
        expect(by).toBe(0);
        expect(line).toBeUndefined();
      }
    }
  }
});

test("it catches where its gaps to both neighbours are equal, or as the gap between two before or behind it", () => {
  const row = [box(0, 0, 10, 10), box(50, 0, 10, 10)];
  expect(caughtMove(box(24, 2, 10, 5), none(row), 3).dx).toBeCloseTo(1, 9); // 10 … 25–35 … 50: 15 on both sides
  const two = [box(0, 0, 10, 10), box(16, 0, 10, 10)];
  expect(caughtMove(box(31, 0, 10, 10), none(two), 3).dx).toBeCloseTo(1, 9); // 6 after 26, as between the two
  expect(caughtMove(box(-17, 0, 10, 10), none(two), 3).dx).toBeCloseTo(1, 9);
  expect(caughtMove(box(0, 31, 10, 10), none([box(0, 0, 10, 10), box(0, 16, 10, 10)]), 3).dy).toBeCloseTo(1, 9);
  // Neighbours are those beside it: what lies elsewhere has no gap to it.
  expect(caughtMove(box(24, 40, 10, 5), none(row), 3).dx).toBe(0);
  // Two that overlap have no gap between them.
  expect(caughtMove(box(31, 0, 10, 10), none([box(0, 0, 10, 10), box(6, 0, 20, 10)]), 3).dx).toBe(0);
  // A line that is nearer goes before a gap.
  expect(caughtMove(box(24, 2, 10, 5), none(row, [24.5]), 3)).toMatchObject({ dx: 0.5, caught: [{ at: 24.5 }] });
});

test("a point catches each axis on its own", () => {
  expect(caughtPoint([10, 20], none([], [12, 30], [21]), 3)).toEqual({
    at: [12, 21],
    caught: [
      { page: 2, axis: "x", at: 12 },
      { page: 2, axis: "y", at: 21 },
    ],
  });
  expect(caughtPoint([10, 20], none([], [13], [50]), 3)).toEqual({ at: [10, 20], caught: [] });
});

test("a page's lines are its edges, middles, margins and guides, and what stands there; not what is hidden or moved", () => {
  const object = (id: string, x: number, hidden = false) => ({
    id,
    hidden,
    matrix: [1, 0, 0, 1, x, 40],
    box: [x, 40, 20, 10],
  });
  const scene = {
    pages: [
      {
        width: 200,
        height: 100,
        margins: [5, 0, 8, 12],
        guides: { x: [66], y: [33] },
        order: ["a", "b", "c"],
      },
    ],
    objects: { a: object("a", 30), b: object("b", 90, true), c: object("c", 120) },
  } as unknown as Scene;
  const lines = linesOf(scene, 0, ["c"]);
  expect(lines.x).toEqual([0, 100, 200, 66, 12, 30, 40, 50]);
  expect(lines.y).toEqual([0, 50, 100, 33, 5, 92, 40, 45, 50]);
  expect(lines.others).toHaveLength(1);
});
