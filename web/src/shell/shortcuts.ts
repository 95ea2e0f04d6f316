/** The keyboard: what is pressed where nobody types is looked up in the table of deeds. */
import { askOver } from "../state/viewing";
import { useEffect } from "react";
import { act } from "../api/client";
import { pasteHere, unlocked } from "../bench/arrange";
import { bringFile } from "../bench/place";
import { ARROWS } from "../bench/tools/tool";
import { beginCopy, caretStoodJustNow, typeOn, settle, typeAhead, typeForIt, stepOut } from "../state/choosing";
import { edit, redo, undo, sizeBy } from "../state/sending";
import { selectedThing, shownScene, useStore } from "../state/store";
import { deedOf, lettersOn, strokeOf } from "./keys";
import { hinders } from "./deed";

/** Where keys are typed, or work something else. */
const TYPING =
  "input, textarea, select, [contenteditable=true], [role=menu], [role=radiogroup], [role=dialog], [role=listbox], .card";
/** Asks what is to be done while copy is written, too. */
export const ASK_WRITING = "Ctrl+.";
/** Single strokes of the list that the tally and the sentence leave to what is chosen; they take Enter themselves. */
const THERE = ["Enter", "Delete"];

export function useShortcuts() {
  useEffect(() => {
    let before = "";
    let timer = 0;
    const keys = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const command = event.ctrlKey || event.metaKey;
      const typing = target.closest?.(TYPING);
      if (command && event.key.toLowerCase() === "z" && !target.closest?.("input, textarea")) {
        event.preventDefault();
        void (event.shiftKey ? redo() : undo());
        return;
      }
      if (strokeOf(event) === ASK_WRITING && (!typing || target.closest("[contenteditable=true]"))) {
        event.preventDefault();
        return askOver("do");
      }
      if (typing || event.altKey) return;
      const onBench = target.tagName === "CANVAS" || target === document.body;
      const there = target.closest?.("[data-tally], [data-sentence]");
      if (command && (!onBench || window.getSelection()?.toString()) && !event.key.startsWith("Arrow")) return;
      if (event.key.length === 1 && !command) {
        const { justMade, selected, begin, wanted } = useStore.getState();
        if (onBench && typeForIt(event.key)) {
          event.preventDefault();
          before = "";
          return;
        }
        if (((begin || wanted) && selected) || (onBench && justMade && justMade === selected)) {
          // On its way to the galley: what is typed until it is there goes into the copy.
          event.preventDefault();
          before = "";
          if (wanted && !begin) typeAhead(event.key);
          else beginCopy(event.key);
          return;
        }
        if (caretStoodJustNow()) {
          if (onBench && typeOn(event.key)) event.preventDefault();
          return;
        }
        // Space works what the keys are on.
        if (event.key === " ") return;
      }
      if (["Shift", "Control", "Meta", "Alt"].includes(event.key)) return;
      const stroke = strokeOf(event);
      const pressed = before ? `${before} ${stroke}` : stroke;
      clearTimeout(timer);
      // The letter that opens a field is not typed into it.
      if (before) event.preventDefault();
      before = "";
      if (event.key === "Escape") return stepOut();
      if (event.key.startsWith("Arrow")) return (onBench || there) && onObject(event);
      if (event.key.length === 1 && !command && !lettersOn()) return;
      const found = deedOf(pressed);
      if (found === "more") {
        before = pressed;
        timer = window.setTimeout(() => (before = ""), 1500);
      } else if (found && !hinders(found) && (onBench || there || event.key.length === 1)) {
        if (there && found.keys === "Enter") return;
        if (!onBench && !there && THERE.includes(stroke)) return;
        if (found.id === "paste" && stroke === "Ctrl+V") return; // the browser's own paste brings it
        event.preventDefault();
        found.run();
      }
    };
    // A press anywhere, or Esc, and an outline just made is an outline like others.
    const settles = (event: Event) => {
      if (useStore.getState().justMade && (event.type === "pointerdown" || (event as KeyboardEvent).key === "Escape"))
        setTimeout(settle);
    };
    /** Pictures from other programs come with the browser's own paste; objects of ours otherwise. */
    const paste = (event: ClipboardEvent) => {
      const target = event.target as HTMLElement;
      if (target.closest?.(TYPING)) return;
      event.preventDefault();
      const files = [...(event.clipboardData?.files ?? [])];
      if (files.length) for (const file of files) void bringFile(file);
      else void pasteHere();
    };
    addEventListener("paste", paste);
    addEventListener("keydown", keys);
    addEventListener("keydown", settles, true);
    addEventListener("pointerdown", settles, true);
    return () => {
      removeEventListener("paste", paste);
      removeEventListener("keydown", keys);
      removeEventListener("keydown", settle, true);
      removeEventListener("pointerdown", settles, true);
    };
  }, []);
}

/** Arrows move what is chosen; with Ctrl they move its right or lower edge. */
function onObject(event: KeyboardEvent) {
  const thing = selectedThing();
  const free = unlocked();
  if (!thing || !free.length) return;
  event.preventDefault();
  const by = event.shiftKey ? 10 : 1;
  const [dx, dy] = ARROWS[event.key].map((way) => way * by);
  if (!(event.ctrlKey || event.metaKey)) {
    // Steps are sums: whatever is on its way, none is lost.
    return void edit(act("move", { objects: free, by: [dx, dy] }), "Nudge", `nudge:${free.join()}`);
  }
  const { box, locked } = shownScene()!.objects[thing.id];
  if (locked) return;
  const [field, now, more] = dx ? (["width", box[2], dx] as const) : (["height", box[3], dy] as const);
  sizeBy(thing.id, field, now, more);
}
