/** Paints the bench: sheets, objects and nests, and over them the aids (slots, selection, wraps). */
import type { ObjectScene } from "../api/client";
import { once } from "../state/later";
import { BASELINE, COLUMNS, PAST, SLOT_LEFT, SLOT_RIGHT } from "../drawing/records";
import { drawObject, pathOf, wrapOf } from "../drawing/scene";
import { pictures } from "../drawing/pictures";
import type { Caught, DraftKnot, Scene } from "../state/seen";
import { placeOf, stretches } from "../drawing/caret";
import { knotsOf } from "./knots";
import { paintRulers } from "./rulers";
import type { Why } from "../state/seen";
import {
  apply,
  type Extent,
  extentOf,
  handlesOf,
  inverse,
  type Matrix,
  pageMatrix,
  pagePlaces,
  type Point,
  type View,
} from "../state/geometry";
import { met } from "./reach";

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

/** How far the shadow of a sheet reaches. */
const REACHES = 48;
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
function paintShadow(ctx: CanvasRenderingContext2D, x: number, y: number, w: number, h: number) {
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

const CAUGHT = "#8a6510";

function line(ctx: CanvasRenderingContext2D, a: Point, b: Point, color: string, dash: number[]) {
  ctx.strokeStyle = color;
  ctx.lineWidth = 1;
  ctx.setLineDash(dash);
  ctx.beginPath();
  ctx.moveTo(...a);
  ctx.lineTo(...b);
  ctx.stroke();
  ctx.setLineDash([]);
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

function dot(ctx: CanvasRenderingContext2D, [x, y]: Point, r: number, fill: string, stroke: string, square = false) {
  ctx.beginPath();
  if (square) ctx.rect(x - r, y - r, 2 * r, 2 * r);
  else ctx.arc(x, y, r, 0, 2 * Math.PI);
  ctx.fillStyle = fill;
  ctx.strokeStyle = stroke;
  ctx.lineWidth = 1.5;
  ctx.fill();
  ctx.stroke();
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

function paintDraft(
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

function curve(ctx: CanvasRenderingContext2D, a: DraftKnot, b: DraftKnot, place: (p: Point) => Point) {
  if (a.after || b.before) ctx.bezierCurveTo(...place(a.after ?? a.at), ...place(b.before ?? b.at), ...place(b.at));
  else ctx.lineTo(...place(b.at));
}

function paintSelected(
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
function paintChain(
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
function paintAnchors(
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

/** A turned object shows what it turns about. */
export function showsPivot(object: Pick<ObjectScene, "turn" | "pivot">): boolean {
  return object.turn !== 0 || object.pivot[0] !== 0.5 || object.pivot[1] !== 0.5;
}

/** A place outside a corner of an object, in CSS px, away from its middle: farther where a finger is to meet it and
 * no other. */
function outside({ matrix, box }: Pick<ObjectScene, "matrix" | "box">, [fx, fy]: Point, page: Matrix): Point {
  const on = (x: number, y: number) => apply(page, apply([...matrix] as Matrix, [x * box[2], y * box[3]]));
  const [corner, middle] = [on(fx, fy), on(0.5, 0.5)];
  const [dx, dy] = [corner[0] - middle[0], corner[1] - middle[1]];
  const far = met(21) / (Math.hypot(dx, dy) || 1);
  return [corner[0] + dx * far, corner[1] + dy * far];
}

/** Where the handle is that sizes a frame with its type: outside its lower right corner. None where there is no
 * copy. */
export function typeHandle(scene: Scene, object: ObjectScene, among: boolean, page: Matrix): Point | null {
  return among || !scene.nests[object.id]?.words ? null : outside(object, [1, 1], page);
}

/** Where the turning handle is, in CSS px: outside the upper right corner. */
export function turnHandle(object: Pick<ObjectScene, "matrix" | "box">, page: Matrix): Point {
  return outside(object, [1, 0], page);
}

/** The pivot on its page. */
export function pivotOf(object: Pick<ObjectScene, "box" | "pivot">): Point {
  return [object.box[0] + object.pivot[0] * object.box[2], object.box[1] + object.pivot[1] * object.box[3]];
}
