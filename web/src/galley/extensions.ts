/** What the galley's editor knows: paragraphs with their rules, bold, italic, forced breaks, and the leftover's
 * mark. */
import { DEFAULTS } from "../api/rules";
import { Extension, Mark, Node as TipTapNode } from "@tiptap/core";
import { Bold } from "@tiptap/extension-bold";
import { Document } from "@tiptap/extension-document";
import { HardBreak } from "@tiptap/extension-hard-break";
import { Italic } from "@tiptap/extension-italic";
import { Paragraph } from "@tiptap/extension-paragraph";
import { Text } from "@tiptap/extension-text";
import { Placeholder } from "@tiptap/extensions";
import type { Node } from "@tiptap/pm/model";
import { Plugin, PluginKey } from "@tiptap/pm/state";
import { thingsOf } from "../state/document";
import { Retyping } from "./retyping";
import { labelOf } from "../state/naming";
import { useStore } from "../state/store";
import { Decoration, DecorationSet, type EditorView } from "@tiptap/pm/view";

const RuledParagraph = Paragraph.extend({
  addAttributes() {
    return {
      rules: {
        default: null,
        keepOnSplit: true,
        parseHTML: () => null,
        renderHTML: ({ rules }: { rules?: { list?: { kind?: string }; style?: string } | null }) => ({
          ...(rules?.list ? { "data-list": rules.list.kind ?? DEFAULTS.list.kind } : {}),
          ...(rules?.style?.startsWith("Heading") ? { "data-heading": "" } : {}),
        }),
      },
      // The look of the letters that stood in a paragraph which is empty now, as marks.
      empty: { default: null, keepOnSplit: false, parseHTML: () => null, rendered: false },
    };
  },
});

const Underlined = Mark.create({
  name: "underline",
  parseHTML() {
    return [
      { tag: "u" },
      {
        style: "text-decoration",
        consuming: false,
        getAttrs: (value) => (String(value).includes("underline") ? {} : false),
      },
    ];
  },
  renderHTML() {
    return ["u", 0];
  },
  addKeyboardShortcuts() {
    return {
      "Mod-u": () => this.editor.commands.toggleMark("underline"),
      "Alt-t": () => this.editor.commands.insertContent("\t"),
    };
  },
});

/** Size and colour that a pasted element sets itself: kept only when they are asked for. */
function lookOfElement(element: HTMLElement): { look: { size?: number; color?: string } } | false {
  const [, figure, unit] = element.style.fontSize.match(/^([\d.]+)(pt|px)$/) ?? [];
  const rgb = element.style.color
    .match(/^rgb\((\d+), (\d+), (\d+)\)$/)
    ?.slice(1)
    .map(Number);
  const color = rgb && `#${rgb.map((part) => part.toString(16).padStart(2, "0")).join("")}`;
  const size = figure ? Math.round(Number(figure) * (unit === "px" ? 0.75 : 1) * 100) / 100 : undefined;
  return size || color ? { look: { ...(size ? { size } : {}), ...(color ? { color } : {}) } } : false;
}

/** A run's own font, size or colour, carried through editing unchanged. */
const RunLook = Mark.create({
  name: "look",
  addAttributes() {
    return { look: { default: {}, rendered: false } };
  },
  parseHTML() {
    return [
      { tag: "span[data-look]" },
      { tag: "span[style], font", consuming: false, getAttrs: (element) => lookOfElement(element) },
    ];
  },
  renderHTML() {
    return ["span", { "data-look": "" }, 0];
  },
});

/** What stands for a node that is no text, one letter each, where only the text counts. */
const LEAF = (node: Node) => (node.type.name === "object" || node.type.name === "number" ? "\ufffc" : "\u2028");

/** A page number, right by itself. */
const PageNumber = TipTapNode.create({
  name: "number",
  group: "inline",
  inline: true,
  atom: true,
  selectable: true,
  addAttributes() {
    return {
      field: { default: "page" },
      of: { default: null },
      shown: { default: "?" },
      look: { default: {}, rendered: false },
    };
  },
  parseHTML() {
    return [
      {
        tag: "span[data-number]",
        getAttrs: (element) => ({
          field: element.dataset.number,
          of: element.dataset.of || null,
          shown: element.textContent,
        }),
      },
    ];
  },
  renderHTML({ node }) {
    const said = {
      page: "The number of this page",
      "next-page": "The page where the copy goes on",
      "previous-page": "The page that the copy comes from",
    }[node.attrs.field as string];
    return [
      "span",
      {
        "data-number": node.attrs.field as string,
        "data-of": (node.attrs.of as string | null) ?? "",
        class: "page-number",
        title: said,
      },
      node.attrs.shown,
    ];
  },
});

/** An object that stands in line. */
const InLineObject = TipTapNode.create({
  name: "object",
  group: "inline",
  inline: true,
  atom: true,
  selectable: true,
  addAttributes() {
    return { id: { default: null } };
  },
  parseHTML() {
    return [{ tag: "span[data-object]", getAttrs: (element) => ({ id: element.dataset.object }) }];
  },
  renderHTML({ node }) {
    const { document: open, scene } = useStore.getState();
    const thing = open && thingsOf(open).find((t) => t.id === node.attrs.id);
    const group = scene?.pages.flatMap((page) => page.groups).find((one) => one.leader === node.attrs.id);
    const label = group ? group.name || "Group" : thing ? labelOf(thing) : "object";
    return [
      "span",
      {
        "data-object": node.attrs.id as string,
        class: `in-line-object${thing?.anchor?.place && thing.anchor.place !== "in-line" ? " elsewhere" : ""}`,
        title:
          thing?.anchor?.place && thing.anchor.place !== "in-line"
            ? "It belongs here, and stands elsewhere"
            : "An object in line",
      },
      label,
    ];
  },
});

export const beginsKey = new PluginKey<DecorationSet>("begins");

/** Where a frame of a chain begins in the copy, in code points, and what it is called. */
export interface Begin {
  at: number;
  label: string;
}

/** A thin mark where each frame of a chain begins; the places come with `tr.setMeta(beginsKey, begins)`. */
const Begins = Extension.create({
  name: "begins",
  addProseMirrorPlugins() {
    return [
      new Plugin<DecorationSet>({
        key: beginsKey,
        state: {
          init: () => DecorationSet.empty,
          apply: (tr, old) => {
            const begins = tr.getMeta(beginsKey) as Begin[] | undefined;
            return begins ? beginMarks(tr.doc, begins) : tr.docChanged ? old.map(tr.mapping, tr.doc) : old;
          },
        },
        props: { decorations: (state) => beginsKey.getState(state) },
      }),
    ];
  },
});

function beginMarks(doc: Node, begins: Begin[]): DecorationSet {
  const marks = begins.flatMap(({ at, label }) => {
    const place = placeOf(doc, at);
    if (place === null) return [];
    const draw = () => {
      const mark = document.createElement("span");
      mark.className = "frame-begins";
      mark.textContent = label;
      mark.contentEditable = "false";
      return mark;
    };
    return [Decoration.widget(place, draw, { side: -1, key: `${label}:${at}` })];
  });
  return DecorationSet.create(doc, marks);
}

export const leftoverKey = new PluginKey<number>("leftover");

/** Marks the copy from a code point on as left over; the place comes with `tr.setMeta(leftoverKey, index)`. */
const Leftover = Extension.create({
  name: "leftover",
  addProseMirrorPlugins() {
    return [
      new Plugin<number>({
        key: leftoverKey,
        state: {
          init: () => Infinity,
          apply: (tr, old) => (tr.getMeta(leftoverKey) as number | undefined) ?? (tr.docChanged ? Infinity : old),
        },
        props: {
          decorations(state) {
            const from = placeOf(state.doc, leftoverKey.getState(state) ?? Infinity);
            if (from === null) return null;
            return DecorationSet.create(state.doc, [
              Decoration.inline(from, state.doc.content.size, { class: "leftover" }),
            ]);
          },
        },
      }),
    ];
  },
});

export const keptKey = new PluginKey<Stretch[]>("kept");

export interface Stretch {
  from: number;
  to: number;
}

/** Stretches that stay chosen while another is: Ctrl and a click keeps what was chosen before. */
const Kept = Extension.create({
  name: "kept",
  addProseMirrorPlugins() {
    return [
      new Plugin<Stretch[]>({
        key: keptKey,
        state: {
          init: () => [],
          apply: (tr, old) =>
            (tr.getMeta(keptKey) as Stretch[] | undefined) ?? (tr.docChanged && old.length ? [] : old),
        },
        props: {
          decorations(state) {
            const kept = keptKey.getState(state) ?? [];
            return kept.length
              ? DecorationSet.create(
                  state.doc,
                  kept.map(({ from, to }) => Decoration.inline(from, to, { class: "kept" })),
                )
              : null;
          },
          handleDOMEvents: {
            mousedown(view, event) {
              keep(view, event.ctrlKey || event.metaKey);
              return false;
            },
          },
        },
      }),
    ];
  },
});

/** Keep what is chosen now (`adding`), or let go of what was kept. */
export function keep(view: EditorView, adding: boolean) {
  const kept = keptKey.getState(view.state) ?? [];
  const { from, to } = view.state.selection;
  if (adding && from < to)
    view.dispatch(view.state.tr.setMeta(keptKey, [...kept.filter((k) => k.to <= from || k.from >= to), { from, to }]));
  else if (!adding && kept.length) view.dispatch(view.state.tr.setMeta(keptKey, []));
}

export const spellingKey = new PluginKey<DecorationSet>("spelling");

/** Marks words that no dictionary of the copy's language knows; they come with `tr.setMeta(spellingKey, words)`, a
 * set. */
const Spelling = Extension.create({
  name: "spelling",
  addProseMirrorPlugins() {
    return [
      new Plugin<DecorationSet>({
        key: spellingKey,
        state: {
          init: () => DecorationSet.empty,
          apply: (tr, old) => {
            const unknown = tr.getMeta(spellingKey) as ReadonlySet<string> | undefined;
            return unknown ? misspelt(tr.doc, unknown) : tr.docChanged ? old.map(tr.mapping, tr.doc) : old;
          },
        },
        props: { decorations: (state) => spellingKey.getState(state) },
      }),
    ];
  },
});

function misspelt(doc: Node, unknown: ReadonlySet<string>): DecorationSet {
  const marks: Decoration[] = [];
  doc.forEach((paragraph, offset) => {
    for (const { at, word } of wordsOf(paragraph))
      if (unknown.has(word))
        marks.push(Decoration.inline(offset + 1 + at, offset + 1 + at + word.length, { class: "misspelt" }));
  });
  return DecorationSet.create(doc, marks);
}

/** A word, apostrophes inside it counted in. */
const WORD = /[\p{L}\p{M}]+(?:['’][\p{L}\p{M}]+)*/gu;

interface Word {
  at: number;
  word: string;
}

const words = new WeakMap<Node, Word[]>();

/** The words of a paragraph, and where in it they begin, in the editor's steps; looked for once, as a paragraph does
 * not change. */
export function wordsOf(paragraph: Node): Word[] {
  let found = words.get(paragraph);
  if (!found) {
    const text = paragraph.textBetween(0, paragraph.content.size, undefined, LEAF);
    found = Array.from(text.matchAll(WORD), ({ index, 0: word }) => ({ at: index, word }));
    words.set(paragraph, found);
  }
  return found;
}

/** Code points that a node of a paragraph stands for: a page number as many as it reads, other leaves one. */
function pointsOf(node: Node): number {
  if (node.isText) return Array.from(node.text!).length;
  return node.type.name === "number" ? Array.from(String(node.attrs.shown)).length : 1;
}

const lengths = new WeakMap<Node, number>();

/** The code points of a paragraph; counted once, as a paragraph does not change. */
function lengthOf(paragraph: Node): number {
  let length = lengths.get(paragraph);
  if (length === undefined) {
    length = 0;
    for (const node of paragraph.children) length += pointsOf(node);
    lengths.set(paragraph, length);
  }
  return length;
}

/** How far into a paragraph its code point `index` is, in the editor's steps. */
function stepsTo(paragraph: Node, index: number): number {
  let [left, steps] = [index, 0];
  for (let i = 0; i < paragraph.childCount && left > 0; i++) {
    const node = paragraph.child(i);
    const points = pointsOf(node);
    if (left >= points) steps += node.nodeSize;
    else if (node.isText) steps += Array.from(node.text!).slice(0, left).join("").length;
    left -= points;
  }
  return steps;
}

function pointsBefore(paragraph: Node, steps: number): number {
  let [left, points] = [steps, 0];
  for (let i = 0; i < paragraph.childCount && left > 0; i++) {
    const node = paragraph.child(i);
    if (left >= node.nodeSize) points += pointsOf(node);
    else if (node.isText) points += Array.from(node.text!.slice(0, left)).length;
    left -= node.nodeSize;
  }
  return points;
}

/** The editor's position of a code point of the copy; null past its end. */
export function placeOf(doc: Node, index: number): number | null {
  let at = 0;
  let found: number | null = null;
  doc.forEach((paragraph, offset) => {
    if (found !== null) return;
    const length = lengthOf(paragraph);
    if (index <= at + length) found = offset + 1 + stepsTo(paragraph, index - at);
    at += length + 1;
  });
  return index < at - 1 ? found : null;
}

/** The code point of the copy at a position of the editor. */
export function indexOf(doc: Node, position: number): number {
  let at = 0;
  let found = 0;
  doc.forEach((paragraph, offset) => {
    if (offset > position) return;
    found = at + pointsBefore(paragraph, Math.min(Math.max(position - offset - 1, 0), paragraph.content.size));
    at += lengthOf(paragraph) + 1;
  });
  return found;
}

/** As `placeOf`, with the copy's end for what lies beyond it. */
export function positionOf(doc: Node, index: number): number {
  let at = 0;
  let found: number | null = null;
  doc.forEach((paragraph, offset) => {
    if (found !== null) return;
    const length = lengthOf(paragraph);
    if (index <= at + length) found = offset + 1 + stepsTo(paragraph, index - at);
    at += length + 1;
  });
  return found ?? doc.content.size - 1;
}

export const extensions = [
  Document,
  RuledParagraph,
  Retyping,
  Text,
  Bold,
  Italic,
  Underlined,
  HardBreak,
  InLineObject,
  PageNumber,
  RunLook,
  Begins,
  Leftover,
  Kept,
  Spelling,
  Placeholder.configure({ placeholder: "Type or paste copy here. It nests as you write." }),
];
