/** Lines and dots that are drawn over the pages. */

import type { DraftKnot } from "../state/seen";
import { type Point } from "../state/geometry";

export const CAUGHT = "#8a6510";

export function line(ctx: CanvasRenderingContext2D, a: Point, b: Point, color: string, dash: number[]) {
  ctx.strokeStyle = color;
  ctx.lineWidth = 1;
  ctx.setLineDash(dash);
  ctx.beginPath();
  ctx.moveTo(...a);
  ctx.lineTo(...b);
  ctx.stroke();
  ctx.setLineDash([]);
}

export function dot(
  ctx: CanvasRenderingContext2D,
  [x, y]: Point,
  r: number,
  fill: string,
  stroke: string,
  square = false,
) {
  ctx.beginPath();
  if (square) ctx.rect(x - r, y - r, 2 * r, 2 * r);
  else ctx.arc(x, y, r, 0, 2 * Math.PI);
  ctx.fillStyle = fill;
  ctx.strokeStyle = stroke;
  ctx.lineWidth = 1.5;
  ctx.fill();
  ctx.stroke();
}

export function curve(ctx: CanvasRenderingContext2D, a: DraftKnot, b: DraftKnot, place: (p: Point) => Point) {
  if (a.after || b.before) ctx.bezierCurveTo(...place(a.after ?? a.at), ...place(b.before ?? b.at), ...place(b.at));
  else ctx.lineTo(...place(b.at));
}
