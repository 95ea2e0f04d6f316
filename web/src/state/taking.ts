/** What an answer changes, put into what a window has: parts of a long document come as what differs. */
import type { ShapeScene, Schemas } from "../api/client";
import type { OpenDocument } from "./document";
import type { Plain } from "../api/client";

type List = unknown[];
type Lists = Record<
  "rules" | "ruleOf" | "fromRight" | "start" | "end" | "look" | "rtl" | "width",
  [number, number, List] | null
>;

/** A shape made of another one (nestline.scene.patched). */
export function patchedShape(old: ShapeScene, patch: Schemas["ShapePatch"]): ShapeScene {
  const out: Record<string, unknown> = { ...old, words: patch.words };
  for (const [name, change] of Object.entries(patch.lists as Lists)) {
    if (!change) continue;
    const [from, count, by] = change;
    const before = old[name as keyof Lists] as List;
    const behind = before.slice(from + count);
    const moved =
      name === "start" || name === "end" ? (behind as number[]).map((place) => place + patch.shift) : behind;
    out[name] = before.slice(0, from).concat(by, moved);
  }
  const [from, count, by] = patch.text;
  out.text = old.text.slice(0, from) + by + old.text.slice(from + count);
  return out as ShapeScene;
}

type Json = Record<string, unknown> | List;

/** A document with operations made of it that name their places from its top; what they do not touch stays the same. */
export function changed(document: OpenDocument, operations: Plain[]): OpenDocument {
  return operations.reduce(
    (now, operation) => put(now as unknown as Json, operation.at, operation) as unknown as OpenDocument,
    document,
  );
}

function put(value: Json, at: (string | number)[], operation: Plain): Json {
  const [name, ...rest] = at;
  if (Array.isArray(value)) {
    const out = value.slice();
    if (rest.length || (operation.do === "splice" && at.length))
      out[Number(name)] = rest.length
        ? put(out[Number(name)] as Json, rest, operation)
        : spliced(out[Number(name)] as List, operation);
    else if (operation.do === "put") out[Number(name)] = operation.value;
    else out.splice(Number(name), 1);
    return out;
  }
  const out = { ...value };
  if (rest.length) out[name] = put(out[name] as Json, rest, operation);
  else if (operation.do === "put") out[name] = operation.value;
  else if (operation.do === "cut") delete out[name];
  else out[name] = spliced(out[name] as List | undefined, operation);
  return out;
}

function spliced(list: List | undefined, { from = 0, remove = 0, insert = [] }: Plain): List {
  const out = (list ?? []).slice();
  out.splice(from, remove, ...insert);
  return out;
}
