/** Draws a scene on a canvas. Letters stand where the engine put them: each word at its x, from the engine's font
 * file. */
import type { NestScene, ObjectScene, ShapeScene } from "../api/client";
import type { Scene } from "../state/seen";
import { apply, type Extent, extentOf, inverse, type Matrix } from "../state/geometry";
import { canvasFont, faceReady } from "./fonts";
import {
  BASELINE,
  TOP,
  BOTTOM,
  START,
  END,
  LEFT,
  RIGHT,
  PAST,
  FIRST_WORD,
  WORDS,
  HYPHEN,
  TRACKING,
  WIDE,
  COLUMNS,
} from "./records";

const paths = new WeakMap<ObjectScene, Path2D>();
const wraps = new WeakMap<ObjectScene, Path2D>();
const words = new WeakMap<ShapeScene, string[]>();

export function pathOf(object: ObjectScene): Path2D {
  let path = paths.get(object);
  if (!path) paths.set(object, (path = new Path2D(object.path)));
  return path;
}

const clips = new WeakMap<ObjectScene, Path2D>();

/** The contour that a picture is painted inside of. */
function clipOf(object: ObjectScene): Path2D {
  let path = clips.get(object);
  if (!path) clips.set(object, (path = new Path2D(object.picture!.clip!)));
  return path;
}

export function wrapOf(object: ObjectScene): Path2D | null {
  if (!object.wrap) return null;
  let path = wraps.get(object);
  if (!path) wraps.set(object, (path = new Path2D(object.wrap)));
  return path;
}

/** The text of a shape's word segments; indices count code points. */
export function wordsOf(shape: ShapeScene): string[] {
  let found = words.get(shape);
  if (!found) words.set(shape, (found = shape.start.map((start, i) => textOf(shape, start, shape.end[i]))));
  return found;
}

const characters = new WeakMap<ShapeScene, string[] | null>();

/** Copy from one code point to another. */
export function textOf(shape: ShapeScene, a: number, b: number): string {
  let each = characters.get(shape);
  if (each === undefined)
    characters.set(shape, (each = /[\ud800-\udbff]/.test(shape.text) ? Array.from(shape.text) : null));
  return each ? each.slice(a, b).join("") : shape.text.slice(a, b);
}

export interface Pictures {
  get(file: string): CanvasImageSource | null;
}

/** What could not be drawn yet, counted from the start of a painting: fonts and pictures still on their way. */
export const missing = { count: 0 };

type LetterStroke = NonNullable<ShapeScene["looks"][number]["stroke"]>;

/** What lies behind the letters: a second stroke, and one that shows outside them. */
function strokeBehind(ctx: CanvasRenderingContext2D, stroke: LetterStroke, text: string, x: number, y: number) {
  const out = stroke.position === "outside" ? stroke.width : stroke.width / 2;
  if (stroke.second)
    strokeLetters(
      ctx,
      { ...stroke, ...stroke.second, dash: [], cap: "butt", width: 2 * (out + stroke.second.width) },
      text,
      x,
      y,
    );
  if (stroke.position === "outside") strokeLetters(ctx, { ...stroke, width: 2 * stroke.width }, text, x, y);
}

function strokeLetters(
  ctx: CanvasRenderingContext2D,
  stroke: Omit<LetterStroke, "second" | "position">,
  text: string,
  x: number,
  y: number,
) {
  ctx.strokeStyle = stroke.color;
  ctx.lineWidth = stroke.width;
  ctx.lineCap = stroke.cap;
  ctx.lineJoin = stroke.join;
  ctx.setLineDash(stroke.dash);
  ctx.strokeText(text, x, y);
  ctx.setLineDash([]);
}

/** Lines that are left over are told from set ones by a dotted line under them as well, not by their colour alone. */
function underlinePast(ctx: CanvasRenderingContext2D, nest: NestScene, color: string) {
  const { records } = nest;
  const px = 1 / Math.max(1e-6, Math.hypot(ctx.getTransform().a, ctx.getTransform().b));
  ctx.beginPath();
  for (let row = 0; row < records.length; row += COLUMNS) {
    if (!records[row + PAST]) continue;
    // not as far as an object in line is tall
    const tall = Math.min(records[row + BASELINE] - records[row + TOP], 2 * nest.size);
    const y = records[row + BASELINE] + 0.22 * tall;
    ctx.moveTo(records[row + LEFT], y);
    ctx.lineTo(records[row + RIGHT], y);
  }
  ctx.strokeStyle = color;
  ctx.lineWidth = 1.5 * px;
  ctx.setLineDash([1.5 * px, 3 * px]);
  ctx.stroke();
  ctx.setLineDash([]);
}

export interface Look {
  clean: boolean;
  leftoverColor: string;
  /** The part of the page that is seen, in its points: what lies beside it is left out. Nothing is, when it is not
   * said. */
  seen?: Extent;
}

const extents = new WeakMap<ObjectScene, Extent>();

/** Whether an object, or its stroke, shows in a part of its page. */
function shows(object: ObjectScene, seen: Extent): boolean {
  let own = extents.get(object);
  if (!own) extents.set(object, (own = extentOf(object)));
  const more = 10 * (object.stroke?.width ?? 0); // a mitre's point
  return (
    own.left - more < seen.right &&
    own.right + more > seen.left &&
    own.top - more < seen.bottom &&
    own.bottom + more > seen.top
  );
}

/** The same part in a nest's own place, which is turned where its lines turn with it. */
function seenFrom(matrix: NestScene["matrix"], seen: Extent): Extent {
  if (!matrix) return seen;
  const back = inverse([...matrix] as Matrix);
  const corners = [seen.left, seen.right].flatMap((x) => [seen.top, seen.bottom].map((y) => apply(back, [x, y])));
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  return { left: Math.min(...xs), top: Math.min(...ys), right: Math.max(...xs), bottom: Math.max(...ys) };
}

export function drawObject(ctx: CanvasRenderingContext2D, scene: Scene, id: string, pictures: Pictures, look: Look) {
  const object = scene.objects[id];
  if (!object || object.hidden) return;
  const path = pathOf(object);
  if (!look.seen || shows(object, look.seen)) {
    ctx.save();
    ctx.transform(...object.matrix);
    if (object.paint && object.fill) {
      ctx.globalAlpha = object.fill.opacity;
      ctx.fillStyle = object.fill.color;
      ctx.fill(path);
      ctx.globalAlpha = 1;
    }
    if (object.picture) drawPicture(ctx, object, path, pictures);
    if (object.paint && object.stroke && object.stroke.width > 0) drawStroke(ctx, object, path);
    ctx.restore();
  }
  const nest = scene.nests[id];
  if (!nest) return;
  ctx.save();
  if (nest.clipped) {
    const whole = new Path2D();
    whole.addPath(path, new DOMMatrix([...object.matrix]));
    ctx.clip(whole);
  }
  const shape = scene.shapes[nest.shape];
  // Strokes behind letters lie behind all of them, the neighbours' too.
  if (shape?.looks.some(({ stroke }) => stroke && (stroke.second || stroke.position === "outside")))
    drawNest(ctx, nest, shape, look, true);
  drawNest(ctx, nest, shape, look);
  ctx.restore();
}

function drawPicture(ctx: CanvasRenderingContext2D, object: ObjectScene, path: Path2D, pictures: Pictures) {
  const image = pictures.get(object.picture!.file);
  const [x, y, width, height] = object.picture!.place;
  ctx.save();
  ctx.clip(path);
  if (object.picture!.clip) ctx.clip(clipOf(object));
  if (image) {
    ctx.imageSmoothingQuality = "high";
    ctx.drawImage(image, x, y, width, height);
  } else {
    missing.count++;
    ctx.fillStyle = "rgb(0 0 0 / 0.06)";
    ctx.fill(path);
  }
  ctx.restore();
}

function drawStroke(ctx: CanvasRenderingContext2D, object: ObjectScene, path: Path2D) {
  const stroke = object.stroke!;
  let width = stroke.width;
  ctx.save();
  if (stroke.position === "inside") {
    ctx.clip(path);
    width *= 2;
  } else if (stroke.position === "outside") {
    const [, , w, h] = object.box;
    const far = w + h + 4 * width;
    const around = new Path2D(path);
    around.rect(-far, -far, w + 2 * far, h + 2 * far);
    ctx.clip(around, "evenodd");
    width *= 2;
  }
  ctx.globalAlpha = stroke.opacity;
  ctx.strokeStyle = stroke.color;
  ctx.lineWidth = width;
  ctx.lineCap = stroke.cap;
  ctx.lineJoin = stroke.join;
  ctx.setLineDash(stroke.dash);
  ctx.stroke(path);
  ctx.restore();
}

/** Set the font and spacing of letters in one look on a line, to be drawn `wide` times as wide. False while the font
 * is on its way. */
export function setLetters(
  ctx: CanvasRenderingContext2D,
  look: ShapeScene["looks"][number],
  tracked: number,
  wide: number,
): boolean {
  const apart = look.tracking + tracked / wide;
  // A canvas does not join letters that are set apart; a file in which they always are does. The least spacing there is
  // leaves ligatures out as well.
  const joining = look.joined && apart !== 0;
  const fitted = joining && faceReady(look.face, look.fitted);
  const features = fitted ? look.fitted : look.features;
  if (joining && !fitted) missing.count++;
  ctx.font = canvasFont(look.face, look.size, features);
  ctx.letterSpacing = `${apart || (look.joined ? 0 : 1e-4)}px`;
  return faceReady(look.face, features);
}

function drawNest(
  ctx: CanvasRenderingContext2D,
  nest: NestScene,
  shape: ShapeScene | undefined,
  look: Look,
  behind = false,
) {
  if (!shape) return;
  const texts = wordsOf(shape);
  ctx.save();
  if (nest.matrix) ctx.transform(...nest.matrix);
  ctx.textBaseline = "alphabetic";
  ctx.textAlign = "left";
  ctx.textRendering = "geometricPrecision";
  ctx.fontKerning = "normal";
  const { records, x } = nest;
  let current = -1;
  let drawable = false;
  let past = false;
  let tracked = 0;
  let wide = 1;
  const upright = ctx.getTransform();
  let at = 0;
  const seen = look.seen && seenFrom(nest.matrix, look.seen);
  for (let row = 0; row < records.length; row += COLUMNS) {
    const high = records[row + BOTTOM] - records[row + TOP];
    if (seen && (records[row + TOP] - high > seen.bottom || records[row + BOTTOM] + high < seen.top)) {
      at += records[row + WORDS];
      continue;
    }
    const baseline = records[row + BASELINE];
    const isPast = records[row + PAST] > 0 && !look.clean;
    const last = records[row + FIRST_WORD] + records[row + WORDS];
    const tracking = records[row + TRACKING];
    if (tracking !== tracked) {
      tracked = tracking;
      current = -1;
    }
    if (records[row + WIDE] !== wide) {
      wide = records[row + WIDE];
      current = -1;
      ctx.setTransform(upright);
      if (wide !== 1) ctx.scale(wide, 1);
    }
    for (let word = records[row + FIRST_WORD]; word < last; word++, at++) {
      if (shape.look[word] !== current || isPast !== past) {
        current = shape.look[word];
        past = isPast;
        drawable = setLetters(ctx, shape.looks[current], tracked, wide);
        const { color } = shape.looks[current];
        ctx.fillStyle = past ? look.leftoverColor : color;
      }
      if (!drawable) {
        missing.count++;
        continue;
      }
      // A word may begin on the line before, or end in a hyphen that the engine set.
      const [start, end] = [
        Math.max(shape.start[word], records[row + START]),
        Math.min(shape.end[word], records[row + END]),
      ];
      let text = start === shape.start[word] && end === shape.end[word] ? texts[word] : textOf(shape, start, end);
      if (records[row + HYPHEN] && end === records[row + END]) text += shape.looks[current].hyphen;
      ctx.direction = shape.rtl[word] ? "rtl" : "ltr";
      const stroke = shape.looks[current].stroke;
      if (stroke && behind) strokeBehind(ctx, stroke, text, x[at] / wide, baseline);
      if (behind) continue;
      ctx.fillText(text, x[at] / wide, baseline);
      if (stroke?.position === "centred") strokeLetters(ctx, stroke, text, x[at] / wide, baseline);
    }
  }
  ctx.setTransform(upright);
  ctx.letterSpacing = "0px";
  ctx.direction = "ltr";
  if (behind) return ctx.restore();
  if (!look.clean) underlinePast(ctx, nest, look.leftoverColor);
  for (const mark of nest.marks) {
    if (!faceReady(mark.face)) {
      missing.count++;
      continue;
    }
    ctx.font = canvasFont(mark.face, mark.size);
    ctx.fillStyle = mark.color;
    ctx.fillText(mark.text, mark.x, mark.baseline);
  }
  if (nest.columnStroke) {
    const { color, width, dash, cap, opacity } = nest.columnStroke;
    ctx.globalAlpha = opacity;
    ctx.strokeStyle = color;
    ctx.lineWidth = width;
    ctx.lineCap = cap;
    ctx.setLineDash(dash);
    ctx.beginPath();
    for (const [x, top, bottom] of nest.columnRules) {
      ctx.moveTo(x, top);
      ctx.lineTo(x, bottom);
    }
    ctx.stroke();
    ctx.setLineDash([]);
    ctx.globalAlpha = 1;
  }
  for (const line of nest.underlines) {
    ctx.fillStyle = line.color;
    ctx.fillRect(line.left, line.y - line.thickness / 2, line.right - line.left, line.thickness);
  }
  ctx.restore();
}
