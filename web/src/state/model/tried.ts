/** What is previewed: shown and not stored; the newest wins, one is on its way. Pure. */
import type { Operation, SceneOut } from "../../api/client";
import type { Caught } from "../seen";

export interface Tried {
  /** What a preview shows instead; null when nothing is being tried. */
  tried: SceneOut | null;
  triedFault: string | null;
  /** The lines that something caught on. */
  caught: Caught[];
  /** What is to be asked for next. */
  wish: { operations: Operation[]; caught: Caught[] } | null;
  /** Whether one is on its way. */
  asking: boolean;
  /** Grows when what was tried until now is over: an answer to it comes too late. */
  turn: number;
  /** Whether what is shown is being tried now, not what was kept and is on its way. */
  trying: boolean;
  /** How many previews this window has asked for: of two that wait in the server only the later is worked out. */
  asked: number;
}

export const NOTHING_TRIED: Tried = {
  tried: null,
  triedFault: null,
  caught: [],
  wish: null,
  asking: false,
  turn: 0,
  trying: false,
  asked: 0,
};

export const NONE_CAUGHT: Caught[] = [];

/** What was tried is made: what is shown of it stays until it is stored. */
export function kept(state: Tried): Partial<Tried> {
  return { wish: null, trying: false, turn: state.turn + 1 };
}

/** It is shown no more. */
export function stopped(state: Tried): Partial<Tried> {
  return { ...kept(state), ...(state.tried || state.triedFault ? { tried: null, triedFault: null } : {}) };
}

/** An answer to a preview that was asked for at a revision and a turn. */
export function answered(
  state: Tried & { revision: number },
  asked: { turn: number; revision: number; busy: boolean; operations: Operation[]; caught: Caught[] },
  tried: SceneOut,
): Partial<Tried> {
  if (asked.turn !== state.turn) return {};
  const { operations, caught } = asked;
  // What was kept meanwhile is shown until it is stored, and no longer: nobody would take it away.
  const stands = state.revision === asked.revision;
  if (state.trying ? stands || asked.busy : stands && asked.busy)
    return { tried, triedFault: null, caught: state.trying ? caught : NONE_CAUGHT };
  // It stands on what was; what is tried still is asked for anew.
  return state.trying ? { wish: state.wish ?? { operations, caught } } : {};
}

/** Whether what is tried now cannot be: a fault of something typed before it says nothing, as long as it is being
 * asked. */
export function tryFails({ triedFault, asking, wish }: Tried): boolean {
  return triedFault !== null && !asking && !wish;
}
