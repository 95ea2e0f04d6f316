import { expect, test } from "vitest";
import others from "./deeds.ts?raw";
import making from "./making.ts?raw";
import rules from "./ruleDeeds.ts?raw";

// Read as text: the table's deeds reach into the bench and the page.
const files = import.meta.glob<string>(["../sentence/*.tsx", "../recipes/*.tsx"], {
  query: "?raw",
  import: "default",
  eager: true,
});
const table = rules + others;
const parts = [...table.matchAll(/^ {2}\[\s*"([a-z-]+)",/gm)].map((found) => found[1]);

test("every part of the sentence can be found by name", () => {
  const said = Object.values(files)
    .flatMap((file) => [...file.matchAll(/<Part\s+name="([a-z-]+)"/g)])
    .map((found) => found[1]);
  expect(new Set(said).size).toBeGreaterThan(40);
  expect([...new Set(said)].filter((name) => !parts.includes(name))).toEqual([]);
});

test("no two deeds have the same keys, but for kinds of points, which are keys only while points are edited", () => {
  const keys = [...table.matchAll(/keys: "([^"]+)"/g)].map((found) => found[1]);
  keys.push(
    ...[...table.matchAll(/^ {2}\[\s*"[a-z-]+",\s*"[^"]*",\s*"[^"]*",\s*"([^"]+)"/gm)].map((found) => found[1]),
  );
  keys.push(...[...making.matchAll(/key: "(.)"/g)].map((found) => `N ${found[1]}`));
  expect(keys.length).toBeGreaterThan(60);
  expect(keys.filter((one, at) => keys.indexOf(one) !== at)).toEqual([]);
  // None is the beginning of another.
  expect(keys.filter((one) => keys.some((other) => other.startsWith(`${one} `)))).toEqual([]);
});
