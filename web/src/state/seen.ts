/** What is drawn, and what is shown on the way: plain values that the drawing and the store both speak of. */
import type { NestScene, ObjectScene, Schemas, ShapeScene } from "../api/client";

/** A point, x and y. */
export type Point = [number, number];

/** How pages lie on the bench: under one another, or beside. */
export type Laid = "under" | "beside";

export interface Scene {
  laid: Laid;
  pages: Schemas["PageScene"][];
  objects: Record<string, ObjectScene>;
  /** What objects are called: by their names, their words, or their kinds. */
  labels: Record<string, string>;
  nests: Record<string, NestScene>;
  shapes: Record<string, ShapeScene>;
  /** Frames with page numbers that lead nowhere, each with why. */
  nowhere: Record<string, string>;
  /** Where in a copy each object belongs that stands elsewhere. */
  anchors: Record<string, Schemas["AnchorMarkScene"]>;
}

/** A knot of an outline that is being drawn, in points of its page. */
export interface DraftKnot {
  at: [number, number];
  before?: [number, number];
  after?: [number, number];
}

/** A line that something caught on while it was moved. */
export interface Caught {
  page: number;
  axis: "x" | "y";
  at: number;
}

/** The causes that are shown at the pointer. */
export interface Why {
  /** Where the pointer is, in CSS px of the bench. */
  at: Point;
  page: number;
  causes: Schemas["CauseOut"][];
  /** It stays while its controls are chosen from. */
  pinned: boolean;
}
