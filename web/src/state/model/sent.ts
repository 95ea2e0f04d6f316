/** What is on its way to the server, and what waits for it. Pure. */
import type { Held } from "../queue";

export interface Sent {
  saving: boolean;
  /** Since when the server does not answer (ms), how many changes wait for it, and whether that is because of a
   * session that ended. */
  away: { since: number; waiting: number; out: boolean } | null;
  /** What collides with another window's change, until a side is chosen. */
  collided: Held | null;
  /** How often all that was on its way had arrived. */
  rested: number;
  /** The newest revision that this window was told of, and whether it is being caught up with. */
  told: { id: number; revision: number };
  catching: boolean;
  /** The width or height that arrows gave an object while it is on its way. */
  sized: { id: string; field: string; size: number } | null;
}

export const NOTHING_SENT: Sent = {
  saving: false,
  away: null,
  collided: null,
  rested: 0,
  told: { id: 0, revision: 0 },
  catching: false,
  sized: null,
};

/** What is told of a queue: whether it works, what it waits for, what collides. */
export interface Standing {
  busy: boolean;
  held: Held | null;
  away: { since: number; out: boolean } | null;
  changes: { length: number };
}

/** How it stands with the changes of all documents that were opened; `mine` are those of the open one. */
export function standing(before: Sent, mine: Standing | null, all: Standing[]): Partial<Sent> {
  const cut = all.map((one) => one.away).find(Boolean);
  const waiting = all.reduce((sum, one) => sum + (one.away ? one.changes.length : 0), 0);
  return {
    // Until all that waited is stored it counts down.
    away: cut
      ? { since: before.away?.since ?? cut.since, waiting, out: cut.out }
      : before.away && mine?.changes.length
        ? { ...before.away, waiting: mine.changes.length, out: false }
        : null,
    saving: mine?.busy ?? false,
    collided: mine?.held ?? null,
    rested: before.rested + (mine?.busy ? 0 : 1),
  };
}

/** The text that stands in a value anywhere: in runs that are put into a copy. */
export function textIn(value: unknown): string {
  if (Array.isArray(value)) return value.map(textIn).join("");
  if (!value || typeof value !== "object") return "";
  return Object.entries(value)
    .map(([key, part]) => (key === "text" && typeof part === "string" ? part : textIn(part)))
    .join("");
}
