import { expect, test } from "vitest";
import {
  fresh,
  groupAround,
  groupOf,
  hostOf,
  leaderOf,
  leavesOf,
  type OpenDocument,
  type Thing,
  thingsOf,
} from "./document";

const thing = (id: string, more: Partial<Thing> = {}): Thing => ({ id, x: 0, y: 0, width: 10, height: 10, ...more });
const inner = thing("inner", { objects: [thing("c"), thing("d")] });
const outer = thing("outer", { objects: [thing("b"), inner] });
const open: OpenDocument = {
  copies: {
    story: {
      versions: {
        en: { paragraphs: [{ runs: [{ text: "A" }] }, { runs: [{ text: "" }] }] },
        de: { paragraphs: [{ runs: [{ text: "E" }, { object: "c" }] }] },
      },
    },
  },
  pages: [
    { width: 100, height: 100, objects: [thing("a", { frame: { copy: "story" } }), outer] },
    { width: 100, height: 100, objects: [thing("e")] },
  ],
};
const ids = (things: readonly Thing[]) => things.map((one) => one.id);

test("objects are found through groups, back to front over all pages, once for a document", () => {
  expect(ids(thingsOf(open))).toEqual(["a", "b", "c", "d", "e"]);
  expect(thingsOf({ ...open })).toBe(thingsOf(open));
  expect(ids(thingsOf({ ...open, pages: open.pages.slice(1) }))).toEqual(["e"]);
  expect(ids(leavesOf(outer))).toEqual(["b", "c", "d"]);
  expect(ids(leavesOf(open.pages[1].objects[0]))).toEqual(["e"]);
});

test("the group around an object is the outermost; the group of some is theirs alone", () => {
  expect(groupAround(open, "d")?.id).toBe("outer");
  expect(groupAround(open, "a")).toBeNull();
  expect(groupOf(open, ["d", "b", "c"])?.id).toBe("outer");
  expect(groupOf(open, ["b", "c"])).toBeNull();
  expect(groupOf(open, ["b", "c", "a"])).toBeNull();
  expect(groupOf(open, ["b"])).toBeNull();
});

test("the object that a chosen group goes along with is the core's to say; one alone goes by itself", () => {
  const scene = {
    pages: [
      {
        groups: [
          { objects: ["b", "c"], leader: "c" },
          { objects: ["d", "e"], leader: null },
        ],
      },
    ],
  };
  expect(leaderOf(scene, ["c", "b"])).toBe("c");
  expect(leaderOf(scene, ["d", "e"])).toBeNull();
  expect(leaderOf(scene, ["b", "d"])).toBeNull();
  expect(leaderOf(scene, ["b"])).toBe("b");
  expect(leaderOf(scene, [])).toBeNull();
});

test("what stands in a copy has the frame of it for a host, whichever version it stands in", () => {
  expect(hostOf(open, "c")?.id).toBe("a");
  expect(hostOf(open, "d")).toBeNull();
});

test("a new name is the first that nobody has", () => {
  expect(fresh([], "Copy ")).toBe("Copy 1");
  expect(fresh(["Copy 1", "Copy 3"], "Copy ")).toBe("Copy 2");
});
