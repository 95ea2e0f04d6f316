/** How near a pointer must come to what it is to meet, in CSS px: a finger less than a mouse, so that handles are met
 * within 20 px round. */
import { useStore } from "../state/store";

/** A mouse's reach, as what points now has it. */
export function met(reach: number): number {
  return useStore.getState().finger ? reach * 2.4 : reach;
}
