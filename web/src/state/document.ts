/** The open format as the client needs it. Its rules live in the server; these are only the names. */
export type Length = number | string;

export interface Run {
  text: string;
  /** The object that stands here in line, or has its place here; it has no text then. */
  object?: string;
  /** A page number: of the frame `of`, or of the frame that its chain goes on in or comes from. It has no text. */
  field?: "page" | "next-page" | "previous-page";
  of?: string;
  weight?: number;
  slope?: "normal" | "italic";
  underline?: boolean;
  font?: string;
  size?: Length;
  color?: string;
}
export interface Paragraph {
  style?: string;
  runs?: Run[];
  [rule: string]: unknown;
}
export type Give = "top" | "right" | "bottom" | "left" | "in-proportion";
export interface Frame {
  copy: string;
  padding?: Length | Length[];
  setting?: "level" | "turned";
  columns?: number;
  gutter?: Length;
  balance?: boolean;
  column_rule?: Stroke | null;
  leaded?: { leading?: Length; space?: Length };
  sit?: "top" | "middle" | "bottom" | "leaded";
  lift?: Length;
  hang?: Length;
  stand?: "baseline" | "descender" | "line-box" | "ink";
  band?: "letters" | "line-box";
  pushed?: boolean;
  least_slot?: Length;
  give?: Give[];
  least?: { width?: Length; height?: Length };
  greatest?: { width?: Length; height?: Length };
  whole_pixels?: boolean;
  fit_type?: { least?: Length; greatest?: Length; grow?: boolean; set?: string } | null;
  leftover?: { ends?: "past-the-edge" | "at-the-edge" | "with-the-last-line"; mark?: string };
  wrap_lines?: boolean;
}
export interface Fill {
  color: string;
  tint?: number;
  opacity?: number;
}
export interface Stroke {
  color?: string;
  width?: Length;
  dash?: Length[];
  cap?: "butt" | "round" | "square";
  join?: "miter" | "round" | "bevel";
  opacity?: number;
  position?: "inside" | "centred" | "outside";
}
export interface Wrap {
  by?: "none" | "box" | "outline" | "contour" | "below";
  /** Copy stands only inside the shape. */
  inside?: boolean;
  clearance?: Length | Length[];
  sides?: "both" | "left" | "right" | "widest";
}
export interface Tie {
  edge: "top" | "right" | "bottom" | "left" | "width" | "baseline";
  to: string;
  its?: Tie["edge"];
  gap?: Length;
}
export interface Thing {
  /** The objects of a group. */
  objects?: Thing[];
  id: string;
  name?: string;
  x: Length;
  y: Length;
  width: Length;
  height: Length;
  turn?: number;
  outline?: { kind?: string; sides?: number; points?: number; radius?: Length | Length[]; [figure: string]: unknown };
  fill?: Fill | null;
  stroke?: Stroke | null;
  hidden?: boolean;
  locked?: boolean;
  paint?: boolean;
  picture?: {
    file: string;
    alt?: string;
    fit?: string;
    clip?: "outline" | "contour";
    x?: Length;
    y?: Length;
    scale?: number;
  } | null;
  wrap?: Wrap;
  contour?: {
    from?: "alpha" | "plain" | "busy" | "mask" | "path";
    threshold?: number;
    smoothness?: number;
    points?: number | null;
    holes?: boolean;
    mask?: string;
    d?: string;
    subject?: Subject | null;
  } | null;
  ties?: Tie[];
  anchor?: {
    place?: "in-line" | "beside" | "centred";
    shift?: Length;
    side?: "left" | "right" | "fold" | "edge";
    x?: Length;
    y?: Length;
    out?: boolean | null;
    across?: "line" | "column" | "frame" | "page";
    down?: "line" | "frame" | "page";
  } | null;
  recipe?: string;
  departs?: string[];
  frame?: Frame | null;
}
/** What was marked as a picture's subject, in fractions of the picture. */
export interface Subject {
  box?: [number, number, number, number] | null;
  keep?: [number, number][][];
  drop?: [number, number][][];
}
export interface Page {
  width: Length;
  height: Length;
  bleed?: Length;
  margins?: Length | Length[];
  guides?: { x?: Length[]; y?: Length[] };
  background?: string | null;
  objects: Thing[];
}
export interface OpenDocument {
  title?: string;
  /** Words that its spelling marks leave alone. */
  words?: string[];
  language?: string;
  unit?: string;
  colors?: Record<string, string>;
  styles?: Record<string, Record<string, unknown>>;
  recipes?: Record<string, Record<string, unknown>>;
  /** The version that is shown wherever a copy has it. */
  showing?: string;
  /** Frames that share a copy, in the order in which it runs on. */
  chains?: string[][];
  /** Whether pages lie open in pairs. */
  facing?: boolean;
  copies: Record<string, { versions: Record<string, { language?: string; paragraphs: Paragraph[] }> }>;
  pages: Page[];
}

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

let labels: Record<string, string> = {};

/** What the core calls the objects of the open document. */
export function knowLabels(known: Record<string, string>) {
  labels = known;
}

/** What an object is called. */
export function labelOf(thing: Thing): string {
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
