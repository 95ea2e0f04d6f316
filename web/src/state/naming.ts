/** What the objects of the open document are called. */
import { labelAmong, type Thing } from "./document";
import { useStore } from "./store";

export function labelOf(thing: Thing): string {
  return labelAmong(useStore.getState().scene?.labels ?? {}, thing);
}
