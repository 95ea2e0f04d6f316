import { expect, test } from "vitest";
import { colorsUsed, contrast, typedColor } from "./colors";

test("colours as they are typed", () => {
  const same: [string, string | null][] = [
    ["#1d3a33", "#1d3a33"],
    ["1D3A33", "#1d3a33"],
    ["fc0", "#ffcc00"],
    ["rgb(29, 58, 51)", "#1d3a33"],
    ["29 58 51", "#1d3a33"],
    ["100% 0% 0%", "#ff0000"],
    ["0 100 100 0", "#ff0000"],
    ["cmyk(0 0 0 100)", "#000000"],
    ["50 % 0 % 0 % 0 %", "#80ffff"],
    ["straw", null],
    ["300 0 0", null],
    ["0 0 0 120", null],
    ["12 34", null],
    ["", null],
  ];
  for (const [text, color] of same) expect(typedColor(text), text).toBe(color);
});

test("contrast as WCAG's own figures have it", () => {
  expect(contrast("#000000", "#ffffff")).toBeCloseTo(21, 5);
  expect(contrast("#ffffff", "#767676")).toBeCloseTo(4.54, 2); // the lightest grey that passes on white (common practice)
  expect(contrast("#1d3a33", "#1d3a33")).toBe(1);
});

test("used colours are counted wherever they stand", () => {
  const used = colorsUsed({
    pages: [{ background: "sky", objects: [{ fill: { color: "ink" } }, { stroke: { color: "ink" } }] }],
  });
  expect([...used]).toEqual([
    ["sky", 1],
    ["ink", 2],
  ]);
});
