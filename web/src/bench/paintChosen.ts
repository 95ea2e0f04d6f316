/** What is drawn over the pages of what is chosen: handles, points, marks, chains, anchors, the caret. */
import type { ObjectScene } from "../api/client";
import { BASELINE, COLUMNS, PAST, SLOT_LEFT, SLOT_RIGHT } from "../drawing/records";
import type { Scene } from "../state/seen";
import { placeOf, stretches } from "../drawing/caret";
import { knotsOf } from "./knots";
import {
  apply,
  type Extent,
  extentOf,
  handlesOf,
  type Matrix,
  pageMatrix,
  type Point,
  type View,
} from "../state/geometry";
import type { Aids, Colors } from "./aids";
import { curve, dot, line } from "./strokes";
import { pivotOf, showsPivot, turnHandle, typeHandle } from "./handles";

function paintCaret(
  ctx: CanvasRenderingContext2D,
  scene: Scene,
  nest: Scene["nests"][string],
  aids: Aids,
  m: Matrix,
  ratio: number,
  colors: Colors,
) {
  const shape = scene.shapes[nest.shape];
  if (!shape || !aids.caret) return;
  const { anchor, head } = aids.caret;
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  ctx.save();
  ctx.transform(...m);
  if (nest.matrix) ctx.transform(...nest.matrix);
  const chosen =
    anchor === head
      ? aids.stretches
      : [...aids.stretches.slice(0, -1), [Math.min(anchor, head), Math.max(anchor, head)] as [number, number]];
  ctx.globalAlpha = 0.28;
  ctx.fillStyle = colors.slot;
  for (const [from, to] of chosen)
    for (const [left, right, top, bottom] of stretches(nest, shape, from, to))
      ctx.fillRect(left, top, right - left, bottom - top);
  ctx.globalAlpha = 1;
  const place = placeOf(nest, shape, head);
  if (place) ctx.canvas.dataset.caret = place.x.toFixed(2);
  if (place && aids.blink) {
    ctx.fillStyle = colors.slot;
    ctx.fillRect(place.x - 0.75 / m[0], place.top - 1 / m[0], 1.8 / m[0], place.bottom - place.top + 2 / m[0]);
  }
  ctx.restore();
}

function paintPoints(ctx: CanvasRenderingContext2D, scene: Scene, aids: Aids, page: Matrix, colors: Colors) {
  const object = scene.objects[aids.selected!];
  const place = (p: Point) => apply(page, apply(object.matrix, p));
  knotsOf(object).forEach((ring, c) =>
    ring.forEach((knot, i) => {
      const chosen = aids.points!.some(([a, b]) => a === c && b === i);
      const at = place(knot.at);
      if (chosen)
        for (const handle of [knot.before, knot.after])
          if (handle) {
            line(ctx, at, place(handle), colors.slot, []);
            dot(ctx, place(handle), 3, "#fffdf8", colors.slot);
          }
      // Corners are square, points of a curve round.
      dot(ctx, at, 4, chosen ? colors.slot : "#fffdf8", colors.slot, !knot.before || !knot.after);
    }),
  );
}

export function paintDraft(
  ctx: CanvasRenderingContext2D,
  draft: NonNullable<Aids["draft"]>,
  pen: Point | null,
  page: Matrix,
  colors: Colors,
) {
  const { knots } = draft;
  const place = (p: Point) => apply(page, p);
  ctx.strokeStyle = colors.slot;
  ctx.lineWidth = 1.6;
  ctx.beginPath();
  ctx.moveTo(...place(knots[0].at));
  for (let i = 1; i < knots.length; i++) curve(ctx, knots[i - 1], knots[i], place);
  ctx.stroke();
  if (pen) {
    ctx.setLineDash([4, 4]);
    ctx.globalAlpha = 0.7;
    ctx.beginPath();
    ctx.moveTo(...place(knots[knots.length - 1].at));
    curve(ctx, knots[knots.length - 1], { at: pen }, place);
    ctx.stroke();
    ctx.globalAlpha = 1;
    ctx.setLineDash([]);
  }
  const last = knots[knots.length - 1];
  for (const handle of [last.before, last.after])
    if (handle) {
      line(ctx, place(last.at), place(handle), colors.slot, []);
      dot(ctx, place(handle), 3, "#fffdf8", colors.slot);
    }
  knots.forEach((knot, i) => dot(ctx, place(knot.at), 3.5, "#fffdf8", colors.slot, !knot.after || i === 0));
  // The first point grows into a target while the pen is near enough to close there.
  const first = place(knots[0].at);
  const closing = pen && knots.length > 1 && Math.hypot(place(pen)[0] - first[0], place(pen)[1] - first[1]) < 11;
  dot(ctx, first, closing ? 8 : 5, closing ? colors.slot : "#fffdf8", colors.slot);
}

export function paintSelected(
  ctx: CanvasRenderingContext2D,
  scene: Scene,
  aids: Aids,
  view: View,
  tops: Point[],
  colors: Colors,
  ratio: number,
) {
  const object = scene.objects[aids.selected!];
  if (!object) return;
  const m = pageMatrix(view, tops[object.page] ?? [0, 0]);
  const nest = scene.nests[object.id];
  if (nest && aids.slots) {
    ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    ctx.save();
    ctx.transform(...m);
    if (nest.matrix) ctx.transform(...nest.matrix);
    ctx.globalAlpha = Math.min(0.6, Math.max(0.3, 0.05 * nest.size * m[0]));
    ctx.strokeStyle = colors.slot;
    ctx.lineWidth = 1 / m[0];
    ctx.beginPath();
    for (let row = 0; row < nest.records.length; row += COLUMNS) {
      if (nest.records[row + PAST]) continue;
      const y = nest.records[row + BASELINE] + Math.max(1.5 / m[0], 0.12 * nest.size);
      ctx.moveTo(nest.records[row + SLOT_LEFT], y);
      ctx.lineTo(nest.records[row + SLOT_RIGHT], y);
    }
    ctx.stroke();
    ctx.restore();
  }
  if (nest && aids.caret?.frame === object.id) {
    for (const id of nest.chain?.frames ?? []) {
      const other = scene.nests[id];
      if (id !== object.id && other)
        paintCaret(
          ctx,
          scene,
          other,
          { ...aids, blink: false },
          pageMatrix(view, tops[scene.objects[id].page] ?? [0, 0]),
          ratio,
          colors,
        );
    }
    paintCaret(ctx, scene, nest, aids, m, ratio, colors);
    if (aids.caret) return;
  }
  if (object.locked || aids.draft) return;
  if (aids.marks && object.picture) {
    ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    paintMarks(ctx, object, aids.marks, m);
    return;
  }
  if (aids.points) {
    ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    paintPoints(ctx, scene, aids, m, colors);
    return;
  }
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  const corners = (
    [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ] as Point[]
  ).map(([fx, fy]) => apply(m, apply(object.matrix, [fx * object.box[2], fy * object.box[3]])));
  ctx.strokeStyle = colors.slot;
  ctx.globalAlpha = 0.5;
  ctx.lineWidth = 1;
  ctx.setLineDash([3, 3]);
  ctx.beginPath();
  corners.forEach(([x, y], i) => (i ? ctx.lineTo(x, y) : ctx.moveTo(x, y)));
  ctx.closePath();
  ctx.stroke();
  ctx.setLineDash([]);
  ctx.globalAlpha = 1;
  ctx.lineWidth = 1.5;
  ctx.fillStyle = "#fffdf8";
  for (const handle of aids.others.length ? [] : handlesOf(object)) {
    const [x, y] = apply(m, handle.at);
    const corner = handle.fx !== 0.5 && handle.fy !== 0.5;
    ctx.beginPath();
    ctx.arc(x, y, corner ? 4.5 : 3, 0, 2 * Math.PI);
    ctx.fill();
    ctx.stroke();
  }
  for (const tie of aids.others.length ? [] : object.ties.filter((t) => t.edge !== "width")) {
    const other = scene.objects[tie.to];
    if (!other || other.page !== object.page) continue;
    const [mine, its] = [middleOf(extentOf(object), tie.edge), middleOf(extentOf(other), tie.its)];
    const [a, b] = [apply(m, mine), apply(m, its)];
    ctx.setLineDash([2, 3]);
    ctx.beginPath();
    ctx.moveTo(...a);
    ctx.lineTo(...b);
    ctx.stroke();
    ctx.setLineDash([]);
    for (const [x, y] of [a, b]) {
      ctx.beginPath();
      ctx.rect(x - 3, y - 3, 6, 6);
      ctx.fillStyle = colors.slot;
      ctx.fill();
    }
  }
  if (!aids.others.length && showsPivot(object)) {
    const [px, py] = apply(m, pivotOf(object));
    ctx.beginPath();
    ctx.arc(px, py, 4, 0, 2 * Math.PI);
    ctx.stroke();
  }
  const type = typeHandle(scene, object, aids.others.length > 0, m);
  if (type) {
    ctx.beginPath();
    ctx.arc(...type, 8, 0, 2 * Math.PI);
    ctx.fillStyle = colors.sheet;
    ctx.fill();
    ctx.stroke();
    ctx.fillStyle = colors.slot;
    ctx.font = "italic 12px 'Chrome Serif', serif";
    ctx.textAlign = "center";
    ctx.textBaseline = "alphabetic";
    ctx.fillText("a", type[0], type[1] + 3.5);
    ctx.textAlign = "left";
  }
  const [x, y] = turnHandle(object, m);
  ctx.beginPath();
  ctx.arc(x, y, 7, -0.4 * Math.PI, 1.1 * Math.PI);
  ctx.stroke();
  ctx.beginPath();
  ctx.arc(x, y, 2.2, 0, 2 * Math.PI);
  ctx.fillStyle = colors.slot;
  ctx.fill();
}

/** What is marked as a picture's subject: a rectangle round it, strokes on it and beside it. */
function paintMarks(ctx: CanvasRenderingContext2D, object: ObjectScene, marks: NonNullable<Aids["marks"]>, m: Matrix) {
  const [x, y, w, h] = object.picture!.place;
  const at = ([fx, fy]: Point) => apply(m, apply(object.matrix, [x + fx * w, y + fy * h]));
  ctx.lineCap = ctx.lineJoin = "round";
  for (const [strokes, color] of [
    [marks.keep, "rgb(30 138 143 / 0.75)"],
    [marks.drop, "rgb(138 101 16 / 0.75)"],
  ] as const)
    for (const stroke of strokes) {
      ctx.strokeStyle = color;
      ctx.lineWidth = 7;
      ctx.beginPath();
      stroke.forEach((p, i) => (i ? ctx.lineTo(...at(p)) : ctx.moveTo(...at(p))));
      ctx.stroke();
    }
  ctx.lineCap = "butt";
  if (marks.box) {
    const [bx, by, bw, bh] = marks.box;
    ctx.strokeStyle = "#1e8a8f";
    ctx.lineWidth = 2;
    ctx.setLineDash([6, 4]);
    ctx.beginPath();
    (
      [
        [bx, by],
        [bx + bw, by],
        [bx + bw, by + bh],
        [bx, by + bh],
      ] as Point[]
    ).forEach((p, i) => (i ? ctx.lineTo(...at(p)) : ctx.moveTo(...at(p))));
    ctx.closePath();
    ctx.stroke();
    ctx.setLineDash([]);
  }
}

/** The chain that a frame is in: the order of its frames, and where the copy goes on from one to the next. */
export function paintChain(
  ctx: CanvasRenderingContext2D,
  scene: Scene,
  selected: string,
  view: View,
  tops: Point[],
  colors: Colors,
  ratio: number,
) {
  const chain = scene.nests[selected]?.chain?.frames.filter((id) => scene.objects[id] && !scene.objects[id].hidden);
  if (!chain) return;
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  ctx.strokeStyle = colors.slot;
  ctx.lineWidth = 1.5;
  const corner = (id: string, fx: number, fy: number): Point => {
    const object = scene.objects[id];
    return apply(
      pageMatrix(view, tops[object.page] ?? [0, 0]),
      apply(object.matrix, [fx * object.box[2], fy * object.box[3]]),
    );
  };
  chain.forEach((id, index) => {
    if (index + 1 < chain.length) {
      const [a, b] = [corner(id, 1, 1), corner(chain[index + 1], 0, 0)];
      const reach = Math.min(60, Math.hypot(b[0] - a[0], b[1] - a[1]) / 2);
      ctx.setLineDash([1, 4]);
      ctx.lineCap = "round";
      ctx.beginPath();
      ctx.moveTo(...a);
      ctx.bezierCurveTo(a[0] + reach, a[1] + reach / 3, b[0] - reach, b[1] - reach / 3, ...b);
      ctx.stroke();
      ctx.setLineDash([]);
      ctx.lineCap = "butt";
    }
  });
  ctx.font = "600 11px 'Source Sans 3', sans-serif";
  ctx.textAlign = "center";
  ctx.textBaseline = "middle";
  chain.forEach((id, index) => {
    // Outside the corner, where no handle is.
    const [cx, cy] = corner(id, 0, 0);
    const [x, y] = [cx - 11, cy - 9];
    dot(ctx, [x, y], 8.5, id === selected ? colors.slot : "#fffdf8", colors.slot);
    ctx.fillStyle = id === selected ? "#fffdf8" : "#14676b";
    ctx.fillText(String(index + 1), x, y + 0.5);
  });
  ctx.textAlign = "left";
}

/** Where in the copy an object belongs that stands elsewhere, and that it does. */
export function paintAnchors(
  ctx: CanvasRenderingContext2D,
  scene: Scene,
  selected: string[],
  view: View,
  tops: Point[],
  colors: Colors,
  ratio: number,
) {
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  for (const [id, anchor] of Object.entries(scene.anchors)) {
    const object = scene.objects[id];
    if (!object || object.hidden || !(selected.includes(id) || selected.includes(anchor.frame))) continue;
    const m = pageMatrix(view, tops[anchor.page] ?? [0, 0]);
    const [x1, y1, x2, y2] = anchor.mark;
    const [top, foot] = [apply(m, [x1, y1]), apply(m, [x2, y2])];
    const e = extentOf(object);
    const to = apply(m, [Math.min(Math.max(x1, e.left), e.right), Math.min(Math.max(y1, e.top), e.bottom)]);
    line(ctx, top, foot, colors.slot, []);
    if (Math.hypot(to[0] - top[0], to[1] - top[1]) > 4) line(ctx, top, to, colors.slot, [2, 3]);
    dot(ctx, top, 4.5, selected.includes(id) ? colors.slot : "#fffdf8", colors.slot);
  }
}

function middleOf(e: Extent, edge: string): Point {
  const [x, y] = [(e.left + e.right) / 2, (e.top + e.bottom) / 2];
  return edge === "left"
    ? [e.left, y]
    : edge === "right"
      ? [e.right, y]
      : edge === "top"
        ? [x, e.top]
        : edge === "bottom"
          ? [x, e.bottom]
          : [x, y];
}
