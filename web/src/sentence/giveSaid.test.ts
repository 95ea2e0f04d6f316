import { expect, test } from "vitest";
import { EDGES, giveSaid } from "./giveSaid";

test("what gives is said in words, in the order of the edges however they are written", () => {
  expect(giveSaid({ copy: "a" })).toBe("holds its size");
  expect(giveSaid({ copy: "a", give: ["bottom"] })).toBe("gives at the bottom");
  expect(giveSaid({ copy: "a", give: ["left", "top"] })).toBe("gives at the top and on the left");
  expect(giveSaid({ copy: "a", give: ["left", "bottom", "right"] })).toBe(
    "gives on the right, at the bottom and on the left",
  );
  expect(giveSaid({ copy: "a", give: [...EDGES] })).toBe("gives on all sides");
  expect(giveSaid({ copy: "a", give: ["in-proportion"] })).toBe("gives in proportion");
  expect(giveSaid({ copy: "a", give: ["right"], wrap_lines: false })).toBe("gives on the right, its lines unwrapped");
});

test("its limits are said where it gives, and nowhere else", () => {
  const limits = { least: { width: "20mm", height: 30 }, greatest: { height: "2in" } };
  expect(giveSaid({ copy: "a", give: ["bottom"], ...limits })).toBe(
    "gives at the bottom, at least 20 mm wide and 30 pt high, at most 2 in high",
  );
  expect(giveSaid({ copy: "a", ...limits })).toBe("holds its size");
});
