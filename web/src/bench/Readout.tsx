import { create } from "zustand";
import { sentence } from "../state/sentence";
import { useStore } from "../state/store";
import type { Point } from "../state/geometry";

/** What the hand is doing, in figures, beside the pointer. A store of its own: the rest of the bench need not follow
 * each move. */
const useReadout = create<{ text: string; at: Point }>(() => ({ text: "", at: [0, 0] }));

export const setReadout = (said: { text: string; at: Point } | null) => useReadout.setState(said ?? { text: "" });

export function ReadoutCard() {
  const { text: said, at } = useReadout();
  const fault = useStore((s) => s.triedFault);
  // What cannot be done there is said where it is tried.
  const text = said && fault ? sentence(fault) : said;
  return text ? (
    <div
      className="card pointer-events-none absolute top-0 left-0 px-2 py-1 text-xs tabular-nums will-change-transform contain-content"
      style={{ transform: `translate(${at[0] + 16}px, ${at[1] + 18}px)` }}
    >
      {text}
    </div>
  ) : null;
}
