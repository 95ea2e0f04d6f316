/** The tools of the bench, by what is in hand. */
import type { InHand } from "../../state/model/chosen";
import { copy } from "./copy";
import { draw } from "./draw";
import { hand } from "./hand";
import { line } from "./line";
import { outline } from "./outline";
import { pivot } from "./pivot";
import { points } from "./points";
import { subject } from "./subject";
import { tie } from "./tie";
import type { BenchTool } from "./tool";
import { why } from "./why";
import { within } from "./within";

const TOOLS: { [Kind in InHand["kind"]]: BenchTool<Kind> } = {
  hand,
  outline,
  draw,
  points,
  subject,
  within,
  copy,
  line,
  tie,
  pivot,
  why,
};

/** The tool for what is in hand. */
export function toolOf(inHand: InHand): BenchTool {
  return TOOLS[inHand.kind] as BenchTool;
}
