/** What edges and middles catch on while something is moved or sized: each axis on its own. */
import type { Caught, Scene } from "../state/seen";
import { type Extent, extentOf, type Point } from "../state/geometry";

export function around(extents: Extent[]): Extent {
  return {
    left: Math.min(...extents.map((e) => e.left)),
    top: Math.min(...extents.map((e) => e.top)),
    right: Math.max(...extents.map((e) => e.right)),
    bottom: Math.max(...extents.map((e) => e.bottom)),
  };
}

/** The lines of a page that something can catch on: its edges, middle, margins and guides, and other objects'. */
export interface Lines {
  page: number;
  x: number[];
  y: number[];
  others: Extent[];
}

export function linesOf(scene: Scene, page: number, without: string[]): Lines {
  const sheet = scene.pages[page];
  const [top, right, bottom, left] = sheet.margins;
  const x = [0, sheet.width / 2, sheet.width, ...sheet.guides.x];
  const y = [0, sheet.height / 2, sheet.height, ...sheet.guides.y];
  if (left) x.push(left);
  if (right) x.push(sheet.width - right);
  if (top) y.push(top);
  if (bottom) y.push(sheet.height - bottom);
  const others = sheet.order
    .filter((id) => !without.includes(id))
    .map((id) => scene.objects[id])
    .filter((o) => o && !o.hidden)
    .map(extentOf);
  for (const e of others) {
    x.push(e.left, (e.left + e.right) / 2, e.right);
    y.push(e.top, (e.top + e.bottom) / 2, e.bottom);
  }
  return { page, x, y, others };
}

/** The way to the nearest line for any of some places, within reach; 0 and nothing caught when there is none. */
function toNearest(places: number[], lines: number[], reach: number): { by: number; at: number | null } {
  let best: { by: number; at: number | null } = { by: 0, at: null };
  let near = reach;
  for (const place of places)
    for (const line of lines)
      if (Math.abs(line - place) < near) {
        near = Math.abs(line - place);
        best = { by: line - place, at: line };
      }
  return best;
}

/** Starts at which a box would have equal gaps to its neighbours along one axis. */
function equalGaps(moving: Extent, others: Extent[], across: boolean): number[] {
  const [low, high, from, to] = across
    ? (["left", "right", "top", "bottom"] as const)
    : (["top", "bottom", "left", "right"] as const);
  const beside = others.filter((o) => o[from] < moving[to] && o[to] > moving[from]).sort((a, b) => a[low] - b[low]);
  const size = moving[high] - moving[low];
  const middle = (moving[low] + moving[high]) / 2;
  const before = beside.filter((o) => (o[low] + o[high]) / 2 < middle);
  const after = beside.filter((o) => (o[low] + o[high]) / 2 >= middle);
  const [l2, l] = [before[before.length - 2], before[before.length - 1]];
  const [r, r2] = [after[0], after[1]];
  const out: number[] = [];
  if (l && r) out.push((l[high] + r[low] - size) / 2);
  if (l2 && l && l[low] > l2[high]) out.push(l[high] + (l[low] - l2[high]));
  if (r2 && r && r2[low] > r[high]) out.push(r[low] - (r2[low] - r[high]) - size);
  return out;
}

/** How much further a moved extent should go to catch, and on what. */
export function caughtMove(moving: Extent, lines: Lines, reach: number): { dx: number; dy: number; caught: Caught[] } {
  const one = (axis: "x" | "y") => {
    const [low, high] = axis === "x" ? [moving.left, moving.right] : [moving.top, moving.bottom];
    const line = toNearest([low, (low + high) / 2, high], lines[axis], reach);
    const gap = toNearest([low], equalGaps(moving, lines.others, axis === "x"), reach);
    return gap.at !== null && (line.at === null || Math.abs(gap.by) < Math.abs(line.by)) ? gap : line;
  };
  const [x, y] = [one("x"), one("y")];
  const caught: Caught[] = [];
  if (x.at !== null) caught.push({ page: lines.page, axis: "x", at: x.at });
  if (y.at !== null) caught.push({ page: lines.page, axis: "y", at: y.at });
  return { dx: x.by, dy: y.by, caught };
}

/** A point of the page, caught on what is near. */
export function caughtPoint(at: Point, lines: Lines, reach: number): { at: Point; caught: Caught[] } {
  const [x, y] = [toNearest([at[0]], lines.x, reach), toNearest([at[1]], lines.y, reach)];
  const caught: Caught[] = [];
  if (x.at !== null) caught.push({ page: lines.page, axis: "x", at: x.at });
  if (y.at !== null) caught.push({ page: lines.page, axis: "y", at: y.at });
  return { at: [at[0] + x.by, at[1] + y.by], caught };
}
