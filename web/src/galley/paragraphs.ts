/** Between the document's paragraphs and the editor's: nothing of a paragraph or a run is lost on the way. */
import type { JSONContent } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import equal from "fast-deep-equal";
import type { Operation } from "../api/client";
import type { Paragraph, Run } from "../state/document";

/** A forced line break in the copy. */
export const LINE_BREAK = "\u2028";

/** `numbers` are what the page numbers in the copy read, in order. */
export function toEditor(paragraphs: Paragraph[], numbers: readonly string[] = []): JSONContent {
  let at = 0;
  const content = paragraphs.map(({ runs, ...rules }) => ({
    type: "paragraph",
    attrs: {
      rules,
      empty: (runs ?? []).some((run) => run.text || run.object || run.field) ? null : emptyLook(runs?.[0]),
    },
    content: (runs ?? []).flatMap((run) => (run.field ? numberNode(run, numbers[at++] ?? "?") : runToNodes(run))),
  }));
  return { type: "doc", content: content.length ? content : [{ type: "paragraph" }] };
}

/** The look of an empty run, as the editor's marks. */
function emptyLook(run: Run | undefined) {
  const marks = run ? (runToNodes({ ...run, text: "x" })[0].marks ?? []) : [];
  return marks.length ? marks.map((mark) => ({ type: mark.type, attrs: mark.attrs ?? {} })) : null;
}

/** A run's look from the editor's marks. */
function lookOf(marks: JSONContent["marks"] | null | undefined): Partial<Run> {
  const run: Partial<Run> = {};
  for (const mark of marks ?? []) {
    if (mark.type === "bold") run.weight = 700;
    if (mark.type === "italic") run.slope = "italic";
    if (mark.type === "underline") run.underline = true;
    if (mark.type === "look") Object.assign(run, mark.attrs?.look);
  }
  return run;
}

function numberNode({ field, of, ...run }: Run, shown: string): JSONContent[] {
  const { text, ...look } = run as Partial<Run>;
  void text;
  return [{ type: "number", attrs: { field, of: of ?? null, shown, look } }];
}

function runToNodes({ text, object, weight, slope, underline, ...look }: Run): JSONContent[] {
  if (object) return [{ type: "object", attrs: { id: object } }];
  const marks: JSONContent["marks"] = [];
  if (weight === 700) marks.push({ type: "bold" });
  else if (weight !== undefined) Object.assign(look, { weight });
  if (slope === "italic") marks.push({ type: "italic" });
  else if (slope) Object.assign(look, { slope });
  if (underline === true) marks.push({ type: "underline" });
  else if (underline !== undefined) Object.assign(look, { underline });
  if (Object.keys(look).length) marks.push({ type: "look", attrs: { look } });
  return (text ?? "")
    .split(LINE_BREAK)
    .flatMap((part, i) => [
      ...(i ? [{ type: "hardBreak", marks }] : []),
      ...(part ? [{ type: "text", text: part, marks }] : []),
    ]);
}

const made = new WeakMap<Node, Paragraph>();

/** The paragraphs of the editor's document; one that nobody touched since they were asked for last is the same again.
 * What is pasted brings no rules of its own: it takes those of the paragraph before it; `stored` is what stood there
 * before. */
export function paragraphsIn(doc: Node, stored: Paragraph[] = []): Paragraph[] {
  const { runs: _, ...first } = stored[0] ?? {};
  void _;
  const nodes = doc.children;
  let rules = (nodes.find((node) => node.attrs.rules)?.attrs.rules as object | undefined) ?? first;
  return nodes.map((node) => {
    const own = node.attrs.rules as object | null;
    rules = own ?? rules;
    let found = own ? made.get(node) : undefined;
    if (!found) {
      found = fromNode(node.toJSON() as JSONContent, rules);
      edited.set(found, found);
      if (own) made.set(node, found);
    }
    return found;
  });
}

function fromNode(node: JSONContent, rules: object): Paragraph {
  const runs: Run[] = [];
  for (const part of node.content ?? []) {
    if (part.type === "hardBreak" && runs.length && !runs.at(-1)!.object && !runs.at(-1)!.field) {
      runs[runs.length - 1].text += LINE_BREAK; // a break looks like what stands before it
      continue;
    }
    if (part.type === "object") {
      runs.push({ object: part.attrs?.id as string });
      continue;
    }
    if (part.type === "number") {
      const { field, of, look } = (part.attrs ?? {}) as Pick<Run, "field" | "of"> & { look?: Partial<Run> };
      runs.push({ ...look, field, ...(of ? { of } : {}) });
      continue;
    }
    const run: Run = { text: part.type === "hardBreak" ? LINE_BREAK : (part.text ?? ""), ...lookOf(part.marks) };
    const last = runs.at(-1);
    if (last && !last.object && !last.field && equal({ ...last, text: "" }, { ...run, text: "" }))
      last.text = `${last.text}${run.text}`;
    else runs.push(run);
  }
  // One that is empty keeps the look of its letters in an empty run.
  const empty = lookOf(node.attrs?.empty as JSONContent["marks"]);
  if (!runs.length && Object.keys(empty).length) runs.push({ text: "", ...empty });
  return { ...rules, runs };
}

const edited = new WeakMap<Paragraph, Paragraph>();

/** A stored paragraph as it comes back from the editor when nothing was done to it: runs of one look joined, none
 * empty. */
function asEdited(paragraph: Paragraph): Paragraph {
  let found = edited.get(paragraph);
  if (!found) {
    const { runs: _, ...rules } = paragraph;
    void _;
    edited.set(paragraph, (found = fromNode(toEditor([paragraph]).content![0], rules)));
  }
  return found;
}

/** The one splice that makes `before` into `after`; null when they are the same, in whatever order their rules are
 * named. What nobody touched stays as it is stored. */
export function difference(copy: string, version: string, before: Paragraph[], after: Paragraph[]): Operation | null {
  const same = (stored: Paragraph, now: Paragraph) => stored === now || equal(asEdited(stored), now);
  let start = 0;
  while (start < before.length && start < after.length && same(before[start], after[start])) start++;
  let end = 0;
  while (end < before.length - start && end < after.length - start && same(before.at(-1 - end)!, after.at(-1 - end)!))
    end++;
  const remove = before.length - start - end;
  const insert = after.slice(start, after.length - end);
  if (!remove && !insert.length) return null;
  return { do: "splice", at: ["copies", copy, "versions", version, "paragraphs"], from: start, remove, insert };
}
