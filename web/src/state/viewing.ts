/** What is seen, changed: the place of the pages, panels, what lies over the screen, what is said. */
import type { Laid, Why } from "./seen";
import {
  type Asks,
  type Folding,
  NARROW,
  type Notice,
  opensWith,
  partUntaken,
  passes,
  type Placed,
  type View,
} from "./model/view";
import { change, useStore } from "./store";

const now = useStore.getState;
const PANELS = Object.keys(NARROW) as Folding[];

const opens = (panel: Folding) =>
  opensWith(panel, window.innerWidth, localStorage.getItem(`${panel}-folded`) === "yes");

/** As this browser had it last, and as wide as its window is. */
export function beginView() {
  change({
    galley: opens("galley"),
    tally: opens("tally"),
    everyRule: localStorage.getItem("every-rule") === "yes",
  });
  followWidth(window.innerWidth);
}

/** A window that becomes narrow folds its panels, and opens them again when it is wide. */
function followWidth(before: number) {
  const resized = () => {
    const width = window.innerWidth;
    for (const panel of PANELS) if (passes(panel, before, width)) change({ [panel]: opens(panel) });
    followWidth(width);
  };
  addEventListener("resize", resized, { once: true });
}

/** Say every rule in the sentence, or only those that say something. */
export function sayEveryRule(everyRule: boolean) {
  localStorage.setItem("every-rule", everyRule ? "yes" : "no");
  change({ everyRule });
}

/** Fold a panel, or open it; that is remembered. */
export function fold(panel: Folding, open = !now()[panel]) {
  localStorage.setItem(`${panel}-folded`, open ? "no" : "yes");
  change({ [panel]: open });
}

/** Open a panel for now. */
export function unfold(panel: Folding) {
  change({ [panel]: true });
}

export function say(text: string, kind: Notice["kind"] = "said", action?: Notice["action"]) {
  change({ notice: { text, kind, action } });
}

/** Take away what is said. */
export function saidEnough() {
  change({ notice: null });
}

/** Lay something over the screen, or take it away. */
export function askOver(asks: Asks | null) {
  change({ asks });
}

/** Explain a word. */
export function explain(word: string) {
  change({ explained: word, asks: "words" });
}

/** Open a part of the sentence, as soon as it is said; out of the clean view. */
export function openPart(name: string) {
  change({ clean: false, askedPart: name });
}

/** The part that was asked for opens: only one of that name takes it. */
export function partTaken(name: string): boolean {
  if (now().askedPart !== name) return false;
  change({ askedPart: null });
  return true;
}

/** No part took it: one that is left out is said, and asked again. */
export function partLeft() {
  const step = partUntaken(now());
  if (step.everyRule) sayEveryRule(true);
  else if ("askedPart" in step) change(step);
}

/** A part of the sentence is open, or no longer. */
export function partOpens(name: string) {
  change({ openedPart: name });
}

export function partCloses(name: string) {
  if (now().openedPart === name) change({ openedPart: null });
}

/** See the pages at this place and size; `fitted` is the page that it was reckoned for. */
export function see(view: Placed, fitted: number | null = null) {
  change({ view, ...(fitted === null ? {} : { fitted: { view, page: fitted } }) });
}

/** Move what is seen by so many CSS px. */
export function seeAside(dx: number, dy: number) {
  const { view } = now();
  change({ view: { ...view, x: view.x + dx, y: view.y + dy } });
}

/** Lay the pages under one another, or beside. */
export function layPages(laid: Laid) {
  const { scene } = now();
  if (scene && scene.laid !== laid) change({ scene: { ...scene, laid }, tried: null });
}

/** As it will print. */
export function seeClean(clean = !now().clean) {
  change({ clean });
}

export function showSlots(slots = !now().slots) {
  change({ slots });
}

export function showStrip(strip = !now().strip) {
  change({ strip });
}

export function catchOn(snapping = !now().snapping) {
  change({ snapping });
}

/** Turns with Shift go by so many degrees. */
export function turnsBy(degrees: number) {
  change({ turnStep: Math.min(180, Math.max(1, degrees || 15)) });
}

/** Handles, slots and tags out of the way, or back. */
export function hush(quiet: boolean) {
  if (now().quiet !== quiet) change({ quiet });
}

/** Light an object up as if the pointer were on it. */
export function hover(hovered: string | null) {
  if (now().hovered !== hovered) change({ hovered });
}

/** A finger meets things from farther than a mouse. */
export function pointsWith(finger: boolean) {
  if (now().finger !== finger) change({ finger });
}

/** Show why something stands there; null takes it away. */
export function showWhy(why: Why | null) {
  change({ why });
}

/** What is pointed at, to be asked why it stands there. */
export function pointAt(pointed: Partial<View["pointed"]>) {
  change({ pointed: { ...now().pointed, ...pointed } });
}
