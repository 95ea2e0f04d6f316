/** The open format as the client needs it. Its rules live in the server; these are only the names. */
export type Length = number | string;

export interface Run {
  text: string;
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
export interface Frame {
  copy: string;
  padding?: Length | Length[];
  setting?: "level" | "turned";
  sit?: "top" | "middle" | "bottom";
  lift?: Length;
  hang?: Length;
  stand?: "baseline" | "descender" | "line-box";
  band?: "letters" | "line-box";
  pushed?: boolean;
  give?: ("left" | "right")[];
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
  by?: "none" | "box" | "outline" | "contour";
  clearance?: Length | Length[];
  sides?: "both" | "left" | "right" | "widest";
}
export interface Thing {
  id: string;
  name?: string;
  x: Length;
  y: Length;
  width: Length;
  height: Length;
  turn?: number;
  outline?: { kind?: string; [figure: string]: unknown };
  fill?: Fill | null;
  stroke?: Stroke | null;
  hidden?: boolean;
  locked?: boolean;
  paint?: boolean;
  picture?: { file: string; alt?: string; fit?: string; x?: Length; y?: Length; scale?: number } | null;
  wrap?: Wrap;
  frame?: Frame | null;
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
  language?: string;
  unit?: string;
  colors?: Record<string, string>;
  styles?: Record<string, Record<string, unknown>>;
  copies: Record<string, { versions: Record<string, { language?: string; paragraphs: Paragraph[] }> }>;
  pages: Page[];
}

export function thingsOf(document: OpenDocument): Thing[] {
  return document.pages.flatMap((page) => page.objects);
}

/** What an object is called when it has no name. */
export function labelOf(thing: Thing): string {
  if (thing.name) return thing.name;
  if (thing.picture) return "Picture";
  const kind = thing.outline?.kind ?? "rectangle";
  return kind === "path" ? "Drawn outline" : kind[0].toUpperCase() + kind.slice(1);
}

/** A new id or name that is not taken. */
export function fresh(taken: Iterable<string>, stem: string): string {
  const all = new Set(taken);
  for (let n = 1; ; n++) if (!all.has(`${stem}${n}`)) return `${stem}${n}`;
}
