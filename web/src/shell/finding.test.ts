// @vitest-environment jsdom
import { expect, test } from "vitest";
import { DEEDS } from "./deeds";
import { found } from "./DoList";

test.each([
  ["grow", "Which edges give"],
  ["margin", "Padding"],
  ["text wrap", "Wrap"],
  ["bring front", "Before all others"],
  ["line height", "Size and leading"],
  ["round corners", "Outline"],
  ["zoom selection", "What is chosen, large"],
  ["snap", "Catching"],
  ["bullets", "What stands before each paragraph"],
  ["rotate", "Place, size and turn"],
])("everyday words “%s” find %s", (words, name) => {
  expect(found(words, DEEDS).map((one) => one.name)).toContainEqual(expect.stringContaining(name));
});
