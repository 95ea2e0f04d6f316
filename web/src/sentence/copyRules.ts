/** What the rules of the copy that is chosen say, one for all or each its own. */

import { type Face, type Schemas, type ShapeScene } from "../api/client";
import { useStore } from "../state/store";
import { fine } from "../state/units";

export type Rule = Schemas["RuleScene"];

/** Whether stretches are less than whole paragraphs. */
export function partly(shape: ShapeScene, stretches: [number, number][]): boolean {
  const characters = Array.from(shape.text);
  const starts = (at: number) => at === 0 || characters[at - 1] === "\n";
  const ends = (at: number) => at >= characters.length || characters[at] === "\n";
  return stretches.some(([from, to]) => !(starts(from) && ends(to)));
}

/** How the letters of some stretches look, as rules. */
export function looksOf(shape: ShapeScene, stretches: [number, number][], faces: Face[]): Rule[] {
  const base = shape.rules[shape.ruleOf[0]];
  const found = new Set<number>();
  for (const [from, to] of stretches)
    shape.start.forEach((start, i) => start < to && shape.end[i] > from && found.add(shape.look[i]));
  return [...found].map((n) => {
    const look = shape.looks[n];
    const weight = faces.find((f) => f.key === look.face)?.weight ?? look.weight;
    return {
      ...base,
      size: look.size,
      font: look.font,
      weight: look.weight || weight,
      fontWidth: look.fontWidth,
      slope: look.slope,
      color: look.color,
      colorName: look.colorName,
      tracking: look.tracking,
      features: look.tags,
      underline: look.underline,
      letterStroke: look.stroke,
    };
  });
}

/** The rules of all paragraphs of some frames. */
export function rulesOf(ids: string[]): Rule[] {
  const { scene } = useStore.getState();
  return ids.flatMap((id) => {
    const shape = scene?.shapes[scene.nests[id]?.shape];
    return shape ? shape.ruleOf.map((n) => shape.rules[n]) : [];
  });
}

export function only<T>(values: T[]): T | null {
  return values.every((v) => v === values[0]) ? values[0] : null;
}

/** Points as type is measured, without the unit. */
function bare(points: number): string {
  return fine(points).split(" ")[0];
}

export function range(values: number[]): string {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  return low === high ? bare(low) : `${bare(low)}–${bare(high)}`;
}

export function single(values: number[]): string {
  return only(values) === null ? "" : fine(values[0], 3);
}
