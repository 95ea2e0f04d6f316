/** What is chosen, what is in hand, where the caret is: changed here. */
import {
  type Caret,
  caretStands,
  type Chosen,
  choosing,
  HAND,
  type InHand,
  leaving,
  stoodJustNow,
  typingOn,
  type Wanted,
} from "./model/chosen";
import type { DraftKnot, Point } from "./seen";
import { change, useStore } from "./store";
import { say } from "./viewing";

const now = useStore.getState;

/** Select one thing with its group, or nothing; `adding` keeps what is selected and takes out what was. */
export function select(id: string | null, adding = false, alone = false) {
  change(choosing(now(), id, adding, alone));
}

/** Select this one thing and nothing besides; what is in hand stays. */
export function selectOnly(id: string) {
  change({ selected: id, others: [] });
}

export function selectAll(ids: string[]) {
  change({ selected: ids[0] ?? null, others: ids.slice(1), points: [], tool: HAND, justMade: null });
}

/** Choose nothing, so that the page is spoken of. */
export function selectNothing() {
  change({ selected: null, others: [], points: [], draft: null, tool: HAND });
}

/** The frame of the chosen chain that the caret is in now. */
export function goOnIn(frame: string) {
  change({ selected: frame });
}

/** Speak of another page. */
export function speakOf(page: number) {
  change({ page });
}

/** Out of what goes on, the innermost first. */
export function stepOut() {
  change(leaving(now()));
}

// ---- what is in hand

/** Take something in hand; what is chosen stays. */
export function takeUp(tool: InHand) {
  change({ tool });
}

/** The bare hand again. */
export function putDown() {
  change({ tool: HAND });
}

/** Take in hand what makes something new: nothing else is chosen. */
export function make(tool: InHand) {
  change({ tool, draft: null, selected: null, others: [] });
}

/** Edit the points of what is chosen: its outline's, or its contour's. */
export function editPointsOf(of?: "contour") {
  change({ tool: { kind: "points", ...(of ? { of } : {}) }, points: [], others: [] });
}

/** Draw the contour of a picture. */
export function drawContour(contour: string) {
  change({ tool: { kind: "draw", contour }, draft: null, others: [] });
}

/** Move the picture in its outline. */
export function moveWithin() {
  change({ tool: { kind: "within" }, others: [] });
}

/** Point at what is asked about, or no longer. */
export function pointAndAsk(on: boolean) {
  change({ tool: on ? { kind: "why" } : HAND, why: null });
}

export function choosePoints(points: [number, number][]) {
  change({ points });
}

/** The outline that is being drawn freely, knot by knot; null when it is over. */
export function drawOn(draft: { page: number; knots: DraftKnot[] } | null) {
  change({ draft });
}

/** The outline is drawn: it is closed, or there is none. */
export function drawn() {
  change({ draft: null, tool: HAND });
}

/** Where the next point would be, on its page; by arrows also in CSS px of the bench. */
export function penIs(pen: Point | null, byKeys?: Point | null) {
  change(byKeys === undefined ? { pen } : { pen, penByKeys: byKeys });
}

/** The mark that is being made on a picture's subject. */
export function markOn(marking: Chosen["marking"]) {
  change({ marking });
}

/** Point by keys at a place in a frame. */
export function pointByKeys(whyAt: Chosen["whyAt"]) {
  change({ whyAt });
}

// ---- the caret

/** The caret stands there, or nowhere. */
export function caretAt(caret: Caret | null) {
  change(caretStands(now(), caret, Date.now()));
}

/** Where the caret stood before a dialog took the keys: for what is brought to it. */
export function lastCaret(): Caret | null {
  const { stood, selected, tool } = now();
  return Date.now() - stood.at < 120_000 && stood.caret?.frame === selected && tool.kind !== "hand"
    ? stood.caret
    : null;
}

/** The caret has gone: what is typed within a second is not taken for a shortcut, unless it was left on purpose. */
export function caretGone(onPurpose = false) {
  change({ caretLeft: onPurpose ? 0 : Date.now() });
}

export function caretStoodJustNow(): boolean {
  return stoodJustNow(now(), Date.now());
}

/** What is typed where the keys have left the copy by themselves goes on in it, where its caret stood. */
export function typeOn(text: string): boolean {
  const step = typingOn(now(), text, Date.now(), Math.random());
  if (step) change(step);
  return step !== null;
}

/** Put the caret into the copy on the page, or select a stretch of it. */
export function putCaret(anchor: number, head = anchor, keep?: Wanted["keep"]) {
  change({ tool: { kind: "copy" }, wanted: { anchor, head, nonce: Math.random(), keep } });
}

/** What was typed before the caret is where it is wanted goes there. */
export function typeAhead(text: string) {
  const { wanted } = now();
  if (wanted) change({ wanted: { ...wanted, text: (wanted.text ?? "") + text } });
}

/** The caret is where it was wanted. */
export function caretCame() {
  change({ wanted: null });
}

/** Begin the copy of what is selected, or go on with it at its end, with what was typed already. */
export function beginCopy(text = "") {
  change({ galley: true, justMade: null, begin: { text: (now().begin?.text ?? "") + text } });
}

/** Its copy has the caret. */
export function copyBegun() {
  change({ begin: null });
}

/** Out of the copy: its frame is chosen again, and all of its copy. */
export function leaveCopy() {
  change({ tool: HAND, paragraphs: null, stretches: [] });
}

/** All of the copy is spoken of again. */
export function speakOfAllCopy() {
  const { paragraphs, stretches } = now();
  if (paragraphs || stretches.length) change({ paragraphs: null, stretches: [] });
}

export function speakOfParagraphs(paragraphs: [number, number] | null) {
  change({ paragraphs });
}

export function speakOfStretches(stretches: [number, number][]) {
  if (stretches.join() !== now().stretches.join()) change({ stretches });
}

/** Change how copy looks in the version shown alone, or in all. */
export function onlyVersionShown(onlyShown: boolean) {
  change({ onlyShown });
}

/** What is changed in the sentence goes to this recipe; null: to the frame. */
export function speakOfRecipe(onRecipe: string | null) {
  change({ onRecipe });
}

// ---- what was made and is on its way

/** An outline just made is an outline like others. */
export function settle() {
  if (now().justMade) change({ justMade: null });
}

/** Something was drawn and is not stored yet: what is typed until it is there waits for it. */
export function waitFor(id: string) {
  change({ onItsWay: { id, text: "" } });
}

/** What is typed while something is on its way goes into its copy; whether anything is. */
export function typeForIt(text: string): boolean {
  const { onItsWay } = now();
  if (onItsWay) change({ onItsWay: { ...onItsWay, text: onItsWay.text + text } });
  return onItsWay !== null;
}

/** It is there, or will not come: gives what was typed, null where another was drawn since. */
export function arrived(id: string): string | null {
  const { onItsWay } = now();
  if (onItsWay && onItsWay.id !== id) return null;
  change({ onItsWay: null });
  return onItsWay?.text ?? "";
}

/** How long an outline that was drawn is waited for, in ms. */
const AT_MOST = 60_000;

/** An outline was drawn: as soon as it is there it is chosen, and what was typed meanwhile becomes its copy. */
export function comes(id: string) {
  waitFor(id);
  const stop = useStore.subscribe((state) => {
    if (!state.scene?.objects[id]) return;
    stop();
    clearTimeout(late);
    const typing = now().onItsWay !== null;
    const text = arrived(id);
    if (text === null) return; // another was drawn since
    change({ selected: id, others: [], justMade: typing ? id : null });
    if (text) beginCopy(text);
  });
  const late = setTimeout(() => {
    stop();
    if (now().onItsWay?.id !== id) return;
    const text = arrived(id);
    if (text) say(`The outline could not be made, and “${text}” has no place. Draw it again.`, "fault");
  }, AT_MOST);
}
