/** What is seen and how: the pages' place on the bench, panels, what lies over the screen, what is said. */
import type { Point, Why } from "../seen";

export interface Notice {
  text: string;
  kind: "said" | "fault";
  action?: { label: string; run: () => void };
}

/** What lies over the whole screen: "do …", the list of keys, the words, the measuring of the screen. */
export type Asks = "do" | "keys" | "words" | "screen" | "out" | "home" | "strained" | "share";

export interface Placed {
  scale: number;
  x: number;
  y: number;
}

export interface View {
  view: Placed;
  /** The page that was fitted, and the view that made: while it is the view, the page stays fitted. */
  fitted: { view: Placed; page: number } | null;
  clean: boolean;
  slots: boolean;
  galley: boolean;
  tally: boolean;
  /** Whether the strip of small pages is shown. */
  strip: boolean;
  snapping: boolean;
  turnStep: number;
  /** Whether the sentence says rules too that say nothing special. */
  everyRule: boolean;
  /** The part of the sentence that is to open: it does as soon as it is said. */
  askedPart: string | null;
  /** The part of the sentence that is open. */
  openedPart: string | null;
  /** Whether handles, slots and tags are out of the way, while a figure is changed. */
  quiet: boolean;
  /** The object under the pointer, or lit up as if it were. */
  hovered: string | null;
  /** Whether a finger points, which meets things from farther. */
  finger: boolean;
  /** Why what is pointed at stands there. */
  why: Why | null;
  /** What is pointed at and not asked yet, whether an answer is on its way, and whether it is to stay. */
  pointed: { at: Point | null; asking: boolean; pin: boolean };
  notice: Notice | null;
  asks: Asks | null;
  /** The word that was asked for last. */
  explained: string;
}

export const SEEN_AT_FIRST: View = {
  view: { scale: 1, x: 0, y: 0 },
  fitted: null,
  clean: false,
  slots: true,
  galley: true,
  tally: true,
  strip: false,
  snapping: true,
  turnStep: 15,
  everyRule: false,
  askedPart: null,
  openedPart: null,
  quiet: false,
  hovered: null,
  finger: false,
  why: null,
  pointed: { at: null, asking: false, pin: false },
  notice: null,
  asks: null,
  explained: "",
};

/** Windows narrower than this, in CSS px, have a panel folded until it is opened. */
export const NARROW = { galley: 920, tally: 720 } as const;
export type Folding = keyof typeof NARROW;

/** Whether a window of this width shows a panel at first. */
export function opensWith(panel: Folding, width: number, folded: boolean): boolean {
  return width >= NARROW[panel] && !folded;
}

/** Whether a window that becomes wider or narrower passes the width at which a panel folds. */
export function passes(panel: Folding, before: number, now: number): boolean {
  return before < NARROW[panel] !== now < NARROW[panel];
}

/** No part of the sentence took what was asked for: every rule is said, and when it was already there is none. */
export function partUntaken({ askedPart, everyRule }: View): Partial<View> {
  if (!askedPart) return {};
  return everyRule ? { askedPart: null } : { everyRule: true };
}
