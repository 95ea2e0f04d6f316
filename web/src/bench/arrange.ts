/** What is done with whole objects: align, combine, duplicate, the clipboard. */
import { act } from "../api/client";
import { groupOf, leavesOf, type OpenDocument, type Thing, thingsOf } from "../state/document";
import { select, selectAll, editPointsOf } from "../state/choosing";
import { edit } from "../state/sending";
import { selectedThing, selection, shownScene, useStore } from "../state/store";
import { say } from "../state/viewing";
import { freshIds } from "../state/ids";
import { bringIntoView } from "../parts/view";

/** What is selected and not locked. */
export function unlocked(): string[] {
  const scene = shownScene();
  return selection().filter((id) => scene?.objects[id] && !scene.objects[id].locked);
}

export function remove(objects: string[]) {
  void edit(act("delete", { objects }), objects.length > 1 ? "Delete objects" : "Delete");
}

export function editPoints() {
  const thing = selectedThing();
  if (!thing || thing.locked) return;
  editPointsOf();
}

export function selectEverything() {
  const scene = shownScene();
  if (!scene) return;
  const page = scene.objects[selection()[0] ?? ""]?.page ?? 0;
  selectAll(scene.pages[page].order.filter((id) => !scene.objects[id].locked && !scene.objects[id].hidden).reverse());
}

/** Choose all objects of the document that are like the chosen one in this: the recipe they follow, their fill, or
 * the kind of their outline. */
export function chooseAlike(by: "recipe" | "fill" | "outline") {
  const open = useStore.getState().document;
  const thing = selectedThing();
  if (!open || !thing) return;
  const of = (one: Thing) =>
    by === "recipe"
      ? one.recipe
      : JSON.stringify(by === "fill" ? one.fill : one.outline?.kind === "path" ? one.outline : one.outline?.kind);
  if (by === "recipe" && !thing.recipe) return say("It follows no recipe.");
  const scene = shownScene();
  const alike = thingsOf(open)
    .filter((one) => of(one) === of(thing) && scene?.objects[one.id] && !one.locked && !one.hidden)
    .map((one) => one.id);
  selectAll([thing.id, ...alike.filter((id) => id !== thing.id)]);
  say(alike.length > 1 ? `${alike.length} objects are chosen.` : "No other is like it in that.");
}

/** Choose the object before or behind the chosen one in the stacking order, page by page. */
export function step(by: 1 | -1) {
  const scene = shownScene();
  if (!scene) return;
  const order = scene.pages.flatMap((page) =>
    [...page.order].reverse().filter((id) => !scene.objects[id].hidden && !scene.objects[id].locked),
  );
  if (!order.length) return;
  const at = order.indexOf(selection()[0] ?? "");
  const next = order[at < 0 ? (by > 0 ? 0 : order.length - 1) : (at + by + order.length) % order.length];
  select(next, false, true);
  bringIntoView(next);
}

export async function duplicate() {
  const objects = unlocked();
  if (!objects.length) return;
  const ids = freshIds(objects.length);
  if (await edit(act("duplicate", { objects, ids }), "Duplicate")) selectAll(ids);
}

/** Make what is selected one group. */
export async function group() {
  const objects = unlocked();
  if (objects.length < 2) return say("Choose two or more objects to group.");
  if (await edit(act("group", { objects }), "Group")) selectAll(objects);
}

/** Take the group apart that is selected. */
export function ungroup() {
  const { document: open } = useStore.getState();
  const objects = selection();
  if (open && groupOf(open, objects)) void edit(act("ungroup", { objects }), "Take the group apart");
}

interface Held {
  objects: Thing[];
  copies: OpenDocument["copies"];
  colors: Record<string, string>;
  recipes: Record<string, unknown>;
  styles: Record<string, unknown>;
  chains?: string[][];
}

const HELD = "nest-line-objects";

/** Objects with those that belong to the copy of frames among them, and what goes along with these. */
function withHeld(open: OpenDocument, ids: string[]): string[] {
  const out = [...ids];
  const groups = shownScene()?.pages.flatMap((page) => page.groups) ?? [];
  const things = new Map(thingsOf(open).map((thing) => [thing.id, thing]));
  for (const id of out) {
    const copy = things.get(id)?.frame?.copy;
    const runs = Object.values(copy ? open.copies[copy].versions : {}).flatMap((version) =>
      version.paragraphs.flatMap((paragraph) => paragraph.runs ?? []),
    );
    for (const { object } of runs)
      if (object)
        for (const one of groups.find((group) => group.leader === object)?.objects ?? [object])
          if (!out.includes(one)) out.push(one); // it is gone through, too: it may hold copy itself
  }
  return out;
}

/** Objects on the clipboard of this browser, so that they can be pasted into another document. */
export function copySelection() {
  const open = useStore.getState().document;
  if (!open || !selection().length) return;
  const ids = withHeld(open, selection());
  const chosen = thingsOf(open).filter((t) => ids.includes(t.id));
  // Groups that are chosen whole go as groups.
  const whole = (thing: Thing): Thing[] =>
    leavesOf(thing).every((leaf) => ids.includes(leaf.id)) ? [thing] : (thing.objects ?? []).flatMap(whole);
  const objects = open.pages.flatMap((page) => page.objects.flatMap(whole));
  const copies = Object.fromEntries(
    chosen.flatMap((t) => (t.frame ? [[t.frame.copy, open.copies[t.frame.copy]]] : [])),
  );
  const held: Held = {
    objects,
    copies,
    colors: open.colors ?? {},
    styles: open.styles ?? {},
    recipes: open.recipes ?? {},
    chains: (open.chains ?? [])
      .map((chain) => chain.filter((id) => ids.includes(id)))
      .filter((chain) => chain.length > 1),
  };
  try {
    localStorage.setItem(HELD, JSON.stringify(held));
    say(objects.length > 1 ? `${objects.length} objects copied.` : "Copied.");
  } catch {
    say("This is too much for the browser to hold; copy fewer objects at once.", "fault");
  }
}

export function cutSelection() {
  copySelection();
  const { document: open } = useStore.getState();
  const objects = unlocked();
  if (open && objects.length) void edit(act("delete", { objects: withHeld(open, objects) }), "Cut");
}

export async function pasteHere() {
  const text = localStorage.getItem(HELD);
  const { document: open } = useStore.getState();
  if (!text || !open) return say("There is nothing to paste: copy an object first.");
  const held = JSON.parse(text) as Held;
  const there = new Set(thingsOf(open).map((t) => `${String(t.x)},${String(t.y)}`));
  const by = held.objects.some((t) => there.has(`${String(t.x)},${String(t.y)}`)) ? [12, 12] : [0, 0];
  const page = shownScene()?.objects[selection()[0] ?? ""]?.page ?? useStore.getState().page;
  const ids = freshIds(held.objects.flatMap(leavesOf).length);
  const { objects, copies, colors, styles, recipes, chains = [] } = held;
  if (await edit(act("paste", { page, objects, copies, colors, styles, recipes, chains, by, ids }), "Paste"))
    selectAll(ids);
}

/** Combine what is selected; the last chosen is the one that is kept. */
export async function combine(how: string) {
  const objects = selection();
  const base = objects[0];
  if (await edit(act("combine", { objects, how, base }), "Combine")) select(base);
}
