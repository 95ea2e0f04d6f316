import { expect, test } from "vitest";
import type { Plain, ShapeScene, Schemas } from "../api/client";
import type { OpenDocument } from "./document";
import { changed, patchedShape } from "./taking";

const shape = {
  text: "one 🪁 two",
  rules: [],
  ruleOf: [0],
  fromRight: [false],
  start: [0, 4, 6],
  end: [3, 5, 9],
  look: [0, 0, 0],
  rtl: [0, 0, 0],
  width: [10, 11, 12],
  looks: [],
  words: 3,
} as unknown as ShapeScene;

test("a shape is patched: places in the text count UTF-16 units, in lists what is behind moves on", () => {
  const lists = {
    rules: null,
    looks: null,
    ruleOf: [0, 1, [0, 1]],
    fromRight: [0, 0, [true]],
    start: [1, 1, [4, 7]],
    end: [1, 1, [6, 8]],
    look: [1, 1, [2, 3]],
    rtl: [1, 1, [0, 0]],
    width: [1, 1, [5, 6]],
  };
  const patch = { of: "k", text: [4, 2, "ab cd"], shift: 4, lists, words: 4 } as unknown as Schemas["ShapePatch"];
  const made = patchedShape(shape, patch);
  expect(made.text).toBe("one ab cd two");
  expect(made.start).toEqual([0, 4, 7, 10]);
  expect(made.end).toEqual([3, 6, 8, 13]);
  expect(made.width).toEqual([10, 5, 6, 12]);
  expect(made.fromRight).toEqual([true, false]);
  expect(made.rules).toBe(shape.rules);
  expect(shape.start).toEqual([0, 4, 6]);
});

const open = {
  pages: [],
  copies: { c: { versions: { en: { paragraphs: [{ runs: [{ text: "a" }] }, { runs: [{ text: "b" }] }] } } } },
} as OpenDocument;
const paragraphs = (document: OpenDocument) => document.copies.c.versions.en.paragraphs;
const at = ["copies", "c", "versions", "en", "paragraphs"];

test("operations change a document as the core does, and what they do not touch stays the same", () => {
  const operations: Plain[] = [
    { do: "put", at: [...at, 1, "runs", 0, "text"], value: "B" },
    { do: "splice", at, from: 2, remove: 0, insert: [{ runs: [] }] },
    { do: "put", at: [...at, 1, "align"], value: "center" },
    { do: "put", at: ["copies", "d"], value: { versions: {} } },
  ];
  const made = changed(open, operations);
  expect(paragraphs(made)).toEqual([
    { runs: [{ text: "a" }] },
    { runs: [{ text: "B" }], align: "center" },
    { runs: [] },
  ]);
  expect(paragraphs(made)[0]).toBe(paragraphs(open)[0]);
  expect(paragraphs(open)[1].runs![0].text).toBe("b");
  expect(made.pages).toBe(open.pages);
});

test("what is cut is gone, from lists too, and a splice makes a list that was not there", () => {
  const made = changed(open, [
    { do: "cut", at: [...at, 0] },
    { do: "cut", at: [...at, 0, "runs"] },
    { do: "splice", at: [...at, 0, "tabs"], from: 0, remove: 0, insert: [1, 2] },
    { do: "splice", at: [...at, 0, "tabs"], from: 1, remove: 1, insert: [] },
  ]);
  expect(paragraphs(made)).toEqual([{ tabs: [1] }]);
});
