import { describe, expect, it } from "vitest";
import { type Box, placeBeside } from "./beside";

const bench: Box = { left: 200, top: 44, right: 1130, bottom: 700 };
const window: [number, number] = [1280, 800];
const part = (left: number): Box => ({ left, top: 720, right: left + 80, bottom: 740 });
const covers = (a: Box, b: Box) => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;

describe("where a popover stands", () => {
  it("stands over its part where that covers nothing that is chosen", () => {
    const chosen = { left: 800, top: 100, right: 1000, bottom: 600 };
    expect(placeBeside([300, 400], part(300), bench, chosen, window)).toEqual({ left: 300, top: 292, aside: 0 });
    expect(placeBeside([300, 400], part(300), bench, null, window).left).toBe(300);
  });
  it("never covers what is chosen where both have room, over random frames, parts and sizes", () => {
    let seed = 7;
    const random = (low: number, high: number) => {
      seed = (seed * 16807) % 2147483647;
      return low + (seed / 2147483647) * (high - low);
    };
    let moved = 0;
    for (let i = 0; i < 4000; i++) {
      const size: [number, number] = [random(200, 420), random(120, 620)];
      const left = random(160, 1000);
      const chosen = { left, top: random(50, 500), right: left + random(20, 900), bottom: random(510, 760) };
      const stand = placeBeside(size, part(random(0, 1250)), bench, chosen, window);
      const panel = { left: stand.left, top: stand.top, right: stand.left + size[0], bottom: stand.top + size[1] };
      expect(panel.left).toBeGreaterThanOrEqual(0);
      expect(panel.right).toBeLessThanOrEqual(window[0]);
      expect(panel.top).toBeGreaterThanOrEqual(0);
      const wide = chosen.right - chosen.left;
      const seen = { ...chosen, left: chosen.left + stand.aside, right: chosen.right + stand.aside };
      if (stand.aside) moved++;
      if (wide + size[0] + 14 <= bench.right - bench.left) expect(covers(panel, seen)).toBe(false);
    }
    expect(moved).toBeGreaterThan(0);
  });
});
