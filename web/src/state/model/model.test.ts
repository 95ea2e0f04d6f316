import { expect, test } from "vitest";
import type { Schemas } from "../../api/client";
import type { OpenDocument, Thing } from "../document";
import type { Scene } from "../seen";
import {
  allOf,
  caretStands,
  type Chosen,
  choosing,
  HAND,
  type InHand,
  leaving,
  NOTHING_CHOSEN,
  stillThere,
  stoodJustNow,
  typingOn,
} from "./chosen";
import { asGiven, changedBy, NOTHING_OPEN, type Opened, sceneOf } from "./opened";
import { NOTHING_SENT, standing, textIn } from "./sent";
import { answered, kept, NOTHING_TRIED, stopped, tryFails } from "./tried";
import { opensWith, partUntaken, passes, SEEN_AT_FIRST } from "./view";

/** Random figures that come again: the same for a seed. */
function dice(seed: number) {
  return (most: number) => {
    seed = (seed * 1664525 + 1013904223) % 4294967296;
    return Math.floor((seed / 4294967296) * most);
  };
}

const thing = (id: string, more: Partial<Thing> = {}): Thing => ({ id, x: 0, y: 0, width: 10, height: 10, ...more });
const IDS = ["a", "b", "c", "d", "e"];
const document: OpenDocument = {
  copies: {},
  pages: [
    { width: 9, height: 9, objects: [thing("a"), thing("g", { objects: [thing("b"), thing("c")] })] },
    { width: 9, height: 9, objects: [thing("d"), thing("e")] },
  ],
};
const sceneWith = (ids: string[]) =>
  ({
    laid: "under",
    pages: [{}, {}],
    objects: Object.fromEntries(ids.map((id) => [id, { page: "abc".includes(id) ? 0 : 1 }])),
  }) as unknown as Scene;
const around = (more: Partial<Chosen> = {}) => ({
  ...NOTHING_CHOSEN,
  document,
  scene: sceneWith(IDS),
  complete: true,
  ...more,
});

test("whatever is chosen one after the other, nothing is chosen twice, and a group comes whole", () => {
  for (let seed = 1; seed < 200; seed++) {
    const roll = dice(seed);
    let state = around();
    for (let press = 0; press < 12; press++) {
      const id = roll(6) ? IDS[roll(IDS.length)] : null;
      const adding = roll(2) === 1;
      const before = allOf(state);
      state = { ...state, ...choosing(state, id, adding) };
      const now = allOf(state);
      expect(new Set(now).size).toBe(now.length);
      if (!id) expect(now).toEqual([]);
      else if (!adding || !before.length) expect(now).toContain(id);
      else expect(now.includes(id)).toBe(!before.includes(id));
      if (id) expect(state.page).toBe("abc".includes(id) ? 0 : 1);
      expect(state.justMade).toBeNull();
    }
  }
});

test("one of a group is chosen alone when it is meant, and then another of it alone", () => {
  const all = { ...around(), ...choosing(around(), "b") };
  expect(allOf(all)).toEqual(["b", "c"]);
  const one = { ...all, ...choosing(all, "b", false, true) };
  expect(allOf(one)).toEqual(["b"]);
  expect(allOf({ ...one, ...choosing(one, "c") })).toEqual(["c"]);
});

test("what is on a page that is not there yet is not chosen", () => {
  const state = { ...around({ selected: "a" }), scene: sceneWith(["a"]), complete: false };
  expect(choosing(state, "d")).toEqual({ justMade: null });
  expect(choosing(state, "a").selected).toBe("a");
});

test("choosing lays points and other tools aside, but not what makes something new", () => {
  const kinds: [InHand, boolean][] = [
    [{ kind: "draw" }, true],
    [{ kind: "line" }, true],
    [{ kind: "outline", outline: {}, name: "Kite" }, true],
    [{ kind: "points" }, false],
    [{ kind: "copy" }, false],
    [{ kind: "tie" }, false],
  ];
  for (const [tool, stays] of kinds) {
    const step = choosing(around({ tool, points: [[0, 1]] }), "a");
    expect(step.tool).toEqual(stays ? tool : HAND);
    expect(step.points).toEqual([]);
  }
});

test("what is there no more is not chosen, nor its points, nor its page", () => {
  const before = around({ selected: "a", others: ["d", "e"], points: [[0, 0]], page: 5 });
  expect(stillThere(before, sceneWith(["a", "e"]))).toEqual({ selected: "a", others: ["e"], page: 1 });
  expect(stillThere(before, sceneWith(["d"]))).toEqual({ selected: null, others: [], points: [], page: 1 });
});

test("letters go on where the caret stood for a second, in the frame that is chosen, one behind the other", () => {
  const caret = { frame: "a", anchor: 5, head: 5 };
  let state: Chosen = { ...NOTHING_CHOSEN, selected: "a", caret };
  state = { ...state, ...caretStands(state, null, 1000), caretLeft: 1000 };
  expect(stoodJustNow(state, 1999)).toBe(true);
  expect(stoodJustNow(state, 2000)).toBe(false);
  expect(typingOn(state, "x", 2000, 1)).toBeNull();
  for (const letter of "ll") state = { ...state, ...typingOn(state, letter, 1500, 1) };
  expect(state.wanted).toMatchObject({ anchor: 5, head: 5, text: "ll" });
  expect(typingOn({ ...state, selected: "b" }, "x", 1500, 1)).toBeNull();
  // Nothing is kept of a caret that only moves.
  expect(caretStands({ ...state, caret }, { ...caret, head: 6 }, 0)).toEqual({ caret: { ...caret, head: 6 } });
});

test("Esc leaves the innermost: after as many as there is to leave, nothing is chosen and the hand is bare", () => {
  const tools: InHand[] = [
    HAND,
    { kind: "draw" },
    { kind: "points" },
    { kind: "subject", what: "keep" },
    { kind: "why" },
  ];
  for (let seed = 1; seed < 300; seed++) {
    const roll = dice(seed);
    let state = {
      ...around({
        tool: tools[roll(tools.length)],
        points: roll(2) ? [[0, 1]] : [],
        selected: roll(2) ? "a" : null,
        justMade: roll(2) ? "a" : null,
        onItsWay: roll(2) ? { id: "z", text: "" } : null,
        paragraphs: roll(2) ? [0, 1] : null,
      }),
      clean: roll(2) === 1,
      why: roll(2) ? { pinned: roll(2) === 1 } : null,
      openedPart: roll(2) ? "give" : null,
    };
    const left = [state];
    for (let press = 0; press < 7; press++) left.push((state = { ...state, ...leaving(state) }));
    expect(state).toMatchObject({ selected: null, tool: HAND, onItsWay: null, clean: false, openedPart: null });
    // An open part is left before what is chosen is.
    const open = left.filter((one) => one.openedPart);
    expect(open.every((one) => one.selected === left[0].selected)).toBe(true);
  }
});

const PAGE = { order: ["a"], width: 9, height: 9 };
const differs = (more: object) =>
  ({
    pages: [PAGE],
    nested: [],
    objects: {},
    nests: {},
    labels: {},
    shapes: {},
    patches: {},
    nowhere: {},
    anchors: {},
    ...more,
  }) as never;

test("a scene keeps what did not change, drops what is gone, and its pages lie as they lay", () => {
  const first = sceneOf(
    null,
    differs({ objects: { a: { page: 0 } }, nested: ["a"], nests: { a: { shape: "s" } }, shapes: { s: 1, t: 2 } }),
  );
  expect(first.laid).toBe("under");
  expect(Object.keys(first.shapes)).toEqual(["s"]);
  const next = sceneOf({ ...first, laid: "beside" }, differs({ pages: [null], nested: ["a"] }));
  expect(next.laid).toBe("beside");
  expect(next.pages[0]).toBe(first.pages[0]);
  expect(next.objects.a).toBe(first.objects.a);
  expect(sceneOf(first, differs({ pages: [{ ...PAGE, order: [] }] })).objects).toEqual({});
});

const given = (id: number) =>
  ({
    id,
    revision: 4,
    document,
    undo: "Move",
    redo: null,
    scene: differs({}),
    complete: true,
    shown: "k",
    pictures: {},
  }) as unknown as Schemas["OpenOut"];

test("a document read again lies as it lay; another lies as at first", () => {
  const scene = { ...sceneOf(null, differs({})), laid: "beside" as const };
  const before: Opened = { ...NOTHING_OPEN, id: 7, scene, epoch: 3 };
  expect(asGiven(before, given(7)).scene.laid).toBe("beside");
  expect(asGiven(before, given(8)).scene.laid).toBe("under");
  expect(asGiven(before, given(7)).epoch).toBe(4);
});

test("a change that was stored is taken in; only typing leaves the galley what it knows", () => {
  const before: Opened = {
    ...NOTHING_OPEN,
    document: { ...document, background: "#fff" } as never,
    epoch: 3,
    pictures: { a: "1" },
  };
  const made = {
    revision: 5,
    undo: "Type",
    redo: null,
    document: { gone: ["background"], title: "T" },
    operations: null,
    scene: differs({}),
    shown: "k",
    pictures: { b: "2" },
  };
  const after = changedBy(before, made as unknown as Schemas["EditOut"], true);
  expect(after).toMatchObject({ revision: 5, epoch: 3, pictures: { a: "1", b: "2" }, document: { title: "T" } });
  expect(after.document).not.toHaveProperty("background");
  expect(before.document).toHaveProperty("background");
  expect(changedBy(before, made as unknown as Schemas["EditOut"], false).epoch).toBe(4);
});

test("an answer to a preview is shown while it is tried and stands on what is stored, or until what was kept is", () => {
  const scene = differs({});
  const asked = { turn: 2, revision: 4, operations: [], caught: [] };
  for (const trying of [true, false])
    for (const busy of [true, false])
      for (const revision of [4, 5])
        for (const turn of [2, 3]) {
          const step = answered({ ...NOTHING_TRIED, trying, turn, revision }, { ...asked, busy }, scene);
          const shows = turn === 2 && (trying ? revision === 4 || busy : revision === 4 && busy);
          expect("tried" in step).toBe(shows);
          expect("wish" in step).toBe(turn === 2 && !shows && trying);
        }
});

test("what is kept stays shown, what is stopped does not, and either makes later answers come too late", () => {
  const state = { ...NOTHING_TRIED, tried: differs({}), wish: { operations: [], caught: [] }, trying: true, turn: 1 };
  expect({ ...state, ...kept(state) }).toMatchObject({ tried: state.tried, wish: null, trying: false, turn: 2 });
  expect({ ...state, ...stopped(state) }).toMatchObject({ tried: null, wish: null, trying: false, turn: 2 });
});

test("what waits is counted over all documents while the server is away, and counts down when it is back", () => {
  const queue = (changes: number, away: { since: number; out: boolean } | null, busy = changes > 0) => ({
    busy,
    held: null,
    away,
    changes: { length: changes },
  });
  const mine = queue(2, { since: 10, out: false });
  const cut = standing(NOTHING_SENT, mine, [mine, queue(3, { since: 20, out: false }), queue(4, null)]);
  expect(cut).toMatchObject({ away: { since: 10, waiting: 5, out: false }, saving: true });
  const later = standing({ ...NOTHING_SENT, ...cut }, queue(1, null), [queue(1, null)]);
  expect(later.away).toEqual({ since: 10, waiting: 1, out: false });
  const over = standing({ ...NOTHING_SENT, ...later }, queue(0, null), [queue(0, null)]);
  expect(over).toMatchObject({ away: null, saving: false, rested: 1 });
});

test("text is found in operations, wherever it stands", () => {
  expect(textIn([{ do: "splice", insert: [{ runs: [{ text: "Kite" }, { object: "a" }, { text: "s" }] }] }])).toBe(
    "Kites",
  );
  expect(textIn({ text: 3, at: "text" })).toBe("");
});

test("panels fold in narrow windows, and where they were folded", () => {
  expect([opensWith("galley", 919, false), opensWith("galley", 920, false), opensWith("galley", 920, true)]).toEqual([
    false,
    true,
    false,
  ]);
  expect([passes("tally", 800, 700), passes("tally", 700, 800), passes("tally", 800, 900)]).toEqual([
    true,
    true,
    false,
  ]);
});

test("a part that nothing said takes asks for every rule, and is given up where every rule is said", () => {
  const asked = { ...SEEN_AT_FIRST, askedPart: "list" };
  expect(partUntaken(asked)).toEqual({ everyRule: true });
  expect(partUntaken({ ...asked, everyRule: true })).toEqual({ askedPart: null });
  expect(partUntaken(SEEN_AT_FIRST)).toEqual({});
});

test("a fault of what was typed before says nothing of what is typed now", () => {
  const faulty = { ...NOTHING_TRIED, triedFault: "“4mm +” is no length" };
  expect(tryFails(faulty)).toBe(true);
  expect(tryFails({ ...faulty, asking: true })).toBe(false);
  expect(tryFails({ ...faulty, wish: { operations: [], caught: [] } })).toBe(false);
  expect(tryFails(NOTHING_TRIED)).toBe(false);
});
