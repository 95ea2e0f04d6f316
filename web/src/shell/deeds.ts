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
import { beginCopy, putCaret, make } from "../state/choosing";
import { edit, redo, undo } from "../state/sending";
import { selectedThing, useStore } from "../state/store";
import { fold, sayEveryRule, askOver, seeClean, showSlots, showStrip, unfold } from "../state/viewing";
import { walk } from "../findings/findings";
import { askForPicture, chooseOutline, OUTLINES } from "./making";
import type { Deed } from "./deed";
import { RULE_DEEDS } from "./ruleDeeds";

const now = useStore.getState;

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
  ...RULE_DEEDS,
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
