/** Ids for new objects. */
import { fresh, thingsOf } from "./document";
import { useStore } from "./store";
import { WINDOW } from "./window";

/** What this window has given: an object of that id may be on its way. */
const handedOut: string[] = [];

/** Ids for new objects: none that is taken, nor one of an object that is on its way, nor one that another window
 * gives. */
export function freshIds(count: number): string[] {
  const taken = thingsOf(useStore.getState().document!).map((t) => t.id);
  const out: string[] = [];
  for (let n = 0; n < count; n++) out.push(fresh([...taken, ...handedOut, ...out], `o${WINDOW.slice(0, 4)}_`));
  handedOut.push(...out);
  return out;
}
