/** What is chosen, what is in hand, and where the caret is. Pure: what this part of the state is, and how it
 * goes on. */
import { groupAround, leavesOf, type OpenDocument, type Outline } from "../document";
import type { DraftKnot, Point, Scene } from "../seen";

export type InHand =
  | { kind: "hand" }
  | { kind: "outline"; outline: Outline; name: string }
  | { kind: "draw"; contour?: string }
  | { kind: "points"; of?: "contour" }
  | { kind: "subject"; what: "box" | "keep" | "drop" }
  | { kind: "within" }
  | { kind: "copy" }
  | { kind: "line" }
  | { kind: "tie" }
  | { kind: "pivot" }
  | { kind: "why" };

/** Where the caret is in a frame's copy, in code points. */
export interface Caret {
  frame: string;
  anchor: number;
  head: number;
}

/** Where the page wants the caret, with what was typed until it is there. */
export interface Wanted {
  anchor: number;
  head: number;
  nonce: number;
  keep?: "add" | "clear";
  text?: string;
}

export interface Chosen {
  selected: string | null;
  /** What is selected besides. */
  others: string[];
  /** Points chosen while an outline's points are edited: contour and place. */
  points: [number, number][];
  tool: InHand;
  /** The outline being drawn freely. */
  draft: { page: number; knots: DraftKnot[] } | null;
  /** Where the next point of it would be, on its page, and where arrows have brought the pen, in CSS px of the
   * bench. */
  pen: Point | null;
  penByKeys: Point | null;
  /** The mark on a picture's subject that is being made, in shares of the picture. */
  marking: { what: "box" | "keep" | "drop"; points: Point[] } | null;
  /** Where the keys point in a frame, while it is asked why: line, and left end, middle or right end. */
  whyAt: { of: string; row: number; place: number };
  /** Null while nothing is written. */
  caret: Caret | null;
  /** Where it stood before it went, and when that was (ms). */
  stood: { caret: Caret | null; at: number };
  /** When it went unasked (ms); 0 when it was left on purpose. */
  caretLeft: number;
  wanted: Wanted | null;
  /** Paragraphs selected in the galley, first and last; null for all of the copy. */
  paragraphs: [number, number] | null;
  /** Stretches of the copy chosen in the galley or on the page, in code points; the last is the caret's own. */
  stretches: [number, number][];
  /** The recipe that changes in the sentence go to, instead of the frame. */
  onRecipe: string | null;
  /** Whether how copy looks is changed in the version shown alone. */
  onlyShown: boolean;
  /** The page that the sentence speaks of while nothing is selected, and that new pictures come to. */
  page: number;
  /** The caret is wanted in the copy of what is selected, with what was typed already. */
  begin: { text: string } | null;
  /** The outline just made: typing begins its copy, until the next press or Esc. */
  justMade: string | null;
  /** An outline that was drawn and is not stored yet, and what was typed since: it goes into its copy. */
  onItsWay: { id: string; text: string } | null;
}

export const HAND: InHand = { kind: "hand" };

export const NOTHING_CHOSEN: Chosen = {
  selected: null,
  others: [],
  points: [],
  tool: HAND,
  draft: null,
  pen: null,
  penByKeys: null,
  marking: null,
  whyAt: { of: "", row: 0, place: 0 },
  caret: null,
  stood: { caret: null, at: 0 },
  caretLeft: 0,
  wanted: null,
  paragraphs: null,
  stretches: [],
  onRecipe: null,
  onlyShown: false,
  page: 0,
  begin: null,
  justMade: null,
  onItsWay: null,
};

type Around = Chosen & { document: OpenDocument | null; scene: Scene | null; complete: boolean };
type Step = Partial<Chosen>;

/** Everything that is selected, the one spoken of first. */
export function allOf({ selected, others }: Pick<Chosen, "selected" | "others">): string[] {
  return selected ? [selected, ...others] : [];
}

/** What goes with an object when it is chosen: all of its group, unless one object of that is chosen alone already. */
export function together({ document, selected, others }: Around, id: string): string[] {
  const group = document && groupAround(document, id);
  if (!group) return [id];
  const leaves = leavesOf(group).map((leaf) => leaf.id);
  if (selected && !others.length && leaves.length > 1 && leaves.includes(selected)) return [id];
  return [id, ...leaves.filter((leaf) => leaf !== id)];
}

/** Choose one thing with its group, or nothing; `adding` keeps what is chosen and takes out what was; `alone` leaves
 * its group. */
export function choosing(state: Around, id: string | null, adding = false, alone = false): Step {
  const { selected, tool, complete, scene } = state;
  if (id && !complete && !scene?.objects[id]) return { justMade: null }; // its page is not there yet
  const stays = tool.kind === "draw" || tool.kind === "outline" || tool.kind === "line";
  const ids = !id ? [] : alone ? [id] : together(state, id);
  const on = id ? scene?.objects[id]?.page : undefined;
  const step: Step = {
    justMade: null,
    points: [],
    tool: stays ? tool : HAND,
    ...(on === undefined ? {} : { page: on }),
  };
  if (!adding || !id || !selected) return { ...step, selected: id, others: ids.slice(1) };
  const all = allOf(state);
  const left = all.filter((other) => !ids.includes(other));
  if (all.includes(id)) return { ...step, selected: left[0] ?? null, others: left.slice(1) };
  return { ...step, selected: id, others: [...ids.slice(1), ...left] };
}

/** What is chosen where some of it is there no more. */
export function stillThere(before: Chosen, scene: Scene): Step {
  const selected = before.selected && scene.objects[before.selected] ? before.selected : null;
  return {
    selected,
    others: selected ? before.others.filter((id) => scene.objects[id]) : [],
    ...(selected ? {} : { points: [] }),
    page: Math.min(before.page, scene.pages.length - 1),
  };
}

/** How long letters that come when the caret has gone unasked go on in the copy, in ms. */
const JUST_NOW = 1000;

/** The caret stands there, or nowhere: then where it stood is kept. */
export function caretStands(state: Chosen, caret: Caret | null, now: number): Step {
  return state.caret && !caret ? { caret, stood: { caret: state.caret, at: now } } : { caret };
}

export function stoodJustNow(state: Chosen, now: number): boolean {
  return state.caret !== null || now - state.caretLeft < JUST_NOW;
}

/** What is typed where the keys have left the copy by themselves, where its caret stood; null where it stood
 * nowhere. */
export function typingOn(state: Chosen, text: string, now: number, nonce: number): Step | null {
  const { caret, selected, wanted } = state;
  const at = caret ?? (now - state.caretLeft < JUST_NOW ? state.stood.caret : null);
  if (!at || at.frame !== selected) return null;
  // Letters that the copy has not taken yet go before this one.
  const { anchor, head } = wanted?.text ? wanted : at;
  return { wanted: { anchor, head, nonce, text: (wanted?.text ?? "") + text } };
}

/** Out of what goes on, the innermost first; "part" where that is an open part of the sentence. */
export function leaving(
  state: Chosen & { clean: boolean; why: { pinned: boolean } | null; openedPart: string | null },
) {
  const { kind } = state.tool;
  const step = { onItsWay: null };
  if (kind === "points") return { ...step, ...(state.points.length ? { points: [] } : { tool: HAND }) };
  if (kind === "why") return { ...step, ...(state.why?.pinned ? { why: null } : { tool: HAND, why: null }) };
  if (kind === "subject") return { ...step, tool: HAND };
  if (state.openedPart) return { ...step, openedPart: null };
  const all = state.paragraphs || state.stretches.length ? { paragraphs: null, stretches: [] } : {};
  const left = { ...step, ...all, caretLeft: 0 };
  if (state.clean) return { ...left, clean: false };
  if (kind !== "hand") return { ...left, draft: null, points: [], tool: HAND, justMade: null };
  if (state.justMade) return { ...left, justMade: null };
  return { ...left, selected: null, others: [], points: [], draft: null };
}
