/** Changes that wait to be stored, kept in the browser until they are: a reload finds them again. */
import { inOrder, once } from "./later";
import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import type { Operation } from "../api/client";

/** A change, or a step back or forward, as it waits. */
export interface Waiting {
  /** Its own id: the server makes it once, however often it is asked. */
  mark: string;
  doc: number;
  window: string;
  /** Its place in the order of all. */
  order: number;
  kind: "edit" | "undo" | "redo";
  operations: Operation[];
  label: string;
  join: string;
}

/** What a window's waiting changes of a document stand on: a revision, and its own changes since. */
export interface Standing {
  key: string;
  doc: number;
  window: string;
  base: number;
  on: Operation[];
}

interface Kept extends DBSchema {
  changes: { key: string; value: Waiting; indexes: { doc: number } };
  standing: { key: string; value: Standing; indexes: { doc: number } };
}

const database = once<Promise<IDBPDatabase<Kept> | null>>(
  () =>
    openDB<Kept>("nest-line", 1, {
      upgrade(db) {
        db.createObjectStore("changes", { keyPath: "mark" }).createIndex("doc", "doc");
        db.createObjectStore("standing", { keyPath: "key" }).createIndex("doc", "doc");
      },
    }).catch(() => null), // a browser that keeps nothing: then changes wait in this window alone
);

const behind = inOrder();

/** Runs after all before it, so that what is kept last is kept. */
function then(work: (db: IDBPDatabase<Kept>) => Promise<unknown>) {
  return behind(async () => {
    const db = await database();
    if (db) await work(db);
  });
}

export function keep(
  { mark, doc, window, order, kind, operations, label, join }: Waiting,
  standing: Omit<Standing, "key">,
) {
  void then(async (db) => {
    const all = db.transaction(["changes", "standing"], "readwrite");
    await Promise.all([
      all.objectStore("changes").put({ mark, doc, window, order, kind, operations, label, join }),
      all.objectStore("standing").put({ ...standing, key: `${standing.doc} ${standing.window}` }),
      all.done,
    ]);
  });
}

export function drop(mark: string, standing: Omit<Standing, "key">) {
  void then(async (db) => {
    const all = db.transaction(["changes", "standing"], "readwrite");
    await Promise.all([
      all.objectStore("changes").delete(mark),
      all.objectStore("standing").put({ ...standing, key: `${standing.doc} ${standing.window}` }),
      all.done,
    ]);
  });
}

/** What waits for a document, by the windows that left it, each with what its changes stand on. */
export async function left(doc: number): Promise<{ standing: Standing; changes: Waiting[] }[]> {
  await behind(() => Promise.resolve());
  const db = await database();
  if (!db) return [];
  const [changes, standing] = await Promise.all([
    db.getAllFromIndex("changes", "doc", doc),
    db.getAllFromIndex("standing", "doc", doc),
  ]);
  const groups = standing.map((one) => ({
    standing: one,
    changes: changes.filter((c) => c.window === one.window).sort((a, b) => a.order - b.order),
  }));
  for (const { standing: one, changes } of groups)
    if (!changes.length) void then((db) => db.delete("standing", one.key));
  return groups.filter((group) => group.changes.length);
}

/** How many changes wait for each document. */
export async function leftOf(): Promise<Map<number, number>> {
  await behind(() => Promise.resolve());
  const out = new Map<number, number>();
  for (const change of (await (await database())?.getAll("changes")) ?? [])
    out.set(change.doc, (out.get(change.doc) ?? 0) + 1);
  return out;
}
