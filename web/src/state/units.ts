/** Writing lengths for the eye. Reading them is the server's: a typed length is sent as it was typed. */
import type { Length } from "./document";
import { useStore } from "./store";

const POINTS: Record<string, number> = { pt: 1, mm: 72 / 25.4, cm: 720 / 25.4, in: 72, px: 0.75, pc: 12 };
const STEP: Record<string, number> = { pt: 1, mm: 0.5, cm: 0.05, in: 1 / 32, px: 1, pc: 0.5, em: 0.05 };

export function trim(value: number, digits = 2): string {
  return String(Number(value.toFixed(digits)));
}

/** A length in points in a unit: `12.7 mm`. */
export function inUnit(points: number, unit = "pt"): string {
  return `${trim(points / (POINTS[unit] ?? 1), unit === "in" ? 3 : 2)} ${unit}`;
}

/** The unit of the open document: one of pixels speaks of them everywhere. */
function own(): string {
  return useStore.getState().document?.unit ?? "mm";
}

/** The unit of type and strokes: points, or pixels on screens. */
export function fineUnit(): string {
  return own() === "px" ? "px" : "pt";
}

/** Points as type is measured: `11 pt`, on screens `15 px`. */
export function fine(points: number, digits = 2): string {
  return `${trim(points / POINTS[fineUnit()], digits)} ${fineUnit()}`;
}

/** A length as it stands in the document, for reading: `12` is `12 pt`, `3mm` is `3 mm`. */
export function shown(length: Length | null | undefined): string {
  if (typeof length === "number") return fine(length);
  const text = String(length ?? "0");
  if (/^[\d.]+$/.test(text)) return fine(Number(text));
  return text.replace(/^([\d.]+)(pt|mm|cm|in|px|pc|em)$/, "$1 $2");
}

/** One length or four, as in CSS: two when top and bottom, right and left are the same. */
export function sidesShown(sides: Length | Length[] | null | undefined): string {
  if (!Array.isArray(sides)) return shown(sides ?? 0);
  // Among others nothing needs no unit, as in CSS.
  const [top, right, bottom, left] = sides.map((side) =>
    Number.parseFloat(String(side)) === 0 && /^0\D*$/.test(String(side)) ? "0" : shown(side),
  );
  if (top === bottom && right === left) return top === right ? shown(sides[0]) : `${top} ${right}`;
  return `${top} ${right} ${bottom} ${left}`;
}

/** The length a number of steps further, in the unit it is typed in; null when the text is not one figure. */
export function stepped(text: string, steps: number): string | null {
  const pica = text.trim().match(/^(\d+)p(\d+(?:\.\d+)?)?$/);
  if (pica) {
    const points = Math.max(0, Number(pica[1]) * 12 + Number(pica[2] ?? 0) + steps);
    return `${Math.floor(points / 12)}p${trim(points % 12)}`;
  }
  const match = text.trim().match(/^(-?\d*\.?\d+)\s*(pt|mm|cm|in|px|pc|em|%|°)?$/);
  if (!match) return null;
  const unit = match[2] ?? "pt";
  const next = Number(match[1]) + steps * (STEP[unit] ?? 1);
  return `${trim(next, 5)}${match[2] ? ` ${unit}` : ""}`;
}

/** A figure typed without a unit takes that of what stood there before; points need none. */
export function inItsUnit(text: string, before: string): string {
  const unit = before.match(/(mm|cm|in|px|pc)(?![a-z])/)?.[1] ?? (own() === "px" ? "px" : null);
  if (!unit) return text;
  return text
    .split(/(\s+)/)
    .map((part) => (/^-?(\d+([.,]\d*)?|[.,]\d+)$/.test(part) ? `${part}${unit}` : part))
    .join("")
    .replace(/(\d)(mm|cm|in|px|pc|em)(\s+)(?=(mm|cm|in|px|pc|em|pt)\b)/g, "$1$3");
}

/** One length, or four for four sides, as typed in CSS: `12`, `12 8`, `12 8 12 24`. */
export function oneOrFour(text: string): string | string[] {
  // A sum is one length: no space parts its terms.
  const parts = text
    .trim()
    .replace(/\s*([+\-−*/×])\s*/g, "$1")
    .split(/\s+(?=[\d.])/);
  if (parts.length === 1) return text;
  const [top, right = top, bottom = top, left = right] = parts;
  return [top, right, bottom, left];
}
