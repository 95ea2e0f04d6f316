import { expect, test } from "vitest";
import { colorsUsed } from "./colors";

test("used colours are counted wherever they stand", () => {
  const used = colorsUsed({
    pages: [{ background: "sky", objects: [{ fill: { color: "ink" } }, { stroke: { color: "ink" } }] }],
  });
  expect([...used]).toEqual([
    ["sky", 1],
    ["ink", 2],
  ]);
});
