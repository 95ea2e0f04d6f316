import type { OpenDocument } from "./document";
import { change } from "./store";
import { expect, test } from "vitest";
import { fine, inUnit, shown, sidesShown, stepped } from "./units";

const open: OpenDocument = { copies: {}, pages: [] };

test("a length is read in the document's unit, and as it was typed", () => {
  expect(inUnit(36, "mm")).toBe("12.7 mm");
  expect(inUnit(1, "in")).toBe("0.014 in");
  expect([shown("3mm"), shown("1.5em"), shown("1p6"), shown(0)]).toEqual(["3 mm", "1.5 em", "1p6", "0 pt"]);
});

test("a document of pixels speaks of them everywhere", () => {
  change({ document: { ...open, unit: "px" } });
  expect([fine(12), shown(9)]).toEqual(["16 px", "12 px"]);
  change({ document: null });
  expect(fine(12)).toBe("12 pt");
});

test("sides are said as in CSS: one, two or four, nothing without a unit", () => {
  expect(sidesShown([4, 4, 4, 4])).toBe("4 pt");
  expect(sidesShown(["2mm", 6, "2mm", 6])).toBe("2 mm 6 pt");
  expect(sidesShown([0, 6, "3mm", "0mm"])).toBe("0 6 pt 3 mm 0");
});

test("a figure is stepped in the unit that it is typed in; what is no figure is left", () => {
  expect(stepped("12mm", 2)).toBe("13 mm");
  expect(stepped("1p6", 7)).toBe("2p1");
  expect(stepped("1p6", -99)).toBe("0p0");
  expect(stepped("0.25in", 4)).toBe("0.375 in");
  expect(stepped("7", -8)).toBe("-1");
  expect([stepped("", 1), stepped("a lot", 1), stepped("3 4", 1)]).toEqual([null, null, null]);
});
