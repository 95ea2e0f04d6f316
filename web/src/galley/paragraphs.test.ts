import { Node, Schema } from "@tiptap/pm/model";
import { expect, test } from "vitest";
import type { Paragraph } from "../state/document";
import { difference, LINE_BREAK, paragraphsIn, toEditor } from "./paragraphs";

const rules = { default: null };
const schema = new Schema({
  nodes: {
    doc: { content: "paragraph+" },
    paragraph: { content: "inline*", attrs: { rules, empty: { default: null } } },
    text: { group: "inline" },
    hardBreak: { group: "inline", inline: true },
    object: { group: "inline", inline: true, attrs: { id: {} } },
    number: { group: "inline", inline: true, attrs: { field: {}, of: rules, shown: rules, look: { default: {} } } },
  },
  marks: { bold: {}, italic: {}, underline: {}, look: { attrs: { look: {} } } },
});
const edited = (paragraphs: Paragraph[]) => Node.fromJSON(schema, toEditor(paragraphs, ["7"]));

const STORED: Paragraph[] = [
  {
    runs: [{ text: "Every year" }, { text: " the wind", weight: 700, slope: "italic" }],
    style: "Body",
    align: "justify",
  },
  {
    size: "10pt",
    runs: [
      { text: `two${LINE_BREAK}lines` },
      { object: "p1" },
      { field: "page", of: "f2" } as never,
      { text: " on", color: "lake" },
    ],
  },
  { runs: [{ text: "", weight: 700, font: "Lato" }], align: "center" },
];

test("nothing of a paragraph or a run is lost on its way to the editor and back", () => {
  expect(paragraphsIn(edited(STORED), STORED)).toEqual(STORED);
});

test("what nobody touched is the same again, and says no difference, in whatever order its rules are named", () => {
  const doc = edited(STORED);
  const first = paragraphsIn(doc, STORED);
  expect(paragraphsIn(doc, STORED).map((p, n) => p === first[n])).toEqual([true, true, true]);
  const otherwise: Paragraph[] = STORED.map((p) => Object.fromEntries(Object.entries(p).reverse()) as Paragraph);
  expect(difference("c", "en", otherwise, first)).toBeNull();
});

test("runs of one look, and empty ones, are not taken for a change", () => {
  const stored: Paragraph[] = [{ runs: [{ text: "Every " }, { text: "year" }] }, { runs: [{ text: "" }] }, {}];
  expect(difference("c", "en", stored, paragraphsIn(edited(stored), stored))).toBeNull();
});

test("one changed paragraph among many is one splice of one", () => {
  const stored: Paragraph[] = Array.from({ length: 30 }, (_, n) => ({
    runs: [{ text: `paragraph ${n}` }, { text: "" }],
  }));
  const now = stored.map((p, n) => (n === 12 ? { runs: [{ text: "typed" }] } : p));
  const found = difference("c", "en", stored, paragraphsIn(edited(now), stored)) as {
    from: number;
    remove: number;
    insert: Paragraph[];
  };
  expect([found.from, found.remove, found.insert]).toEqual([12, 1, [{ runs: [{ text: "typed" }] }]]);
});

test("what is pasted without rules takes those of the paragraph before it", () => {
  const doc = edited([{ align: "center", runs: [{ text: "a" }] }]);
  const pasted = schema.nodes.paragraph.create(null, schema.text("b"));
  expect(paragraphsIn(doc.copy(doc.content.addToEnd(pasted)), STORED)[1]).toEqual({
    align: "center",
    runs: [{ text: "b" }],
  });
});
