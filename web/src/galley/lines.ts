/** The caret by lines as they are set on the page. */
import { TextSelection } from "@tiptap/pm/state";
import type { EditorView } from "@tiptap/pm/view";
import { sideStep, lineStep } from "../drawing/caret";
import { COLUMNS, END, START } from "../drawing/records";
import { shownScene, useStore } from "../state/store";
import { indexOf, positionOf } from "./extensions";

/** While copy is written on the page, arrows, Home and End go by the lines as they are set. */
export function byLines(view: EditorView, event: KeyboardEvent, goal: { current: number | null }): boolean {
  const { tool, selected } = useStore.getState();
  const scene = shownScene();
  if (["Enter", "Backspace", "Delete"].includes(event.key)) caretAsSeen(view);
  if (event.key.length === 1 || event.key.startsWith("ArrowL") || event.key.startsWith("ArrowR")) goal.current = null;
  if ((event.ctrlKey || event.metaKey) && !event.altKey && (event.key === "Home" || event.key === "End")) {
    // To the copy's start or end: a browser stops at objects in line.
    const { doc, selection, tr } = view.state;
    const head = event.key === "Home" ? TextSelection.atStart(doc).head : TextSelection.atEnd(doc).head;
    view.dispatch(
      tr.setSelection(TextSelection.create(doc, event.shiftKey ? selection.anchor : head, head)).scrollIntoView(),
    );
    return true;
  }
  if (
    tool.kind !== "copy" ||
    event.altKey ||
    event.ctrlKey ||
    event.metaKey ||
    !["ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight", "Home", "End"].includes(event.key)
  )
    return false;
  const nest = scene?.nests[selected ?? ""];
  const shape = nest && scene?.shapes[nest.shape];
  if (!nest || !shape) return false;
  const { doc, selection, tr } = view.state;
  if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
    // A selection is left at its side first, as anywhere.
    if (!selection.empty && !event.shiftKey) return false;
    caretAsSeen(view);
    const to = sideStep(nest, shape, indexOf(view.state.doc, view.state.selection.head), event.key);
    if (to === null) return false;
    const at = positionOf(view.state.doc, to);
    const from = event.shiftKey ? view.state.selection.anchor : at;
    view.dispatch(view.state.tr.setSelection(TextSelection.create(view.state.doc, from, at)).scrollIntoView());
    return true;
  }
  const here = indexOf(doc, selection.head);
  let step = lineStep(nest, shape, here, event.key, goal.current);
  if (!step) return false;
  // Past the last line of a frame the copy goes on in the next of its chain, before its first in the one before.
  const beside =
    nest.chain && (event.key === "ArrowDown" ? nest.chain.after : event.key === "ArrowUp" ? nest.chain.before : null);
  const other = beside ? scene?.nests[beside] : undefined;
  const rows = nest.records;
  const leaves =
    event.key === "ArrowDown"
      ? step.index >= rows[rows.length - COLUMNS + END]
      : step.index <= rows[START] && here <= rows[END];
  if (other?.records.length && leaves)
    step = {
      index: event.key === "ArrowDown" ? other.records[START] : other.records[other.records.length - COLUMNS + START],
      goal: step.goal,
    };
  goal.current = step.goal;
  const head = positionOf(doc, step.index);
  view.dispatch(
    tr.setSelection(TextSelection.create(doc, event.shiftKey ? selection.anchor : head, head)).scrollIntoView(),
  );
  return true;
}

/** The browser moves a caret at once and tells of it later: keys that come in between count from where it is seen. */
function caretAsSeen(view: EditorView) {
  const seen = document.getSelection();
  if (
    view.composing ||
    !seen?.focusNode ||
    !seen.anchorNode ||
    !view.dom.contains(seen.focusNode) ||
    !view.dom.contains(seen.anchorNode)
  )
    return;
  const head = view.posAtDOM(seen.focusNode, seen.focusOffset);
  const anchor = view.posAtDOM(seen.anchorNode, seen.anchorOffset);
  const { selection, doc, tr } = view.state;
  if (!(selection instanceof TextSelection) || (selection.head === head && selection.anchor === anchor)) return;
  view.dispatch(tr.setSelection(TextSelection.between(doc.resolve(anchor), doc.resolve(head))));
}
