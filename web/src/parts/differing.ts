import { createContext } from "react";

/** For each part of the sentence in which the selected frames differ, how; null while one frame is spoken of. */
export const Differing = createContext<Record<string, string> | null>(null);
