// @vitest-environment jsdom
import { expect, test } from "vitest";
import { caretGone, putCaret, typeOn, caretAt } from "./choosing";
import { change, useStore } from "./store";

test("letters that come faster than the copy takes them are all there, where the caret stood", () => {
  const caret = { frame: "f", anchor: 5, head: 5 };
  change({ selected: "f", caret });
  caretAt(null);
  caretGone();
  for (const letter of "all ") expect(typeOn(letter)).toBe(true);
  expect(useStore.getState().wanted).toMatchObject({ anchor: 5, head: 5, text: "all " });
});

test("a caret that is put somewhere takes no letters along, and what is not chosen gets none", () => {
  change({ selected: "f", wanted: null });
  putCaret(2);
  expect(useStore.getState().wanted?.text).toBeUndefined();
  change({ selected: "g", caret: { frame: "f", anchor: 1, head: 1 } });
  expect(typeOn("x")).toBe(false);
});
