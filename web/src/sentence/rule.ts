import type { Frame } from "../state/document";

/** A rule of a frame, by its name in the document. */
export type Rule = keyof Frame;
