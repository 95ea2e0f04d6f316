/** The open format: its parts as the core describes them (`./nest schema`), and what a group adds to an object. */
import type { Schemas } from "../api/client";

export type Length = number | string;
export type Run = Schemas["Run"];
export type Paragraph = Schemas["Paragraph"];
export type Frame = Schemas["Frame"];
export type Style = Schemas["Style"];
export type Outline = Schemas["Outline"];
export type Give = NonNullable<Frame["give"]>[number];
export type Fill = Schemas["Fill"];
export type Stroke = Schemas["Stroke"];
export type Wrap = Schemas["Wrap"];
export type Tie = Schemas["Tie"];
export type Subject = Schemas["Subject"];

/** An object of a page, or a group: that has `objects` of its own. */
export type Thing = Schemas["PageObject"] & { objects?: Thing[] };

export type Page = Omit<Schemas["PageSheet"], "objects"> & { objects: Thing[] };
export type OpenDocument = Omit<Schemas["Head"], "format" | "version"> & {
  copies: Record<string, { versions: Record<string, { language?: string; paragraphs: Paragraph[] }> }>;
  pages: Page[];
};

/** Every object, those in groups too, back to front. */
export function thingsOf(document: OpenDocument): readonly Thing[] {
  let found = things.get(document.pages);
  if (!found) things.set(document.pages, (found = document.pages.flatMap((page) => page.objects.flatMap(leavesOf))));
  return found;
}

/** By pages, which are others when anything in them is. */
const things = new WeakMap<OpenDocument["pages"], Thing[]>();

/** The objects of an object or a group: itself, or all that is in it. */
export function leavesOf(thing: Thing): Thing[] {
  return thing.objects ? thing.objects.flatMap(leavesOf) : [thing];
}

/** The outermost group that an object is in. */
export function groupAround(document: OpenDocument, id: string): Thing | null {
  for (const page of document.pages)
    for (const thing of page.objects) if (thing.objects && leavesOf(thing).some((leaf) => leaf.id === id)) return thing;
  return null;
}

/** The group that these are all of, and nothing else. */
export function groupOf(document: OpenDocument, ids: string[]): Thing | null {
  const group = ids.length > 1 ? groupAround(document, ids[0]) : null;
  const leaves = group ? leavesOf(group) : [];
  return group && leaves.length === ids.length && leaves.every((leaf) => ids.includes(leaf.id)) ? group : null;
}

/** The object that all of a chosen group goes along with into copy, or would; the one chosen when it is alone. */
export function leaderOf(
  scene: { pages: readonly { groups: readonly { objects: readonly string[]; leader: string | null }[] }[] },
  ids: string[],
): string | null {
  if (ids.length < 2) return ids[0] ?? null;
  const groups = scene.pages.flatMap((page) => page.groups);
  return (
    groups.find((group) => group.objects.length === ids.length && group.objects.every((id) => ids.includes(id)))
      ?.leader ?? null
  );
}

/** What an object is called, where the core calls the objects of its document so. */
export function labelAmong(labels: Record<string, string>, thing: Thing): string {
  if (thing.name) return thing.name;
  if (thing.objects) return "Group";
  if (labels[thing.id]) return labels[thing.id];
  if (thing.picture) return "Picture";
  const kind = thing.outline?.kind ?? "rectangle";
  return kind === "path" ? "Drawn outline" : kind[0].toUpperCase() + kind.slice(1);
}

/** A new id or name that is not taken. */
export function fresh(taken: Iterable<string>, stem: string): string {
  const all = new Set(taken);
  for (let n = 1; ; n++) if (!all.has(`${stem}${n}`)) return `${stem}${n}`;
}

/** The frame in whose copy an object stands. */
export function hostOf(open: OpenDocument, id: string): Thing | null {
  const holds = (thing: Thing) =>
    Object.values(open.copies[thing.frame!.copy]?.versions ?? {}).some((version) =>
      version.paragraphs.some((p) => p.runs?.some((run) => run.object === id)),
    );
  return thingsOf(open).find((thing) => thing.frame && holds(thing)) ?? null;
}
