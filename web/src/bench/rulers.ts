/** Rulers along the bench's top and left, in the document's unit, and the guides dragged out of them. */
import { act, type Operation } from "../api/client";
import { keepTried } from "../state/sending";
import { useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import type { Scene } from "../state/seen";
import { inUnit } from "../state/units";
import { apply, inverse, type Matrix, type Point, rounded } from "../state/geometry";
import type { Gesture } from "./gesture";

export const RULER = 18;
const POINTS: Record<string, number> = { pt: 1, mm: 72 / 25.4, cm: 720 / 25.4, in: 72, px: 0.75, pc: 12 };
const STEPS = [0.125, 0.25, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000];

/** A page along a ruler: where its figures begin, and from where to where they are its own, in CSS px. */
interface Along {
  zero: number;
  from: number;
  to: number;
}

/** The pages along both rulers: figures begin anew at each. */
function pagesAlong(
  scene: Scene,
  places: Point[],
  view: { scale: number; x: number; y: number },
  k: number,
  size: Point,
): [Along[], Along[]] {
  const boxes = scene.pages.map((page, i) => ({
    left: view.x + places[i][0] * k,
    top: view.y + places[i][1] * k,
    width: page.width * k,
    height: page.height * k,
  }));
  // Pages side by side stand along the upper ruler: those of the row that is seen in the middle.
  const middle = size[1] / 2;
  const far = (box: (typeof boxes)[number]) => Math.max(box.top - middle, middle - box.top - box.height, 0);
  const nearest = boxes.reduce((a, b) => (far(b) < far(a) ? b : a));
  const row = boxes.filter((box) => Math.abs(box.top - nearest.top) < 1);
  const rows = boxes.filter((box, i) => boxes.findIndex((other) => Math.abs(other.top - box.top) < 1) === i);
  const apart = (starts: [number, number][]): Along[] =>
    starts.map(([zero, length], i) => ({
      zero,
      from: i ? (starts[i - 1][0] + starts[i - 1][1] + zero) / 2 : -Infinity,
      to: i < starts.length - 1 ? (zero + length + starts[i + 1][0]) / 2 : Infinity,
    }));
  return [apart(row.map((box) => [box.left, box.width])), apart(rows.map((box) => [box.top, box.height]))];
}

export function paintRulers(
  ctx: CanvasRenderingContext2D,
  size: Point,
  scene: Scene,
  places: Point[],
  view: { scale: number; x: number; y: number },
  k: number,
  unit: string,
  ground: string,
  ink: string,
) {
  const perUnit = (POINTS[unit] ?? 1) * k;
  const step = STEPS.find((s) => s * perUnit >= 56) ?? 2000;
  ctx.fillStyle = ground;
  ctx.fillRect(0, 0, size[0], RULER);
  ctx.fillRect(0, 0, RULER, size[1]);
  ctx.fillStyle = ctx.strokeStyle = ink;
  ctx.lineWidth = 1;
  ctx.font = "10px 'Chrome Sans', sans-serif";
  ctx.textBaseline = "alphabetic";
  ctx.textAlign = "left";
  ctx.beginPath();
  const [across, down] = pagesAlong(scene, places, view, k, size);
  for (const [axis, pages, length] of [
    [0, across, size[0]],
    [1, down, size[1]],
  ] as const) {
    const place = (along: number, off: number): Point => (axis === 0 ? [along, off] : [off, along]);
    for (const { zero, from, to } of pages) {
      const first = Math.floor((Math.max(RULER, from) - zero) / (perUnit * step));
      for (let n = first; zero + n * step * perUnit < Math.min(length, to); n++) {
        for (let part = 0; part < 5; part++) {
          const at = Math.round(zero + (n + part / 5) * step * perUnit) + 0.5;
          if (at < Math.max(RULER, from) || at > to) continue;
          ctx.moveTo(...place(at, part ? RULER - 4 : RULER - 9));
          ctx.lineTo(...place(at, RULER));
        }
        const label = String(Math.round(n * step * 1000) / 1000);
        const at = zero + n * step * perUnit;
        if (at < Math.max(RULER, from) || at + 18 > to) continue;
        if (axis === 0) ctx.fillText(label, at + 3, 9);
        else {
          ctx.save();
          ctx.translate(9, at - 3);
          ctx.rotate(-Math.PI / 2);
          ctx.fillText(label, 0, 0);
          ctx.restore();
        }
      }
    }
  }
  ctx.globalAlpha = 0.45;
  ctx.stroke();
  ctx.globalAlpha = 1;
}

/** What a press takes hold of: a new guide out of a ruler, or one that is there by its end outside the page. */
export function guideAt(
  scene: Scene,
  page: number,
  m: Matrix,
  at: Point,
): { axis: "x" | "y"; index: number | null } | null {
  if (at[1] < RULER && at[0] > RULER) return { axis: "y", index: null };
  if (at[0] < RULER && at[1] > RULER) return { axis: "x", index: null };
  const sheet = scene.pages[page];
  const [x, y] = apply(inverse(m), at);
  const outside = x < 0 || y < 0 || x > sheet.width || y > sheet.height;
  if (!outside) return null;
  for (const axis of ["x", "y"] as const) {
    const here = axis === "x" ? x : y;
    const index = sheet.guides[axis].findIndex((g) => Math.abs(g - here) * m[0] < 5);
    if (index >= 0) return { axis, index };
  }
  return null;
}

/** Drags a guide; let go outside the page it is taken away. What is done adds up with what is on its way. */
export function draggingGuide(
  scene: Scene,
  page: number,
  m: Matrix,
  { axis, index }: { axis: "x" | "y"; index: number | null },
): Gesture {
  const unit = useStore.getState().document?.unit ?? "mm";
  const sheet = scene.pages[page];
  const old = index === null ? null : sheet.guides[axis][index];
  const back = inverse(m);
  let last: Operation[] | null = null;
  return {
    readout: "",
    move(at) {
      const place = apply(back, at)[axis === "x" ? 0 : 1];
      const inside = place >= 0 && place <= (axis === "x" ? sheet.width : sheet.height);
      last = act("guide", { page, axis, old, new: inside ? rounded(place) : null });
      this.readout = inside ? inUnit(rounded(place), unit) : "taken away";
      tryOut(last);
    },
    end() {
      if (last) void keepTried(last, "Guide");
    },
    cancel: stopTrying,
  };
}
