/** The keys of deeds, as they are shipped or as they were changed, and which deed is pressed. */
import { type Deed, hinders } from "./deed";
import { DEEDS } from "./deeds";

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
