/** What several frames share in the sentence, and where they differ. */
import { DEFAULTS } from "../api/rules";
import { type Frame, type Length, type Thing, thingsOf } from "../state/document";
import { ruled, selection, useStore } from "../state/store";
import { shown, sidesShown } from "../state/units";
import { giveSaid } from "./giveSaid";
import { fillSaid, strokeSaid } from "./Paint";
import { wrapSaid } from "./WrapParts";

const PARTS: Record<string, (thing: Thing, frame: Frame) => string> = {
  give: (_, frame) => giveSaid(frame),
  padding: (_, { padding }) => sidesShown(padding),
  columns: (_, frame) => ((frame.columns ?? DEFAULTS.frame.columns) === 1 ? "one column" : `${frame.columns} columns`),
  sit: (_, { sit }) =>
    ({ middle: "in the middle", top: "at the top", bottom: "at the bottom", leaded: "leaded out" })[
      sit ?? DEFAULTS.frame.sit
    ],
  hang: (_, { hang }) => metric(hang ?? DEFAULTS.frame.hang),
  stand: (_, { stand }) => metric(stand ?? DEFAULTS.frame.stand),
  leftover: (_, { leftover }) =>
    ({
      "past-the-edge": "runs past the edge",
      "at-the-edge": "is cut at the edge",
      "with-the-last-line": "ends with the last line",
    })[leftover?.ends ?? DEFAULTS.leftover.ends],
  fit: (_, { fit_type: fit }) => (!fit ? "keeps its size" : fit.grow ? "fills the frame" : "shrinks until all fits"),
  band: (_, { band }) => (band === "line-box" ? "its line box" : "its letters"),
  setting: (_, { setting }) => (setting === "turned" ? "turn with it" : "stay level"),
  pushed: (_, { pushed }) => (pushed === false ? "do not push their copy" : "push their copy"),
};

/** What any objects may differ in. */
const PAINTED: Record<string, (thing: Thing) => string> = {
  fill: ({ fill }) => (fill ? fillSaid(fill) : "no fill"),
  stroke: ({ stroke }) => (stroke ? strokeSaid(stroke) : "no stroke"),
  paint: ({ paint }) => (paint === false ? "not painted" : "painted"),
  wrap: ({ wrap }) => wrapSaid(wrap),
  clearance: ({ wrap }) => sidesShown(wrap?.clearance),
};

function metric(value: unknown): string {
  return (
    {
      ascender: "ascender",
      cap: "cap height",
      ex: "x-height",
      "line-box": "line box",
      ink: "ink",
      baseline: "the baseline",
      descender: "the descender",
    }[String(value)] ?? shown(value as Length)
  );
}

/** All that is selected when there are several, the one spoken of first, with the rules of their recipes. */
export function thingsChosen(state = useStore.getState()): Thing[] {
  if (!state.others.length || !state.document) return [];
  const all = new Map(thingsOf(state.document).map((thing) => [thing.id, thing]));
  return selection(state).flatMap((id) => {
    const thing = all.get(id);
    return thing ? [ruled(thing, state)] : [];
  });
}

/** The frames that are selected when there are several, the one spoken of first, with their recipes' rules. */
export function framesChosen(state = useStore.getState()): Thing[] {
  if (!state.others.length || !state.document) return [];
  const all = new Map(thingsOf(state.document).map((thing) => [thing.id, thing]));
  return selection(state).flatMap((id) => {
    const thing = all.get(id);
    return thing?.frame ? [ruled(thing, state)] : [];
  });
}

/** Where frames differ, part by part: a range of lengths, two ways, or how many. */
export function differing(things: Thing[]): Record<string, string> {
  const out: Record<string, string> = {};
  const frames = things.filter((thing) => thing.frame);
  for (const [part, said] of Object.entries({ ...PARTS, ...PAINTED })) {
    const values = [...new Set((part in PAINTED ? things : frames).map((thing) => said(thing, thing.frame!)))];
    if (values.length > 1)
      out[part] =
        ranged(values) ??
        (values.length === 2 && values.join("").length < 44
          ? values.join(" or ")
          : `of ${COUNTS[values.length] ?? values.length} kinds`);
  }
  if (out.give)
    out.give = `gives in ${COUNTS[new Set(frames.map((thing) => giveSaid(thing.frame!))).size] ?? "several"} ways`;
  return out;
}

const COUNTS = ["", "", "two", "three", "four", "five", "six", "seven", "eight", "nine"];

/** `9 pt` and `14 pt` are `9–14 pt`. */
function ranged(values: string[]): string | null {
  const read = values.map((value) => value.match(/^(-?[\d.]+) ?(pt|mm|cm|in|px|pc|em)$/));
  if (!read.every((match) => match && match[2] === read[0]![2])) return null;
  const figures = read.map((match) => Number(match![1]));
  return `${Math.min(...figures)}–${Math.max(...figures)} ${read[0]![2]}`;
}
