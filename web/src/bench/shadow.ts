/** The shadow that a sheet throws on the bench. */

import { once } from "../state/later";

/** How far the shadow of a sheet reaches. */
export const REACHES = 48;

const INNER = 2 * REACHES + 2;

/** The shadow of a small sheet. */
const smallShadow = once(() => {
  const shadow = document.createElement("canvas");
  shadow.width = shadow.height = INNER + 2 * REACHES;
  const small = shadow.getContext("2d")!;
  small.shadowColor = "rgb(60 45 20 / 0.22)";
  small.shadowBlur = 26;
  small.shadowOffsetY = 8;
  small.fillRect(REACHES, REACHES, INNER, INNER);
  return shadow;
});

/** The shadow that a sheet throws. It is blurred once, for a small sheet, whose corners and sides are drawn round
 * this one: blurring a whole page at every step of a drag takes longer than all its copy. */
export function paintShadow(ctx: CanvasRenderingContext2D, x: number, y: number, w: number, h: number) {
  const shadow = smallShadow();
  const corner = Math.min(2 * REACHES, w / 2 + REACHES, h / 2 + REACHES);
  const [across, down] = [w + 2 * REACHES - 2 * corner, h + 2 * REACHES - 2 * corner];
  const far = shadow.width - corner;
  // Each from its place in the small one to its place here, with its size there and here.
  for (const [sx, dx, sw, dw] of [
    [0, 0, corner, corner],
    [INNER - 1, corner, 2, across],
    [far, corner + across, corner, corner],
  ])
    for (const [sy, dy, sh, dh] of [
      [0, 0, corner, corner],
      [INNER - 1, corner, 2, down],
      [far, corner + down, corner, corner],
    ])
      if (dw > 0 && dh > 0 && !(dx === corner && dy === corner))
        ctx.drawImage(shadow, sx, sy, sw, sh, x - REACHES + dx, y - REACHES + dy, dw, dh);
}
