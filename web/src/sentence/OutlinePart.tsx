import { useShallow } from "zustand/react/shallow";
import { editPoints } from "../bench/arrange";
import type { Plain } from "../api/client";
import { knotsOf } from "../bench/knots";
import type { Outline, Thing } from "../state/document";
import { keepTried } from "../state/sending";
import { shownScene, useStore } from "../state/store";
import { tryOut } from "../state/trying";
import { oneOrFour, shown } from "../state/units";
import { LengthField } from "./LengthField";
import { Part } from "../parts/Part";
import { Slider } from "./Slider";

const NAMES: Record<string, string> = {
  rectangle: "a rectangle",
  ellipse: "an ellipse",
  polygon: "a polygon",
  star: "a star",
  heart: "a heart",
  leaf: "a leaf",
  kite: "a kite",
  bubble: "a speech bubble",
  arch: "an arch",
  drop: "a drop",
  flag: "a flag",
  ticket: "a ticket",
  cloud: "a cloud",
  ring: "a ring",
};

/** Figures of a ready outline: field, label, how it is read, least and greatest. */
interface Figure {
  field: "sides" | "points" | "depth" | "tail";
  label: string;
  share?: boolean;
  low: number;
  high: number;
}

const SHARE = { share: true, low: 1, high: 99 };
const FIGURES: Partial<Record<NonNullable<Outline["kind"]>, Figure[]>> = {
  polygon: [{ field: "sides", label: "Sides", low: 3, high: 100 }],
  star: [
    { field: "points", label: "Points", low: 3, high: 100 },
    { field: "depth", label: "Depth, in %", ...SHARE },
  ],
  bubble: [
    { field: "depth", label: "Tail, % of the height", ...SHARE },
    { field: "tail", label: "Its tip, % from the left", share: true, low: 0, high: 100 },
  ],
  arch: [{ field: "depth", label: "Curve, % of the height", ...SHARE }],
  flag: [{ field: "depth", label: "Notch, % of the width", ...SHARE }],
  ticket: [{ field: "depth", label: "Bites, % of the height", ...SHARE }],
  cloud: [{ field: "points", label: "Puffs", low: 3, high: 40 }],
  ring: [{ field: "depth", label: "Breadth, in %", ...SHARE }],
};

/** What the outline is: a ready one with its figures, or drawn by its points. */
export function OutlinePart({ thing }: { thing: Thing }) {
  const [contours, count] = useStore(
    useShallow((s) => {
      const object = shownScene(s)?.objects[thing.id];
      const rings = object ? knotsOf(object, "outline") : [];
      return [rings.length, rings.reduce((n, ring) => n + ring.length, 0)];
    }),
  );
  const live = useStore((s) => shownScene(s)?.objects[thing.id]?.figures) ?? NONE;
  const outline = thing.outline ?? {};
  const kind = outline.kind ?? "rectangle";
  const put = (values: Record<string, unknown>): Plain[] => [
    { do: "put", at: ["objects", thing.id, "outline"], value: { ...outline, kind, ...values } },
  ];
  const figures = FIGURES[kind] ?? [];
  const radius = outline.radius;
  const radii = Array.isArray(radius) ? radius.map(shown).join(" ") : shown(radius ?? 0);
  const said = kind === "path" ? `drawn by ${count} points` : saidOf(kind, live, radii);
  return (
    <Part name="outline" title="Its outline" said={said}>
      {(close) => (
        <div className="space-y-3">
          {(kind === "rectangle" || kind === "bubble") && (
            <LengthField
              label="Corners"
              value={radii}
              onTry={(text) => tryOut(put({ radius: oneOrFour(text) }))}
              onKeep={(text) => void keepTried(put({ radius: oneOrFour(text) }), "Corners")}
              hint={kind === "rectangle" ? "One radius, or four from the top left on." : undefined}
            />
          )}
          {figures.map((figure) => (
            <FigureField key={figure.field} figure={figure} value={live[figure.field] ?? figure.low} put={put} />
          ))}
          {kind === "path" && (
            <p className="text-soft">
              {count} points in {contours} {contours === 1 ? "contour" : "contours"}.
            </p>
          )}
          <button
            className="button -ml-3"
            onClick={() => {
              close();
              editPoints();
            }}
          >
            Edit its points <span className="text-xs text-soft">E</span>
          </button>
          {kind !== "path" && (
            <p className="text-xs text-soft">
              Once a point is moved it is drawn by its points; until then its figures stay.
            </p>
          )}
        </div>
      )}
    </Part>
  );
}

const NONE: Record<string, number> = {};

function saidOf(kind: string, figures: Record<string, number>, radii: string): string {
  const name = NAMES[kind] ?? `a ${kind}`;
  if (kind === "rectangle" && !/^0 /.test(radii)) return `${name} with ${radii} corners`;
  if (kind === "polygon") return `${name} of ${figures.sides} sides`;
  if (kind === "star") return `${name} of ${figures.points} points`;
  if (kind === "cloud") return `${name} of ${figures.points} puffs`;
  return name;
}

function FigureField({
  figure,
  value,
  put,
}: {
  figure: Figure;
  value: number;
  put: (values: Record<string, unknown>) => Plain[];
}) {
  const shownAs = Math.round(value * (figure.share ? 100 : 1));
  const read = (n: number) => ({ [figure.field]: figure.share ? n / 100 : n });
  return (
    <div className="flex items-center gap-3 text-soft">
      <span className="flex-1">{figure.label}</span>
      <Slider
        label={figure.label.split(",")[0]}
        className="w-24"
        min={figure.low}
        max={Math.min(figure.high, figure.share ? 100 : 24)}
        value={shownAs}
        onTry={(n) => tryOut(put(read(n)))}
        onKeep={(n) => void keepTried(put(read(n)), figure.label.split(",")[0], `figure:${figure.field}`)}
      />
    </div>
  );
}
