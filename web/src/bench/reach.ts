/** How near a pointer must come to what it is to meet, in CSS px: a finger less than a mouse, so that handles are met within 20 px round. */
let coarse = 1;

export function pointsCoarsely(finger: boolean) {
  coarse = finger ? 2.4 : 1;
}

/** A mouse's reach, as what points now has it. */
export function met(reach: number): number {
  return reach * coarse;
}
