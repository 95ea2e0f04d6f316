/** Why here: what put a line, a gap or a baseline where it is. */
import { useStore } from "../../state/store";
import { askWhy } from "../WhyHere";
import { Hint } from "./Hint";
import type { BenchTool } from "./tool";

export const why: BenchTool<"why"> = {
  down({ at }) {
    void askWhy(at, true);
    return "done";
  },
  over({ at }) {
    if (!useStore.getState().why?.pinned) void askWhy(at);
    return "help";
  },
  Hint: () => <Hint keys="Esc: done">Point at a line’s end, a gap or a baseline: what put it there lights up.</Hint>,
};
