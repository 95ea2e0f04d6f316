/** The keyboard. Making things is a letter after N, rules are a letter after R; every one is also a button or menu. */
import { useEffect } from "react";
import { showAll, zoomBy } from "../bench/view";
import { act } from "../api/client";
import {
  copySelection,
  cutSelection,
  duplicate,
  editPoints,
  group,
  pasteHere,
  remove,
  selectEverything,
  ungroup,
  unlocked,
} from "../bench/arrange";
import { whyHere } from "../bench/WhyHere";
import { POINT_KINDS, setPointKind } from "../bench/pointing";
import {
  beginCopy,
  caretGone,
  caretStoodJustNow,
  edit,
  putCaret,
  redo,
  sayEveryRule,
  selectedThing,
  undo,
  useStore,
} from "../state/store";
import { askForPicture, chooseOutline, OUTLINES } from "./TopBar";

const PARTS: Record<string, string> = {
  g: "give",
  l: "leftover",
  u: "columns",
  v: "tries",
  p: "padding",
  s: "sit",
  h: "hang",
  t: "stand",
  a: "align",
  z: "size",
  w: "wrap",
  c: "clearance",
  f: "fill",
  k: "stroke",
  o: "outline",
  b: "breaking",
  y: "hyphenate",
  x: "place",
};

export const SHORTCUTS: [string, [string, string][]][] = [
  [
    "Make",
    [
      ...OUTLINES.map((o): [string, string] => [`N ${o.key}`, o.name]),
      ["N D", "Draw freely"],
      ["N L", "Line of type"],
      ["N P", "Picture"],
    ],
  ],
  [
    "Rules",
    [
      ["R G", "Which edges give"],
      ["R P", "Padding"],
      ["R S", "Where lines sit"],
      ["R H", "What they hang from"],
      ["R T", "What they stand on"],
      ["R A", "Alignment"],
      ["R Z", "Size and leading"],
      ["R W", "Wrap"],
      ["R C", "Clearance"],
      ["R F", "Fill"],
      ["R K", "Stroke"],
      ["R O", "Outline"],
      ["R B", "Where lines end"],
      ["R Y", "Hyphenation"],
      ["R L", "What does not fit"],
      ["R U", "Columns"],
      ["R V", "Try it several ways"],
      ["R X", "Place and size"],
    ],
  ],
  [
    "Look",
    [
      [".", "Clean view"],
      [",", "Slots"],
      [";", "Fold or open the galley"],
      ["'", "Fold or open the tally"],
      ["+ −", "Zoom"],
      ["0", "Whole page"],
      ["Y", "Why here: what put it there"],
      ["Space and drag", "Move the bench"],
      ["Ctrl and wheel", "Zoom at the pointer"],
    ],
  ],
  [
    "Object",
    [
      ["Enter", "Into the copy"],
      ["Esc", "Out of it; nothing selected"],
      ["Arrows", "Nudge by 1 pt (Shift: 10)"],
      ["Delete", "Delete it"],
      ["E", "Edit its points"],
      ["G", "Group"],
      ["U", "Take the group apart"],
      ["C V B", "A point: a corner, a curve, an even curve"],
      ["Shift and click", "Select one more"],
      ["Alt and drag", "Duplicate"],
      ["Ctrl D", "Duplicate"],
      ["Ctrl C X V", "Copy, cut, paste"],
      ["Ctrl A", "Select everything"],
      ["Ctrl Z", "Undo"],
      ["Ctrl Shift Z", "Redo"],
      ["?", "This list"],
    ],
  ],
];

export function useShortcuts(toggleHelp: () => void) {
  useEffect(() => {
    let prefix = "";
    let timer = 0;
    const keys = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const command = event.ctrlKey || event.metaKey;
      const typing = target.closest?.(
        "input, textarea, select, [contenteditable=true], [role=menu], [role=radiogroup], .card",
      );
      if (command && event.key.toLowerCase() === "z" && !target.closest?.("input, textarea")) {
        event.preventDefault();
        void (event.shiftKey ? redo() : undo());
        return;
      }
      if (
        command &&
        !typing &&
        (target.tagName === "CANVAS" || target === document.body) &&
        !window.getSelection()?.toString()
      ) {
        const does = { c: copySelection, x: cutSelection, v: pasteHere, d: duplicate, a: selectEverything }[
          event.key.toLowerCase()
        ];
        if (does) {
          event.preventDefault();
          void does();
          return;
        }
      }
      if (typing || command || event.altKey) return;
      const onBench = target.tagName === "CANVAS" || target === document.body;
      if (event.key.length === 1) {
        const { justMade, selected, begin, wanted } = useStore.getState();
        if (((begin || wanted) && selected) || (onBench && justMade && justMade === selected)) {
          // On its way to the galley: what is typed until it is there goes into the copy.
          event.preventDefault();
          prefix = "";
          if (wanted && !begin) useStore.setState({ wanted: { ...wanted, text: (wanted.text ?? "") + event.key } });
          else beginCopy(event.key);
          return;
        }
        if (caretStoodJustNow()) return;
      }
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const before = prefix;
      prefix = "";
      clearTimeout(timer);
      // The letter that opens a field is not typed into it.
      if (before) event.preventDefault();
      if (before === "n") {
        const outline = OUTLINES.find((o) => o.key?.toLowerCase() === key);
        if (outline) chooseOutline(outline.name);
        if (key === "p") askForPicture();
        if (key === "l") useStore.setState({ tool: { kind: "line" }, selected: null, others: [] });
        if (key === "d") useStore.setState({ tool: { kind: "draw" }, draft: null, selected: null, others: [] });
        return;
      }
      if (before === "r") {
        if (PARTS[key]) openPart(PARTS[key]);
        return;
      }
      if (key === "n" || key === "r") {
        prefix = key;
        timer = window.setTimeout(() => (prefix = ""), 1500);
        return;
      }
      const state = useStore.getState();
      const kind = POINT_KINDS.find((one) => one.key === key)?.kind;
      if (state.tool.kind === "points" && kind && state.selected) return setPointKind(state.selected, kind);
      if (state.tool.kind === "points" && key === "Escape")
        return useStore.setState(state.points.length ? { points: [] } : { tool: { kind: "hand" } });
      if (key === "y") return whyHere();
      if (state.tool.kind === "why" && key === "Escape")
        return useStore.setState(state.why?.pinned ? { why: null } : { tool: { kind: "hand" }, why: null });
      if (state.tool.kind === "subject" && key === "Escape") return useStore.setState({ tool: { kind: "hand" } });
      if (key === ".") useStore.setState({ clean: !state.clean });
      else if (key === ",") useStore.setState({ slots: !state.slots });
      else if (key === ";") useStore.setState({ galley: !state.galley });
      else if (key === "'") useStore.setState({ tally: !state.tally });
      else if (key === "?") toggleHelp();
      else if (key === "+" || key === "=") zoomBy(1.25);
      else if (key === "-") zoomBy(1 / 1.25);
      else if (key === "0") showAll();
      else if (key === "Escape" && document.querySelector(".part[data-open]"))
        document.querySelector<HTMLElement>(".part[data-open]")!.click();
      else if (key === "Escape") {
        caretGone(true);
        if (state.paragraphs || state.stretches.length) useStore.setState({ paragraphs: null, stretches: [] });
        if (state.clean) useStore.setState({ clean: false });
        else if (state.tool.kind !== "hand")
          useStore.setState({ draft: null, points: [], tool: { kind: "hand" }, justMade: null });
        else if (state.justMade) useStore.setState({ justMade: null });
        else useStore.setState({ selected: null, others: [], points: [], draft: null });
      } else if (onBench || (target.closest?.("[data-tally]") && OF_THE_TALLY.includes(key))) onObject(event, key);
    };
    // A press anywhere, or Esc, and an outline just made is an outline like others.
    const settle = (event: Event) => {
      if (useStore.getState().justMade && (event.type === "pointerdown" || (event as KeyboardEvent).key === "Escape"))
        setTimeout(() => useStore.setState({ justMade: null }));
    };
    addEventListener("keydown", keys);
    addEventListener("keydown", settle, true);
    addEventListener("pointerdown", settle, true);
    return () => {
      removeEventListener("keydown", keys);
      removeEventListener("keydown", settle, true);
      removeEventListener("pointerdown", settle, true);
    };
  }, [toggleHelp]);
}

/** Keys that go to what is chosen while the tally has them. */
const OF_THE_TALLY = ["Delete", "Backspace", "g", "u"];

/** Open a part of the sentence; one that is left out is said first. */
function openPart(name: string) {
  const part = () => document.querySelector<HTMLButtonElement>(`[data-part="${name}"]`);
  if (!part() && !useStore.getState().everyRule) {
    sayEveryRule(true);
    setTimeout(() => part()?.click(), 60);
  } else part()?.click();
}

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

function onObject(event: KeyboardEvent, key: string) {
  const thing = selectedThing();
  if (!thing) return;
  const free = unlocked();
  if (key === "Enter") {
    event.preventDefault();
    if (thing.picture) return;
    if (thing.frame) putCaret(Number.MAX_SAFE_INTEGER);
    else beginCopy();
  } else if (key === "g") {
    void group();
  } else if (key === "u") {
    ungroup();
  } else if (key === "e") {
    editPoints();
  } else if ((key === "Delete" || key === "Backspace") && free.length) {
    event.preventDefault();
    remove(free);
  } else if (ARROWS[key] && free.length) {
    event.preventDefault();
    const by = event.shiftKey ? 10 : 1;
    const [dx, dy] = ARROWS[key];
    // Steps are sums: whatever is on its way, none is lost.
    void edit(act("move", { objects: free, by: [dx * by, dy * by] }), "Nudge", `nudge:${free.join()}`);
  }
}
