/** What is wrong in the open document: asked of the server once a change is stored and nothing is being dragged. */
import { selectOnly, speakOf } from "../state/choosing";
import { create } from "zustand";
import { answer, api, type Operation, post, type Schemas } from "../api/client";
import { bringIntoView, showPage } from "../parts/view";
import { edit } from "../state/sending";
import { useStore } from "../state/store";
import { say } from "../state/viewing";

export type Finding = Schemas["FindingOut"];
export type TriedCure = Schemas["TriedOut"];

interface State {
  /** The document and revision that they are of. */
  of: number | null;
  revision: number;
  found: Finding[];
  /** Whether the list is shown. */
  open: boolean;
  /** The one that is read: its `about`. */
  at: string | null;
  /** What can be done about it, tried; null while that goes on. */
  cures: TriedCure[] | null;
}

export const useFindings = create<State>(() => ({
  of: null,
  revision: -1,
  found: [],
  open: false,
  at: null,
  cures: null,
}));

const set = useFindings.setState;
/** After a change was stored it is waited so long for the next. */
const WAIT = 250;

export const about = (one: Finding) =>
  // Rivers may begin in one line, edges of one frame nearly meet others in two ways.
  `${one.kind} ${one.object} ${one.page} ${one.range ? `${one.range.join("–")} ${one.shown === "line" ? one.marks[0]?.[0] : ""}` : one.message.replace(/[\d.]+/g, "")}`;
/** Those that are not set aside. */
export const openOnes = (found: Finding[]) => found.filter((one) => !one.neverMind);
export const faultsOf = (found: Finding[], object?: string) =>
  openOnes(found).filter((one) => one.fault && (object === undefined || one.object === object));

/** "2 faults, 1 note"; nothing where nothing is found. */
export function countSaid(found: Finding[]): string {
  const faults = faultsOf(found).length;
  const notes = openOnes(found).length - faults;
  const said = (n: number, one: string) => (n ? `${n} ${one}${n === 1 ? "" : "s"}` : "");
  return [said(faults, "fault"), said(notes, "note")].filter(Boolean).join(", ");
}

/** Follow the open document; the answer that comes back ends it. */
export function followFindings(): () => void {
  let timer = 0;
  let asking = false;
  const look = async () => {
    const { id, revision, saving, away, tried, complete } = useStore.getState();
    const known = useFindings.getState();
    if (id === null || (known.of === id && known.revision === revision)) return;
    if (saving || away || tried || asking || !complete) return void (timer = window.setTimeout(look, WAIT));
    asking = true;
    try {
      const out = await answer(
        api.GET("/api/documents/{document_id}/findings", { params: { path: { document_id: id } } }),
      );
      if (useStore.getState().id === id) {
        const { at, found } = useFindings.getState();
        const now = out.findings as Finding[];
        const still = at !== null && now.some((one) => about(one) === at);
        set({ of: id, revision: out.revision, found: now });
        if (at !== null && !still && found.length) set({ at: null, cures: null });
        else if (at !== null) void tryCures();
      }
    } catch {
      // What is wrong is asked again with the next change; the page does not wait for it.
      if (useStore.getState().id === id) set({ of: id, revision });
    } finally {
      asking = false;
    }
    if (useStore.getState().revision !== useFindings.getState().revision) timer = window.setTimeout(look, WAIT);
  };
  const end = useStore.subscribe((now, before) => {
    if (now.id !== before.id) set({ of: null, revision: -1, found: [], open: false, at: null, cures: null });
    if (now.revision === before.revision && now.id === before.id && now.complete === before.complete) return;
    clearTimeout(timer);
    timer = window.setTimeout(look, WAIT);
  });
  timer = window.setTimeout(look, WAIT);
  return () => {
    clearTimeout(timer);
    end();
  };
}

/** Read one of them: the page follows, its object is chosen, what can be done about it is tried. */
export function read(one: Finding | null) {
  if (!one) return set({ at: null, cures: null });
  const { scene, page } = useStore.getState();
  set({ at: about(one), cures: null, open: true });
  speakOf(one.page);
  if (scene?.objects[one.object]) selectOnly(one.object);
  if (page !== one.page) showPage(one.page);
  else bringIntoView(one.object);
  void tryCures();
}

export function reading(): Finding | null {
  const { found, at } = useFindings.getState();
  return found.find((one) => about(one) === at) ?? null;
}

/** The next of them, or the one before; after the last the first again. */
export function walk(by: 1 | -1) {
  const { found, at } = useFindings.getState();
  const all = openOnes(found);
  if (!all.length) {
    set({ open: true });
    return say("Nothing is found to be wrong.");
  }
  const here = all.findIndex((one) => about(one) === at);
  const next = here < 0 ? (by > 0 ? 0 : all.length - 1) : (here + by + all.length) % all.length;
  read(all[next]);
}

async function tryCures() {
  const one = reading();
  const { id, revision } = useStore.getState();
  if (!one || id === null) return;
  if (!one.hasCures) return set({ cures: [] });
  const { kind, object, page, range } = one;
  try {
    const cures = await post<TriedCure[]>(`/api/documents/${id}/cures`, { base: revision, kind, object, page, range });
    if (useFindings.getState().at === about(one)) set({ cures });
  } catch {
    if (useFindings.getState().at === about(one)) set({ cures: [] });
  }
}

/** What a cure comes to, in words. */
export function comesTo({ more, fewer }: TriedCure): string {
  const others = fewer - 1 - more;
  if (more) return `mends it; ${more} other${more === 1 ? "" : "s"} come${more === 1 ? "s" : ""} of it`;
  return others > 0 ? `mends it and ${others} more` : "mends it";
}

export const cure = (made: TriedCure) => edit(made.operations as Operation[], capital(made.label));

/** A limit of the document's own for a kind of finding; null goes back to the usual one. */
export function limitKind(kind: string, limit: number | null) {
  const rules = rulesNow();
  const limits = { ...(rules.limits ?? {}) };
  if (limit === null) delete limits[kind];
  else limits[kind] = limit;
  return edit([{ do: "put", at: ["findings"], value: { ...rules, limits } }], "Limit of findings");
}

export const hasOwnLimit = (kind: string) => rulesNow().limits?.[kind] !== undefined;

const rulesNow = () => useStore.getState().document?.findings ?? {};

/** Set a finding aside: this one, or all of its kind. */
export function neverMind(one: Finding, all: boolean) {
  const rules = rulesNow();
  const rule = all ? { kind: one.kind } : { kind: one.kind, object: one.object, words: one.words };
  const value = { ...rules, never_mind: [...(rules.never_mind ?? []), rule] };
  read(null);
  return edit([{ do: "put", at: ["findings"], value }], "Never mind");
}

/** Bring back what was set aside: a finding and all that was set aside with it. */
export function bringBack(one: Finding) {
  const rules = rulesNow();
  const left = (rules.never_mind ?? []).filter(
    (rule) =>
      !(
        rule.kind === one.kind &&
        (rule.object ?? one.object) === one.object &&
        (rule.words ?? one.words) === one.words
      ),
  );
  return edit([{ do: "put", at: ["findings"], value: { ...rules, never_mind: left } }], "Bring a finding back");
}

const capital = (text: string) => text[0].toUpperCase() + text.slice(1);
