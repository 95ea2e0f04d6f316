import { TextSelection } from "@tiptap/pm/state";
import { Fragment, type Node as ProseNode, Slice } from "@tiptap/pm/model";
import type { EditorView } from "@tiptap/pm/view";
import { type Editor, EditorContent, type JSONContent, useEditor } from "@tiptap/react";
import { ArrowRightToLine, Bold, Italic, Underline } from "lucide-react";
import { useEffect, useMemo, useRef } from "react";
import { freshIds } from "../state/ids";
import { type Thing, thingsOf } from "../state/document";
import { VersionMenu } from "./VersionMenu";
import { versionSaid } from "../parts/versions";
import { useShallow } from "zustand/react/shallow";
import { act, type NestScene } from "../api/client";
import {
  caretGone,
  caretAt,
  caretCame,
  copyBegun,
  leaveCopy,
  speakOfAllCopy,
  speakOfParagraphs,
} from "../state/choosing";
import { labelOf } from "../state/naming";
import { edit, redo, typingWaits, undo } from "../state/sending";
import { selectedThing, shownScene, useStore } from "../state/store";
import { lookAt } from "./retyping";
import { CopyMenu } from "./CopyMenu";
import { type Begin, beginsKey, extensions, keep, leftoverKey, positionOf } from "./extensions";
import { useSpelling } from "./spelling";
import { difference, paragraphsIn, toEditor } from "./paragraphs";
import { wordsOf, write } from "./writing";
import { MarkButton } from "./MarkButton";
import { sayCaret, sayStretches, selectedParagraphs } from "./saying";
import { byLines } from "./lines";

/** The panel where copy is read and edited as one running column. */
export function Galley() {
  const thing = useStore(selectedThing);
  const [first, version] = useStore(
    useShallow((s) => {
      const nest = thing ? shownScene(s)?.nests[thing.id] : undefined;
      return [nest?.chain?.frames[0], nest?.version];
    }),
  );
  const language = useStore((s) => s.document?.showing ?? s.document?.language ?? "en");
  return (
    <section aria-label="Galley" className="galley flex h-full min-h-0 flex-col bg-sheet">
      {thing && !thing.picture ? (
        <Copy key={first ?? thing.id} thing={thing} version={version ?? language} />
      ) : (
        <div className="px-4 pt-2.5">
          <div className="flex items-center gap-1 pl-4">
            <h2 className="eyebrow">Galley</h2>
            <VersionMenu copy={null} />
          </div>
          <p className="mt-3 font-serif text-[16px] leading-snug text-soft italic">
            {thing
              ? "A picture holds no copy. Choose an outline to read or write its copy here."
              : "Choose an outline on the page; its copy is read and written here."}
          </p>
        </div>
      )}
    </section>
  );
}

function Copy({ thing, version }: { thing: Thing; version: string }) {
  const copy = thing.frame?.copy ?? null;
  const chain = useStore((s) => shownScene(s)?.nests[thing.id]?.chain?.frames.join("\n") ?? thing.id).split("\n");
  const stored = useStore((s) => (copy ? s.document?.copies[copy]?.versions[version]?.paragraphs : undefined));
  const epoch = useStore((s) => s.epoch);
  const begin = useStore((s) => s.begin);
  // What is left over is left over from the last frame of a chain.
  const nest = useStore(
    useShallow((s) => {
      const all = lastOf(shownScene(s)?.nests, chain) ?? shownScene(s)?.nests[thing.id];
      return (
        all && {
          version: all.version,
          words: all.words,
          capacity: all.capacity,
          leftover: all.leftover,
          leftoverStart: all.leftoverStart,
          shape: all.shape,
        }
      );
    }),
  );
  const page = useStore((s) => s.scene?.objects[thing.id]?.page ?? 0);
  const numbers = useStore((s) => shownScene(s)?.nests[thing.id]?.numbers.join("\n") ?? "");
  const begins = useBegins(chain);
  const showing = useStore((s) => s.document?.showing ?? s.document?.language ?? "en");
  const missing = copy !== null && nest !== undefined && nest.version !== showing;
  const known = useRef({ thing, version, numbers });
  useEffect(() => {
    known.current = { thing, version, numbers };
  });
  const goal = useRef<number | null>(null);
  const wanted = useStore((s) => s.wanted);
  const readOnly = useStore((s) => s.may === "see");
  const editor = useEditor({
    editable: !readOnly,
    injectCSS: false, // in theme.css: the page takes no styles but its own
    extensions,
    content: toEditor(wordsOf(thing, version), numbers.split("\n")),
    editorProps: {
      attributes: {
        "aria-label": "Copy",
        role: "textbox",
        "aria-multiline": "true",
        spellcheck: "false",
        lang: version,
      },
      handleKeyDown: (view, event) => byLines(view, event, goal),
      handlePaste: (view, _, slice) => withItsObjects(view, slice),
    },
    onUpdate: ({ editor }) => write(known.current.thing, known.current.version, editor.state.doc),
    onTransaction: ({ editor }) => sayStretches(editor),
    onSelectionUpdate: ({ editor }) => {
      // What comes from elsewhere (undo, the sentence) moves the selection too, but nobody is writing then.
      if (!editor.isFocused) return;
      speakOfParagraphs(selectedParagraphs(editor));
      sayCaret(editor);
    },
    onFocus: ({ editor }) => {
      speakOfParagraphs(selectedParagraphs(editor));
      sayCaret(editor);
    },
    onBlur: () => {
      if (useStore.getState().caret) caretGone();
      caretAt(null);
    },
  });

  // Undo, another window, the sentence: what did not come from here is shown here, at once; while words of this
  // galley are
  // on their way it knows more, and waits for them.
  const seen = useRef(typingWaits() ? -1 : epoch);
  useEffect(() => {
    if (!editor) return;
    const show = () => {
      const { epoch } = useStore.getState();
      if (editor.isDestroyed || seen.current === epoch || typingWaits()) return;
      const { thing, version, numbers } = known.current;
      const stored = wordsOf(thing, version); // as it is now, drawn or not
      seen.current = epoch;
      if (difference("", "", stored, paragraphsIn(editor.state.doc, stored)) !== null)
        showStored(editor, toEditor(stored, numbers.split("\n")));
    };
    show();
    return useStore.subscribe(show);
  }, [editor, epoch, copy, version]);

  // Pages that move change numbers, not copy.
  useEffect(() => {
    if (editor) renumber(editor, numbers.split("\n"));
  }, [editor, numbers, epoch]);

  useEffect(() => {
    if (editor) editor.view.dispatch(editor.state.tr.setMeta(beginsKey, begins));
  }, [editor, begins]);

  // Asked for once: what is chosen later does not get the caret by itself.
  useEffect(() => {
    const { begin } = useStore.getState(); // as it is now: keys may have come since this was drawn
    if (!editor || !begin) return;
    copyBegun();
    editor.commands.setTextSelection(editor.state.doc.content.size);
    editor.view.focus();
    typedAhead(editor, begin.text);
  }, [editor, begin]);

  useEffect(() => {
    const { wanted } = useStore.getState();
    if (!editor || !wanted) return;
    caretCame();
    const { doc } = editor.state;
    goal.current = null;
    if (wanted.keep) keep(editor.view, wanted.keep === "add");
    editor.view.dispatch(
      editor.state.tr.setSelection(
        TextSelection.create(doc, positionOf(doc, wanted.anchor), positionOf(doc, wanted.head)),
      ),
    );
    editor.view.focus();
    sayCaret(editor);
    typedAhead(editor, wanted.text);
  }, [editor, wanted]);

  const leftoverStart = nest && nest.leftover > 0 ? nest.leftoverStart : Infinity;
  useEffect(() => {
    if (editor) editor.view.dispatch(editor.state.tr.setMeta(leftoverKey, leftoverStart));
  }, [editor, leftoverStart, nest?.shape, epoch, numbers]);

  const language = stored && nest ? (shownScene()?.shapes[nest.shape]?.rules[0]?.language ?? version) : version;
  const spelling = useSpelling(editor, language, epoch);

  useEffect(() => speakOfAllCopy, []);

  return (
    <>
      <header className="flex items-center pt-2.5 pr-3 pb-1 pl-8">
        <h2 className="sr-only">Galley</h2>
        <span className="flex-1" />
        <MarkButton editor={editor} mark="bold" label="Bold" icon={<Bold size={15} />} />
        <MarkButton editor={editor} mark="italic" label="Italic" icon={<Italic size={15} />} />
        <MarkButton editor={editor} mark="underline" label="Underline" icon={<Underline size={15} />} />
        <button
          className="grid size-6 place-items-center rounded-md text-soft hover:bg-inset"
          aria-label="Insert a tab"
          title="Insert a tab (Alt+T)"
          onMouseDown={(event) => event.preventDefault()}
          onClick={() => editor?.chain().focus().insertContent("\t").run()}
        >
          <ArrowRightToLine size={15} />
        </button>
        <CopyMenu thing={thing} version={version} spelling={spelling} editor={editor} />
      </header>
      <div
        className="min-h-0 flex-1 overflow-y-auto px-4 pb-6"
        onKeyDownCapture={(event) => {
          if (event.key === "Escape") {
            // Out of the copy: the frame is chosen again, and all of its copy.
            leaveCopy();
            document.querySelector<HTMLCanvasElement>("canvas")?.focus();
            caretGone(true);
            event.stopPropagation();
          }
          if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
            event.preventDefault();
            event.stopPropagation();
            void (event.shiftKey ? redo() : undo());
          }
        }}
      >
        <div className="mt-1 mb-2 flex items-center gap-2 border-t border-dashed border-line pt-1 text-xs text-slot-text">
          <p className="min-w-0 flex-1 truncate">
            {labelOf(thing)}
            {chain.length > 1 ? `, ${chain.indexOf(thing.id) + 1} of ${chain.length}` : ""}, page {page + 1}
            {copy && <span className="text-soft"> · {copy}</span>}
          </p>
          <span className="-mr-2 shrink-0">
            <VersionMenu copy={copy} />
          </span>
        </div>
        {missing && (
          <p className="mb-3 rounded-lg bg-slot-wash px-3 py-2 text-xs text-slot-text">
            This copy has no {versionSaid(showing)}: {versionSaid(version)} stands in.{" "}
            <button
              className="font-bold underline"
              onClick={() =>
                void edit(act("add-version", { version: showing, copies: [copy] }), `Add ${versionSaid(showing)}`)
              }
            >
              Add it
            </button>
          </p>
        )}
        <EditorContent editor={editor} />
        {nest && nest.words === 0 && nest.capacity > 0 && (
          <p className="mt-3 text-xs text-soft tabular-nums">Room for about {nest.capacity} words.</p>
        )}
        {nest && nest.words > 0 && (
          <p className="mt-3 text-xs text-soft tabular-nums">
            {nest.words} {nest.words === 1 ? "word" : "words"}
            {nest.leftover === 0 && !thing.frame?.give?.length && nest.capacity > nest.words
              ? `; room for about ${nest.capacity}`
              : ""}
          </p>
        )}
        {nest && nest.leftover > 0 && (
          <p className="mt-3 rounded-lg bg-coral-wash px-3 py-2 text-xs text-coral-text">
            {nest.leftover} of {nest.words} words are left over. Let the frame give, fit its type or let them go on in
            another frame, at the tag under it.
          </p>
        )}
      </div>
    </>
  );
}

/** What was typed before the caret was there. */
function typedAhead(editor: Editor, text = "") {
  const marks = lookAt(editor.state);
  if (text) editor.view.dispatch(editor.state.tr.replaceSelectionWith(editor.schema.text(text, marks), false));
}

/** Make what an editor holds what is stored, no more of it than differs: the caret stays with its words. */
function showStored(editor: Editor, content: JSONContent) {
  const { state, schema } = editor;
  const wanted = schema.nodeFromJSON(content);
  const tr = state.tr;
  // First the rules of paragraphs that are there still, so that no words are taken out for them.
  const [had, has] = [state.doc.childCount, wanted.childCount];
  const alike = (a: number, b: number) => had === has || state.doc.child(a).textContent === wanted.child(b).textContent;
  let at = 0;
  let first = 0;
  for (; first < Math.min(had, has) && alike(first, first); first++) {
    tr.setNodeMarkup(at, undefined, wanted.child(first).attrs);
    at += state.doc.child(first).nodeSize;
  }
  at = state.doc.content.size;
  for (let last = 0; last < Math.min(had, has) - first && alike(had - 1 - last, has - 1 - last); last++) {
    at -= state.doc.child(had - 1 - last).nodeSize;
    tr.setNodeMarkup(at, undefined, wanted.child(has - 1 - last).attrs);
  }
  const start = tr.doc.content.findDiffStart(wanted.content);
  const ends = tr.doc.content.findDiffEnd(wanted.content);
  if (start !== null && ends) {
    const overlap = Math.max(0, start - Math.min(ends.a, ends.b));
    tr.replace(start, ends.a + overlap, wanted.slice(start, ends.b + overlap));
  }
  editor.view.dispatch(tr.setMeta("preventUpdate", true).setMeta("addToHistory", false));
}

/** The nest of the last frame of a chain. */
function lastOf(nests: Record<string, NestScene> | undefined, chain: string[]): NestScene | undefined {
  return nests && chain.map((id) => nests[id]).findLast(Boolean);
}

/** Where the frames of a chain begin, the first aside. */
function useBegins(chain: string[]): Begin[] {
  const key = useStore((s) => {
    const nests = shownScene(s)?.nests;
    if (chain.length < 2 || !nests || !s.document) return "";
    const things = new Map(thingsOf(s.document).map((thing) => [thing.id, thing]));
    return chain
      .slice(1)
      .flatMap((id) => {
        const nest = nests[id];
        const thing = things.get(id);
        return nest && thing && nest.held[1] > nest.held[0]
          ? [`${nest.held[0]}\t${labelOf(thing)}, page ${nest.page + 1}`]
          : [];
      })
      .join("\n");
  });
  return useMemo(
    () => (key ? key.split("\n").map((row) => ({ at: Number(row.split("\t")[0]), label: row.split("\t")[1] })) : []),
    [key],
  );
}

/** Words that are pasted while their objects are still there bring duplicates of these. */
function withItsObjects(view: EditorView, slice: Slice): boolean {
  const here = new Set<string>();
  view.state.doc.descendants((node) => void (node.type.name === "object" && here.add(node.attrs.id as string)));
  const again: string[] = [];
  slice.content.descendants(
    (node) =>
      void (node.type.name === "object" && here.has(node.attrs.id as string) && again.push(node.attrs.id as string)),
  );
  if (!again.length) return false;
  const ids = freshIds(again.length);
  const renamed = (fragment: Fragment): Fragment => {
    const nodes: ProseNode[] = [];
    fragment.forEach((node) => {
      const at = node.type.name === "object" ? again.indexOf(node.attrs.id as string) : -1;
      nodes.push(
        at >= 0
          ? node.type.create({ ...node.attrs, id: ids[at] })
          : node.isText
            ? node
            : node.copy(renamed(node.content)),
      );
    });
    return Fragment.from(nodes);
  };
  const made = new Slice(renamed(slice.content), slice.openStart, slice.openEnd);
  const copy = shownScene()?.nests[useStore.getState().selected ?? ""]?.copyName;
  void edit(act("duplicate", { objects: again, by: [0, 0], ids, anchored: true }), "Paste", `typing:${copy}`).then(
    (done) => {
      if (done) view.dispatch(view.state.tr.replaceSelection(made).scrollIntoView());
    },
  );
  return true;
}

/** Page numbers of the copy read as they are now. */
function renumber(editor: Editor, numbers: string[]) {
  const { tr, doc } = editor.state;
  let at = 0;
  doc.descendants((node, position) => {
    if (node.type.name !== "number") return;
    const shown = numbers[at++] ?? "?";
    if (node.attrs.shown !== shown) tr.setNodeMarkup(position, undefined, { ...node.attrs, shown });
  });
  if (tr.docChanged) editor.view.dispatch(tr.setMeta("preventUpdate", true));
}
