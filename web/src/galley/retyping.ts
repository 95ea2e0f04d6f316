/**
 * Formatting survives retyping: what is typed or pasted looks like the first letter that it replaces, paragraphs keep
 * their rules, and one that is emptied keeps the look of its letters for what is typed into it next.
 */
import { Extension } from "@tiptap/core";
import type { Mark, Node as ProseNode, Schema, Slice } from "@tiptap/pm/model";
import { Fragment, Slice as SliceOf } from "@tiptap/pm/model";
import type { EditorView } from "@tiptap/pm/view";
import { say } from "../state/viewing";
import { AllSelection, type EditorState, Plugin, PluginKey, TextSelection } from "@tiptap/pm/state";

/** Marks that a paste brings of its own. */
const OWN = ["bold", "italic", "underline"];

/** The marks of the first letter that a selection holds; with a bare caret those of what is typed there. */
export function lookAt(state: EditorState): readonly Mark[] {
  const { selection, doc } = state;
  if (!selection.empty) {
    let found: readonly Mark[] | null = null;
    doc.nodesBetween(selection.from, selection.to, (node) => {
      if (found) return false;
      if (node.isText) found = node.marks;
      return !found;
    });
    if (found) return found;
  }
  const { parent } = selection.$from;
  if (!parent.content.size) return state.storedMarks ?? emptyMarks(parent, state.schema);
  return state.storedMarks ?? selection.$from.marks();
}

/** The marks that an emptied paragraph keeps. */
function emptyMarks(paragraph: ProseNode, schema: Schema): readonly Mark[] {
  return ((paragraph.attrs.empty as { type: string; attrs: Record<string, unknown> }[] | null) ?? []).flatMap(
    ({ type, attrs }) => schema.marks[type]?.create(attrs) ?? [],
  );
}

function saved(marks: readonly Mark[]) {
  return marks.length ? marks.map((mark) => ({ type: mark.type.name, attrs: mark.attrs })) : null;
}

/** What is pasted looks like what it replaces; slope, weight and underline of its own come with it. */
export function pastedInto(slice: Slice, state: EditorState): Slice {
  const look = lookAt(state);
  const dressed = (fragment: Fragment): Fragment => {
    const nodes: ProseNode[] = [];
    fragment.forEach((node) => {
      if (!node.isText) nodes.push(node.copy(dressed(node.content)));
      else {
        const own = node.marks.filter((mark) => OWN.includes(mark.type.name));
        nodes.push(node.mark(look.reduce((marks, mark) => mark.addToSet(marks), own as readonly Mark[])));
      }
    });
    return Fragment.from(nodes);
  };
  return new SliceOf(dressed(slice.content), slice.openStart, slice.openEnd);
}

function hasLook(slice: Slice): boolean {
  let found = false;
  slice.content.descendants((node) => {
    found ||= node.isText && node.marks.some((mark) => mark.type.name === "look");
    return !found;
  });
  return found;
}

/** What a paste left behind of its formatting, its sizes and colours, is put in when it is asked for. */
function offerLook(view: EditorView, slice: Slice, from: number, made: Slice) {
  setTimeout(() => {
    const pasted = view.state.doc;
    say("Pasted in the look of what stood there.", "said", {
      label: "Keep its own sizes and colours",
      run: () => {
        if (!view.state.doc.eq(pasted)) return say("The copy has changed since: undo, and paste it again.");
        const to = Math.min(from + made.size, view.state.doc.content.size);
        view.dispatch(view.state.tr.replaceRange(from, to, slice));
      },
    });
  });
}

/** After each change: paragraphs without rules take those of the paragraph that stood there, emptied ones keep their
 * look. */
export const Retyping = Extension.create({
  name: "retyping",
  priority: 1000,
  addKeyboardShortcuts() {
    return {
      // All of the copy as text, so that its first paragraph is kept when it is typed over.
      "Mod-a": ({ editor }) => {
        const { doc, tr } = editor.state;
        editor.view.dispatch(tr.setSelection(TextSelection.between(doc.resolve(0), doc.resolve(doc.content.size))));
        return true;
      },
    };
  },
  addProseMirrorPlugins() {
    return [
      new Plugin({
        key: new PluginKey("retyping"),
        props: {
          handleTextInput(view, from, to, text) {
            // Typed over a selection: in the look of the first letter that goes.
            if (from === to && view.state.selection.empty) return false;
            const marks = lookAt(view.state);
            const tr = view.state.tr.replaceWith(from, to, view.state.schema.text(text, marks));
            view.dispatch(tr.setSelection(TextSelection.create(tr.doc, tr.mapping.map(to))).scrollIntoView());
            return true;
          },
          transformPasted: (slice, view) => {
            const made = pastedInto(slice, view.state);
            if (hasLook(slice)) offerLook(view, slice, view.state.selection.from, made);
            return made;
          },
        },
        appendTransaction(transactions, old, state) {
          if (!transactions.some((tr) => tr.docChanged) || transactions.some((tr) => tr.getMeta("preventUpdate")))
            return null;
          const before = paragraphOf(old);
          const look = old.selection instanceof AllSelection || !old.selection.empty ? lookAt(old) : lastLook(old);
          const tr = state.tr;
          state.doc.forEach((paragraph, offset) => {
            if (paragraph.type.name !== "paragraph") return;
            let attrs = paragraph.attrs;
            if (!attrs.rules && before?.attrs.rules) attrs = { ...attrs, rules: before.attrs.rules as unknown };
            const bare = !paragraph.content.size;
            // One that was made bare here, not one that is new below the caret.
            if (bare && !attrs.empty && state.doc.childCount <= old.doc.childCount) {
              if (emptyHere(old, transactions, offset)) attrs = { ...attrs, empty: saved(look) };
            }
            if (!bare && attrs.empty) {
              const kept = emptyMarks(paragraph, state.schema);
              for (const mark of kept) tr.addMark(offset + 1, offset + 1 + paragraph.content.size, mark);
              attrs = { ...attrs, empty: null };
            }
            if (attrs !== paragraph.attrs) tr.setNodeMarkup(offset, undefined, attrs);
          });
          // An emptied copy is not to be made plain either.
          const emptied = state.doc.childCount === 1 && !state.doc.firstChild!.content.size;
          return tr.docChanged || emptied ? tr.setMeta("preventClearDocument", true) : null;
        },
      }),
    ];
  },
});

/** The paragraph that a selection begins in. */
function paragraphOf(state: EditorState): ProseNode | null {
  const { $from } = state.selection;
  if ($from.depth > 0) return $from.node(1);
  return state.doc.firstChild;
}

/** The look of the letter before the caret, or of the one behind it. */
function lastLook(state: EditorState): readonly Mark[] {
  const { $from } = state.selection;
  return $from.nodeBefore?.isText
    ? $from.nodeBefore.marks
    : $from.nodeAfter?.isText
      ? $from.nodeAfter.marks
      : $from.marks();
}

/** Whether the paragraph that is bare now held letters before. */
function emptyHere(
  old: EditorState,
  transactions: readonly { mapping: { invert(): { map(pos: number): number } } }[],
  offset: number,
): boolean {
  let at = offset + 1;
  for (const tr of [...transactions].reverse()) at = tr.mapping.invert().map(at);
  const $at = old.doc.resolve(Math.min(Math.max(at, 0), old.doc.content.size));
  const was = $at.depth > 0 ? $at.node(1) : (old.doc.firstChild ?? null);
  return !!was?.content.size;
}
