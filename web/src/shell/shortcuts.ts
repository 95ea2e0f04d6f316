/** The keyboard. Making things is a letter after N, rules are a letter after R; every one is also a button or menu. */
import { useEffect } from "react";
import { showAll, zoomBy } from "../bench/Bench";
import type { Operation } from "../api/client";
import { edit, redo, selectedThing, undo, useStore } from "../state/store";
import { thingsOf } from "../state/document";
import { askForPicture, chooseOutline, OUTLINES } from "./TopBar";

const PARTS: Record<string, string> = { p: "padding", s: "sit", h: "hang", t: "stand", a: "align", z: "size", w: "wrap", c: "clearance", f: "fill", k: "stroke" };

export const SHORTCUTS: [string, [string, string][]][] = [
  ["Make", [...OUTLINES.map((o): [string, string] => [`N ${o.key}`, o.name]), ["N P", "Picture"]]],
  ["Rules", [["R P", "Padding"], ["R S", "Where lines sit"], ["R H", "What they hang from"], ["R T", "What they stand on"], ["R A", "Alignment"], ["R Z", "Size and leading"], ["R W", "Wrap"], ["R C", "Clearance"], ["R F", "Fill"], ["R K", "Stroke"]]],
  ["Look", [[".", "Clean view"], [",", "Slots"], [";", "Galley"], ["+ −", "Zoom"], ["0", "Whole page"], ["Space and drag", "Move the bench"], ["Ctrl and wheel", "Zoom at the pointer"]]],
  ["Object", [["Enter", "Into the copy"], ["Esc", "Out of it; nothing selected"], ["Arrows", "Nudge by 1 pt (Shift: 10)"], ["Delete", "Delete it"], ["Ctrl Z", "Undo"], ["Ctrl Shift Z", "Redo"], ["?", "This list"]]],
];

export function useShortcuts(toggleHelp: () => void) {
  useEffect(() => {
    let prefix = "";
    let timer = 0;
    const keys = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const command = event.ctrlKey || event.metaKey;
      const typing = target.closest?.("input, textarea, select, [contenteditable=true], [role=menu], [role=radiogroup], .card");
      if (command && event.key.toLowerCase() === "z" && !target.closest?.("input, textarea")) {
        event.preventDefault();
        void (event.shiftKey ? redo() : undo());
        return;
      }
      if (typing || command || event.altKey) return;
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const before = prefix;
      prefix = "";
      clearTimeout(timer);
      if (before === "n") {
        const outline = OUTLINES.find((o) => o.key?.toLowerCase() === key);
        if (outline) chooseOutline(outline.name);
        if (key === "p") askForPicture();
        return;
      }
      if (before === "r") {
        if (PARTS[key]) document.querySelector<HTMLButtonElement>(`[data-part="${PARTS[key]}"]`)?.click();
        return;
      }
      if (key === "n" || key === "r") {
        prefix = key;
        timer = window.setTimeout(() => (prefix = ""), 1500);
        return;
      }
      const state = useStore.getState();
      if (key === ".") useStore.setState({ clean: !state.clean });
      else if (key === ",") useStore.setState({ slots: !state.slots });
      else if (key === ";") useStore.setState({ galley: !state.galley });
      else if (key === "?") toggleHelp();
      else if (key === "+" || key === "=") zoomBy(1.25);
      else if (key === "-") zoomBy(1 / 1.25);
      else if (key === "0") showAll();
      else if (key === "Escape" && document.querySelector(".part[data-open]")) document.querySelector<HTMLElement>(".part[data-open]")!.click();
      else if (key === "Escape") useStore.setState({ selected: null, tool: { kind: "hand" } });
      else if (target.tagName === "CANVAS" || target === document.body) onObject(event, key);
    };
    addEventListener("keydown", keys);
    return () => removeEventListener("keydown", keys);
  }, [toggleHelp]);
}

const ARROWS: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

function onObject(event: KeyboardEvent, key: string) {
  const thing = selectedThing();
  if (!thing) return;
  if (key === "Enter") {
    event.preventDefault();
    useStore.setState({ galley: true, focusGalley: useStore.getState().focusGalley + 1 });
  } else if ((key === "Delete" || key === "Backspace") && !thing.locked) {
    event.preventDefault();
    void edit(removal(thing.id), "Delete");
  } else if (ARROWS[key] && !thing.locked) {
    event.preventDefault();
    const by = event.shiftKey ? 10 : 1;
    const box = useStore.getState().scene?.objects[thing.id]?.box;
    if (!box) return;
    const [dx, dy] = ARROWS[key];
    const operations: Operation[] = [];
    if (dx) operations.push({ do: "put", at: ["objects", thing.id, "x"], value: Math.round((box[0] + dx * by) * 100) / 100 });
    if (dy) operations.push({ do: "put", at: ["objects", thing.id, "y"], value: Math.round((box[1] + dy * by) * 100) / 100 });
    void edit(operations, "Nudge", `nudge:${thing.id}`);
  }
}

/** Take an object away, and its copy with it when no other frame holds that. */
function removal(id: string): Operation[] {
  const open = useStore.getState().document!;
  const out: Operation[] = [];
  open.pages.forEach((page, number) => {
    const index = page.objects.findIndex((t) => t.id === id);
    if (index >= 0) out.push({ do: "splice", at: ["pages", number, "objects"], from: index, remove: 1, insert: [] });
  });
  const copy = thingsOf(open).find((t) => t.id === id)?.frame?.copy;
  if (copy && !thingsOf(open).some((t) => t.id !== id && t.frame?.copy === copy)) out.push({ do: "cut", at: ["copies", copy] });
  return out;
}
