/** What the galley tells the rest: where its caret is, and what is chosen in it. */

import { type Editor } from "@tiptap/react";
import { bringIntoView } from "../parts/view";
import { caretAt, goOnIn, speakOfStretches } from "../state/choosing";
import { shownScene, useStore } from "../state/store";
import { indexOf, keptKey } from "./extensions";

export function sayStretches(editor: Editor) {
  const { doc, selection } = editor.state;
  const chosen = [...(keptKey.getState(editor.state) ?? []), selection].filter(({ from, to }) => from < to);
  const stretches = chosen.map(({ from, to }): [number, number] => [indexOf(doc, from), indexOf(doc, to)]);
  speakOfStretches(stretches);
}

/** The caret goes from frame to frame of a chain with its words. */
export function sayCaret(editor: Editor) {
  const [anchor, head] = [editor.state.selection.anchor, editor.state.selection.head].map((p) =>
    indexOf(editor.state.doc, p),
  );
  const selected = useStore.getState().selected;
  if (!selected) return;
  const nests = shownScene()?.nests ?? {};
  const chain = nests[selected]?.chain?.frames ?? [];
  const holds = (id: string) =>
    nests[id] &&
    nests[id].held[0] <= head &&
    (head < nests[id].held[1] ||
      (head === nests[id].held[1] && nests[id].held[1] > nests[id].held[0] && !nests[id].chain?.after));
  const frame =
    !chain.length || holds(selected)
      ? selected
      : (chain.find(holds) ?? [...chain].reverse().find((id) => nests[id]?.wordsHeld) ?? selected);
  if (frame !== selected) {
    goOnIn(frame);
    bringIntoView(frame);
  }
  caretAt({ frame, anchor, head });
}

export function selectedParagraphs(editor: Editor): [number, number] | null {
  const { $from, $to } = editor.state.selection;
  return editor.isFocused ? [$from.index(0), Math.min($to.index(0), editor.state.doc.childCount - 1)] : null;
}
