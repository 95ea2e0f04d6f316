/** Paints the bench: sheets, objects and nests, and over them the aids (slots, selection, wraps). */
import { drawObject, pathOf, wrapOf } from "../drawing/scene";
import { pictures } from "../drawing/pictures";
import type { Scene } from "../state/seen";
import { paintRulers } from "./rulers";
import type { Why } from "../state/seen";
import { apply, inverse, type Matrix, pageMatrix, pagePlaces, type Point, type View } from "../state/geometry";
import { REACHES, paintShadow } from "./shadow";
import { CAUGHT, line } from "./strokes";
import { paintAnchors, paintChain, paintDraft, paintSelected } from "./paintChosen";
import { Aids, Colors } from "./aids";

export function paint(
  ctx: CanvasRenderingContext2D,
  size: Point,
  ratio: number,
  scene: Scene,
  view: View,
  aids: Aids,
  colors: Colors,
) {
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  ctx.fillStyle = colors.bench;
  ctx.fillRect(0, 0, size[0], size[1]);
  const tops = pagePlaces(scene);
  scene.pages.forEach((page, index) => {
    const m = pageMatrix(view, tops[index]);
    const k = m[0];
    const [x, y, w, h] = [m[4], m[5], page.width * k, page.height * k];
    ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    if (y < size[1] + REACHES && y + h > -REACHES && x < size[0] + REACHES && x + w > -REACHES)
      paintShadow(ctx, x, y, w, h);
    ctx.fillStyle = page.background ?? colors.sheet;
    ctx.fillRect(x, y, w, h);
    ctx.save();
    ctx.beginPath();
    const bleed = aids.clean ? 0 : page.bleed * k;
    // At the fold there is none.
    const [before, after] = [
      page.side === "right" && index > 0 ? 0 : bleed,
      page.side === "left" && index + 1 < scene.pages.length ? 0 : bleed,
    ];
    if (aids.clean) {
      ctx.rect(x, y, w, h);
      ctx.clip();
    } else if (page.background && bleed) {
      ctx.fillStyle = page.background;
      ctx.fillRect(x - before, y - bleed, w + before + after, h + 2 * bleed);
    }
    ctx.transform(...m);
    const back = inverse(m);
    const [[left, top], [right, bottom]] = [apply(back, [0, 0]), apply(back, size)];
    for (const id of page.order)
      drawObject(ctx, scene, id, pictures, {
        clean: aids.clean,
        leftoverColor: colors.coral,
        seen: { left, top, right, bottom },
      });
    ctx.restore();
    if (!aids.clean && bleed) {
      ctx.strokeStyle = "rgb(29 58 51 / 0.35)";
      ctx.lineWidth = 1;
      ctx.strokeRect(Math.round(x) - 0.5, Math.round(y) - 0.5, Math.round(w) + 1, Math.round(h) + 1);
      ctx.setLineDash([2, 4]);
      ctx.strokeRect(
        Math.round(x - before) - 0.5,
        Math.round(y - bleed) - 0.5,
        Math.round(w + before + after) + 1,
        Math.round(h + 2 * bleed) + 1,
      );
      ctx.setLineDash([]);
    }
  });
  if (aids.clean) return;
  scene.pages.forEach((page, index) => paintGuides(ctx, page, pageMatrix(view, tops[index]), ratio));
  for (const id of new Set([aids.hovered, ...aids.others, aids.selected])) {
    const object = id && scene.objects[id];
    if (!object) continue;
    const m = pageMatrix(view, tops[object.page] ?? [0, 0]);
    ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    ctx.save();
    ctx.transform(...m);
    ctx.transform(...object.matrix);
    ctx.strokeStyle = colors.slot;
    ctx.lineWidth = (id === aids.selected || aids.others.includes(id) ? 1.6 : 1) / m[0];
    ctx.stroke(pathOf(object));
    if (id === aids.selected && object.contour?.path && (aids.points || aids.marks)) {
      ctx.lineWidth = 1.6 / m[0];
      ctx.stroke(new Path2D(object.contour.path));
    }
    const wrap = wrapOf(object);
    if (wrap && id === aids.selected) {
      ctx.lineWidth = 1.2 / m[0];
      ctx.setLineDash([1.5 / m[0], 3.5 / m[0]]);
      ctx.lineCap = "round";
      ctx.stroke(wrap);
    }
    ctx.restore();
  }
  if (aids.selected && !aids.quiet) {
    paintChain(ctx, scene, aids.selected, view, tops, colors, ratio);
    paintAnchors(ctx, scene, [aids.selected, ...aids.others], view, tops, colors, ratio);
    paintSelected(ctx, scene, aids, view, tops, colors, ratio);
  }
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  if (aids.why) paintWhy(ctx, scene, aids.why, pageMatrix(view, tops[aids.why.page] ?? [0, 0]));
  for (const caught of aids.caught) {
    const [page, m] = [scene.pages[caught.page], pageMatrix(view, tops[caught.page])];
    const [a, b] =
      caught.axis === "x"
        ? ([
            [caught.at, -20],
            [caught.at, page.height + 20],
          ] as Point[])
        : ([
            [-20, caught.at],
            [page.width + 20, caught.at],
          ] as Point[]);
    line(ctx, apply(m, a), apply(m, b), CAUGHT, []);
  }
  paintRulers(ctx, size, scene, tops, view, pageMatrix(view, tops[0])[0], aids.unit, colors.card, colors.soft);
  if (aids.draft) paintDraft(ctx, aids.draft, aids.pen, pageMatrix(view, tops[aids.draft.page]), colors);
}

/** The edges that put there what is pointed at, and the object that they belong to. */
function paintWhy(ctx: CanvasRenderingContext2D, scene: Scene, why: Why, m: Matrix) {
  const first = why.causes[0];
  const object = first && scene.objects[first.object];
  if (!object) return;
  ctx.save();
  ctx.strokeStyle = CAUGHT;
  ctx.lineCap = "round";
  ctx.save();
  ctx.transform(...m);
  ctx.transform(...object.matrix);
  ctx.globalAlpha = 0.5;
  ctx.lineWidth = 1.2 / m[0];
  const wrap = wrapOf(object);
  ctx.stroke(first.rule === "clearance" && wrap ? wrap : pathOf(object));
  ctx.restore();
  ctx.lineWidth = 4;
  for (const [x0, y0, x1, y1] of first.lit) {
    ctx.beginPath();
    ctx.moveTo(...apply(m, [x0, y0]));
    ctx.lineTo(...apply(m, [x1, y1]));
    ctx.stroke();
  }
  ctx.restore();
}

function paintGuides(ctx: CanvasRenderingContext2D, page: Scene["pages"][number], m: Matrix, ratio: number) {
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  const [top, right, bottom, left] = page.margins;
  const [x0, y0, x1, y1] = [...apply(m, [left, top]), ...apply(m, [page.width - right, page.height - bottom])];
  if (top || right || bottom || left) {
    ctx.strokeStyle = "rgb(29 58 51 / 0.28)";
    ctx.lineWidth = 1;
    ctx.setLineDash([5, 4]);
    ctx.strokeRect(Math.round(x0) + 0.5, Math.round(y0) + 0.5, Math.round(x1 - x0), Math.round(y1 - y0));
    ctx.setLineDash([]);
  }
  for (const x of page.guides.x)
    line(ctx, apply(m, [x, -14]), apply(m, [x, page.height + 14]), "rgb(30 138 143 / 0.55)", [7, 3]);
  for (const y of page.guides.y)
    line(ctx, apply(m, [-14, y]), apply(m, [page.width + 14, y]), "rgb(30 138 143 / 0.55)", [7, 3]);
}
