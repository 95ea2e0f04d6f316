/** Everything that can be done, once: the keys, the list of keys, the menus and "do …" are made of this table. */
import { chooseTranslation } from "../translating/translating";
import { act } from "../api/client";
import {
  chooseAlike,
  copySelection,
  cutSelection,
  duplicate,
  editPoints,
  group,
  pasteHere,
  remove,
  selectEverything,
  step,
  ungroup,
  unlocked,
} from "../bench/arrange";
import { POINT_KINDS, setPointKind } from "../bench/pointing";
import { lay, showAll, showChosen, showReal, showSpread, zoomBy } from "../parts/view";
import { whyHere } from "../bench/WhyHere";
import { groupOf, type Thing } from "../state/document";
import { beginCopy, putCaret, make, selectNothing } from "../state/choosing";
import { edit, redo, undo } from "../state/sending";
import { selectedThing, selection, useStore } from "../state/store";
import { fold, sayEveryRule, askOver, openPart, seeClean, showSlots, showStrip, unfold } from "../state/viewing";
import { walk } from "../findings/findings";
import { askForPicture, chooseOutline, OUTLINES } from "./making";

/** What a deed is for; where that is not chosen it says so. */
const NEEDS = {
  object: ["choose an object", (thing: Thing | null) => thing !== null],
  outline: ["choose an outline", (thing: Thing | null) => thing !== null && !thing.picture],
  frame: ["choose a frame", (thing: Thing | null) => !!thing?.frame],
  picture: ["choose a picture", (thing: Thing | null) => !!thing?.picture],
  wrapping: ["choose an object that copy runs round", (thing: Thing | null) => !!thing?.wrap || !!thing?.picture],
  several: ["choose two or more objects", () => selection().length > 1],
  group: [
    "choose a group",
    () => !!useStore.getState().document && !!groupOf(useStore.getState().document!, selection()),
  ],
  page: ["choose nothing, so that the page is spoken of", (thing: Thing | null) => thing === null],
  own: ["only whose document it is shares it", () => useStore.getState().may === "own"],
  points: ["edit the points of an outline", () => useStore.getState().tool.kind === "points"],
} as const;

export type Need = keyof typeof NEEDS;
export type Head = "Make" | "Rules" | "Object" | "Points" | "Page" | "Look" | "Go" | "Help";

export interface Deed {
  id: string;
  name: string;
  head: Head;
  /** Everyday words for it, by which it is found as well. */
  also?: string;
  /** As shipped: strokes with a space between, "N R", "Ctrl+D". */
  keys?: string;
  needs?: Need;
  run: () => void;
}

/** Why a deed cannot be done now; null when it can. */
export function hinders(deed: Deed): string | null {
  if (!deed.needs) return null;
  const [said, met] = NEEDS[deed.needs];
  return met(selectedThing()) ? null : said;
}

const now = useStore.getState;

/** Parts of the sentence: name, what it is called, everyday words, key, what it is for. */
const PARTS: [string, string, string, string, Need][] = [
  ["give", "Which edges give", "grow shrink auto size fit height width hug stretch to words", "R G", "frame"],
  ["padding", "Padding", "inset margin inside space within", "R P", "frame"],
  ["columns", "Columns", "gutter narrow slots arms", "R U", "frame"],
  ["sit", "Where lines sit", "vertical alignment middle centre top bottom height optically", "R S", "frame"],
  ["hang", "What the first line hangs from", "first line cap height top ascender", "R H", "frame"],
  ["stand", "What the last line stands on", "last line descender baseline bottom", "R T", "frame"],
  ["leftover", "What does not fit", "overflow too much text cut off ellipsis", "R L", "frame"],
  ["fit", "Type that follows the frame", "shrink text to fit scale size automatically", "", "frame"],
  ["setting", "Lines of a turned outline", "rotate level", "", "frame"],
  ["band", "The band each line needs", "line box letters height of a line", "", "frame"],
  ["chain", "Where the copy goes on", "link next frame flow continue chain", "R N", "frame"],
  ["tries", "Try it several ways", "compare variations alternatives side by side", "R V", "frame"],
  ["style", "Style", "paragraph look preset", "", "frame"],
  ["recipe", "Recipe", "preset reuse rules save template", "", "frame"],
  ["align", "Alignment", "left right centre justify ragged", "R A", "frame"],
  ["breaking", "Where lines end", "line breaks rag balance optimal keep words together", "R B", "frame"],
  ["hyphenate", "Hyphenation", "hyphens divide words syllables", "R Y", "frame"],
  ["end-here", "Make it end here", "last line copyfit shorten", "", "frame"],
  ["font", "Font", "typeface family weight", "", "frame"],
  ["size", "Size and leading", "type size line height spacing points", "R Z", "frame"],
  ["letters", "Letters", "tracking kerning capitals small caps figures underline", "", "frame"],
  ["versions", "Where its look counts", "only in this language version translation", "", "frame"],
  ["color", "Colour of the copy", "text color ink", "", "frame"],
  ["list", "What stands before each paragraph", "bullets numbers list", "", "frame"],
  ["opening", "How paragraphs open", "indent drop cap first line space before after keep", "", "frame"],
  ["language", "Language and direction", "right to left spelling", "", "frame"],
  ["outline", "Outline", "shape rounded round corners radius form", "R O", "object"],
  ["place", "Place, size and turn", "position width height rotate angle scale x y", "R X", "object"],
  ["wrap", "Wrap", "text wrap run around standing beside", "R W", "object"],
  ["clearance", "Clearance", "wrap offset distance standoff margin outside", "R C", "wrapping"],
  ["contour", "How the contour is found", "silhouette cut out trace edge threshold", "", "picture"],
  ["within", "The picture in its outline", "crop scale fill inside", "", "picture"],
  ["alt", "In words, for those who do not see it", "alt text description accessibility", "", "picture"],
  ["pushed", "Wraps of other objects", "ignore wrap", "", "frame"],
  ["fill", "Fill", "background color gradient tint opacity", "R F", "object"],
  ["stroke", "Stroke", "border line dashes dots width", "R K", "object"],
  ["paint", "Its paint", "hide print visible", "", "object"],
  ["ties", "What it is tied to", "pin constraint stick edge follow", "", "object"],
  ["anchor", "Where it belongs", "inline attach to words move with text", "", "object"],
  ["stack", "Before and behind", "order layer bring front send back", "", "object"],
  ["align-objects", "Bring level", "align objects left right top middle", "", "several"],
  ["distribute", "Equal gaps", "distribute spacing evenly", "", "several"],
  ["combine", "Combine outlines", "unite join subtract cut intersect", "", "several"],
  ["group-name", "Name of the group", "rename", "", "group"],
  ["pages", "Pages", "add delete order sheet list", "", "page"],
  ["page-size", "Size of the page", "format sheet document width height units", "", "page"],
  ["bleed", "Bleed", "trim print edge", "", "page"],
  ["margins", "Margins", "page border safe area", "", "page"],
  ["background", "Background", "paper color page", "", "page"],
  ["guides", "Guides", "rulers lines help", "", "page"],
  ["colors", "Colours of the document", "swatches palette", "", "page"],
  ["catching", "Catching", "snap snapping magnetic grid", "", "page"],
];

/** Speak of the page, then open a part of what is said of it. */
function ofThePage(name: string) {
  selectNothing();
  openPart(name);
}

const stack = (to: string) => void edit(act("stack", { objects: unlocked(), to }), "Stack");
const put = (field: "locked" | "hidden", on: boolean, label: string) => {
  const at = ["objects", now().selected!, field];
  void edit([on ? { do: "put", at, value: true } : { do: "cut", at }], label);
};
const turnBy = (by: number) => void edit(act("turn", { objects: unlocked(), by }), "Turn", `turn:${unlocked().join()}`);

/** Into the copy of what is chosen, at its end; what holds none is given some. */
export function intoTheCopy() {
  const thing = selectedThing();
  if (!thing || thing.picture) return;
  if (thing.frame) putCaret(Number.MAX_SAFE_INTEGER);
  else beginCopy();
}

/** Bring the keys to an area of the screen. */
function go(to: "bench" | "galley" | "tally" | "sentence" | "bar") {
  seeClean(false);
  if (to === "galley" || to === "tally") unfold(to);
  const first = {
    bench: "canvas",
    galley: ".galley .ProseMirror, .galley button",
    tally: "[data-tally] [aria-pressed=true], [data-tally] li button",
    sentence: "[data-sentence] .part",
    bar: "header nav button",
  }[to];
  setTimeout(() => document.querySelector<HTMLElement>(first)?.focus(), 30);
}

export const DEEDS: Deed[] = [
  ...OUTLINES.map((o): Deed => ({
    id: `make ${o.name}`,
    name: o.name,
    head: "Make",
    also: "new outline shape frame box draw",
    keys: `N ${o.key}`,
    run: () => chooseOutline(o.name),
  })),
  {
    id: "share",
    name: "Share …",
    head: "Page",
    also: "people team access permission invite collaborate send",
    needs: "own",
    run: () => askOver("share"),
  },
  {
    id: "make draw",
    name: "Draw freely",
    head: "Make",
    also: "new free outline pen path bezier curve",
    keys: "N D",
    run: () => make({ kind: "draw" }),
  },
  {
    id: "make line",
    name: "Line of type",
    head: "Make",
    also: "new text headline title label",
    keys: "N L",
    run: () => make({ kind: "line" }),
  },
  {
    id: "make picture",
    name: "Picture",
    head: "Make",
    also: "new image photo place import",
    keys: "N P",
    run: askForPicture,
  },
  ...PARTS.map(([part, name, also, keys, needs]): Deed => ({
    id: `rule ${part}`,
    name,
    head: needs === "page" ? "Page" : "Rules",
    also,
    keys: keys || undefined,
    needs: needs === "page" ? undefined : needs,
    run: () => (needs === "page" ? ofThePage(part) : openPart(part)),
  })),
  {
    id: "into",
    name: "Into the copy",
    head: "Object",
    also: "edit text write type",
    keys: "Enter",
    needs: "outline",
    run: intoTheCopy,
  },
  {
    id: "duplicate",
    name: "Duplicate",
    head: "Object",
    also: "clone again",
    keys: "Ctrl+D",
    needs: "object",
    run: () => void duplicate(),
  },
  { id: "copy", name: "Copy", head: "Object", also: "clipboard", keys: "Ctrl+C", needs: "object", run: copySelection },
  { id: "cut", name: "Cut", head: "Object", also: "clipboard", keys: "Ctrl+X", needs: "object", run: cutSelection },
  { id: "paste", name: "Paste", head: "Object", also: "clipboard insert", keys: "Ctrl+V", run: () => void pasteHere() },
  {
    id: "delete",
    name: "Delete",
    head: "Object",
    also: "remove erase",
    keys: "Delete",
    needs: "object",
    run: () => remove(unlocked()),
  },
  {
    id: "points",
    name: "Edit its points",
    head: "Object",
    also: "path nodes reshape vertices",
    keys: "E",
    needs: "object",
    run: editPoints,
  },
  {
    id: "group",
    name: "Group",
    head: "Object",
    also: "together",
    keys: "G",
    needs: "several",
    run: () => void group(),
  },
  {
    id: "ungroup",
    name: "Take the group apart",
    head: "Object",
    also: "ungroup",
    keys: "U",
    needs: "group",
    run: ungroup,
  },
  {
    id: "lock",
    name: "Lock",
    head: "Object",
    also: "fix protect",
    needs: "object",
    run: () => put("locked", true, "Lock"),
  },
  { id: "unlock", name: "Unlock", head: "Object", needs: "object", run: () => put("locked", false, "Unlock") },
  {
    id: "hide",
    name: "Hide",
    head: "Object",
    also: "invisible",
    needs: "object",
    run: () => put("hidden", true, "Hide"),
  },
  {
    id: "show",
    name: "Show",
    head: "Object",
    also: "visible unhide",
    needs: "object",
    run: () => put("hidden", false, "Show"),
  },
  {
    id: "front",
    name: "Before all others",
    head: "Object",
    also: "bring to front top layer",
    needs: "object",
    run: () => stack("front"),
  },
  {
    id: "forward",
    name: "One before",
    head: "Object",
    also: "bring forward layer",
    needs: "object",
    run: () => stack("forward"),
  },
  {
    id: "backward",
    name: "One behind",
    head: "Object",
    also: "send backward layer",
    needs: "object",
    run: () => stack("backward"),
  },
  {
    id: "back",
    name: "Behind all others",
    head: "Object",
    also: "send to back bottom layer",
    needs: "object",
    run: () => stack("back"),
  },
  {
    id: "turn right",
    name: "Turn by 1°",
    head: "Object",
    also: "rotate clockwise",
    keys: "]",
    needs: "object",
    run: () => turnBy(1),
  },
  {
    id: "turn left",
    name: "Turn back by 1°",
    head: "Object",
    also: "rotate counterclockwise",
    keys: "[",
    needs: "object",
    run: () => turnBy(-1),
  },
  {
    id: "alike recipe",
    name: "Choose all that follow its recipe",
    head: "Object",
    also: "select same",
    needs: "frame",
    run: () => chooseAlike("recipe"),
  },
  {
    id: "alike fill",
    name: "Choose all of its fill",
    head: "Object",
    also: "select same color",
    needs: "object",
    run: () => chooseAlike("fill"),
  },
  {
    id: "alike outline",
    name: "Choose all of its outline",
    head: "Object",
    also: "select same shape kind",
    needs: "object",
    run: () => chooseAlike("outline"),
  },
  {
    id: "everything",
    name: "Choose everything on the page",
    head: "Object",
    also: "select all",
    keys: "Ctrl+A",
    run: selectEverything,
  },
  { id: "next", name: "Choose the next object", head: "Object", also: "select forward", keys: "J", run: () => step(1) },
  {
    id: "previous",
    name: "Choose the one before",
    head: "Object",
    also: "select backward previous",
    keys: "Shift+J",
    run: () => step(-1),
  },
  ...POINT_KINDS.map(({ kind, name, key }): Deed => ({
    id: `point ${kind}`,
    name,
    head: "Points",
    also: "kind of point",
    keys: key.toUpperCase(),
    needs: "points",
    run: () => void (now().selected && setPointKind(now().selected!, kind)),
  })),
  {
    id: "add page",
    name: "Add a page",
    head: "Page",
    also: "new sheet",
    run: () => void edit(act("add-page", { after: now().page }), "Add a page"),
  },
  { id: "undo", name: "Undo", head: "Object", also: "back take back", keys: "Ctrl+Z", run: () => void undo() },
  { id: "redo", name: "Redo", head: "Object", also: "again forward", keys: "Ctrl+Shift+Z", run: () => void redo() },
  {
    id: "clean",
    name: "Clean view",
    head: "Look",
    also: "preview print presentation without guides",
    keys: ".",
    run: () => seeClean(),
  },
  {
    id: "slots",
    name: "Slots",
    head: "Look",
    also: "show measure lines hairlines",
    keys: ",",
    run: () => showSlots(),
  },
  {
    id: "galley",
    name: "Fold or open the galley",
    head: "Look",
    also: "text panel sidebar",
    keys: ";",
    run: () => fold("galley"),
  },
  {
    id: "tally",
    name: "Fold or open the tally",
    head: "Look",
    also: "layers list panel sidebar",
    keys: "'",
    run: () => fold("tally"),
  },
  {
    id: "every",
    name: "Every rule, or only what is special",
    head: "Look",
    also: "show all hidden rules",
    run: () => sayEveryRule(!now().everyRule),
  },
  { id: "nearer", name: "Nearer", head: "Look", also: "zoom in larger", keys: "+", run: () => zoomBy(1.25) },
  { id: "farther", name: "Farther", head: "Look", also: "zoom out smaller", keys: "-", run: () => zoomBy(1 / 1.25) },
  { id: "whole page", name: "Whole page", head: "Look", also: "zoom fit page", keys: "0", run: showAll },
  {
    id: "real size",
    name: "Real size",
    head: "Look",
    also: "zoom actual print 100 per cent",
    keys: "1",
    run: showReal,
  },
  { id: "chosen", name: "What is chosen, large", head: "Look", also: "zoom to selection", keys: "2", run: showChosen },
  {
    id: "spread",
    name: "Every page",
    head: "Look",
    also: "zoom spread all pages overview",
    keys: "3",
    run: showSpread,
  },
  {
    id: "lay",
    name: "Pages beside or under one another",
    head: "Look",
    also: "arrange spread row column",
    run: () => lay(now().scene?.laid !== "beside" ? "beside" : "under"),
  },
  {
    id: "strip",
    name: "Strip of small pages",
    head: "Look",
    also: "thumbnails overview order move pages",
    keys: "P",
    run: () => showStrip(),
  },
  {
    id: "why",
    name: "Why here: what put it there",
    head: "Look",
    also: "explain reason inspect",
    keys: "Y",
    run: whyHere,
  },
  {
    id: "send out",
    name: "Send copy out to be translated",
    head: "Page",
    also: "translation localization localisation xliff csv export languages desk",
    run: () => askOver("out"),
  },
  {
    id: "come home",
    name: "A translation comes home",
    head: "Page",
    also: "import translation xliff csv localization languages",
    run: chooseTranslation,
  },
  {
    id: "strained",
    name: "Under strain: a page of pictures",
    head: "Look",
    also: "translation length longer copy test stress",
    run: () => askOver("strained"),
  },
  {
    id: "next finding",
    name: "What is wrong: the next",
    head: "Look",
    also: "findings faults check preflight problems errors",
    keys: "W",
    run: () => walk(1),
  },
  {
    id: "finding before",
    name: "What is wrong: the one before",
    head: "Look",
    also: "findings faults back",
    keys: "Shift+W",
    run: () => walk(-1),
  },
  { id: "to bench", name: "To the bench", head: "Go", also: "focus page area", keys: "T B", run: () => go("bench") },
  { id: "to galley", name: "To the galley", head: "Go", also: "focus text area", keys: "T G", run: () => go("galley") },
  { id: "to tally", name: "To the tally", head: "Go", also: "focus list area", keys: "T T", run: () => go("tally") },
  {
    id: "to sentence",
    name: "To the sentence",
    head: "Go",
    also: "focus rules area",
    keys: "T S",
    run: () => go("sentence"),
  },
  { id: "to bar", name: "To the bar at the top", head: "Go", also: "focus toolbar", keys: "T M", run: () => go("bar") },
  {
    id: "do",
    name: "Do …",
    head: "Help",
    also: "search commands find everything",
    keys: "D",
    run: () => askOver("do"),
  },
  {
    id: "keys",
    name: "The keyboard",
    head: "Help",
    also: "shortcuts keys list change remap",
    keys: "?",
    run: () => askOver("keys"),
  },
  {
    id: "screen",
    name: "Measure the screen",
    head: "Look",
    also: "calibrate real size card inch",
    run: () => askOver("screen"),
  },
  {
    id: "words",
    name: "The words",
    head: "Help",
    also: "glossary what is meaning explain help",
    run: () => askOver("words"),
  },
];

export const deed = (id: string) => DEEDS.find((one) => one.id === id)!;

// ---- keys, as they are shipped or as they were changed

const CHANGED = "keys";
const LETTERS = "letter-keys";

function changedKeys(): Record<string, string> {
  return JSON.parse(localStorage.getItem(CHANGED) ?? "{}") as Record<string, string>;
}

/** Whether single letters and signs do something, outside of fields. */
export function lettersOn(): boolean {
  return localStorage.getItem(LETTERS) !== "off";
}

export function switchLetters(on: boolean) {
  localStorage.setItem(LETTERS, on ? "on" : "off");
}

/** The keys of a deed; none when they were taken away. */
export function keysOf(one: Deed): string {
  return changedKeys()[one.id] ?? one.keys ?? "";
}

/** Give a deed other keys; those that stood there before lose them. Returns what had them. */
export function changeKeys(one: Deed, keys: string): Deed | null {
  const all = changedKeys();
  const had = keys ? DEEDS.find((other) => other !== one && keysOf(other) === keys) : undefined;
  if (had) all[had.id] = "";
  all[one.id] = keys;
  localStorage.setItem(CHANGED, JSON.stringify(all));
  return had ?? null;
}

export function shippedKeys() {
  localStorage.removeItem(CHANGED);
  switchLetters(true);
}

const NAMED: Record<string, string> = { " ": "Space", Backspace: "Delete", "=": "+" };

/** What is pressed, as it is written: "N", "Ctrl+D", "Shift+Enter". */
export function strokeOf(event: KeyboardEvent): string {
  const named = NAMED[event.key] ?? event.key;
  const letter = named.length === 1;
  const shift = event.shiftKey && (!letter || /[a-z]/i.test(named));
  return [
    event.ctrlKey || event.metaKey ? "Ctrl+" : "",
    event.altKey ? "Alt+" : "",
    shift ? "Shift+" : "",
    letter ? named.toUpperCase() : named,
  ].join("");
}

/** The deed of what was pressed one after the other; "more" when something begins so; null when nothing does. */
export function deedOf(strokes: string): Deed | "more" | null {
  // Of two with the same keys, as a point's kinds and others may be, the one that can be done.
  const found = DEEDS.filter((one) => keysOf(one) === strokes);
  const can = found.find((one) => !hinders(one));
  if (can) return can;
  return DEEDS.some((one) => keysOf(one).startsWith(`${strokes} `)) ? "more" : (found[0] ?? null);
}
