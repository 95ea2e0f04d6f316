/** Where a popover stands: above the sentence, beside what it changes, so that this stays seen. */
export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Room between a popover and what it stands beside, in CSS px. */
const GAP = 14;
const EDGE = 10;

const clamp = (value: number, low: number, high: number) => Math.max(low, Math.min(high, value));

/** How much of a box another covers, as an area. */
function covered(a: Box, b: Box): number {
  return (
    Math.max(0, Math.min(a.right, b.right) - Math.max(a.left, b.left)) *
    Math.max(0, Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top))
  );
}

export interface Stand {
  left: number;
  top: number;
  /** How far the pages move aside, in CSS px. */
  aside: number;
}

/** A place for a popover of a size: with its foot above the sentence, as near to its part as it goes without covering
 * what is chosen. Where there is no such place, the pages move aside as far as it takes; where that does not help, it
 * covers as little as it can. */
export function placeBeside(
  size: [number, number],
  part: Box,
  bench: Box,
  chosen: Box | null,
  window: [number, number],
): Stand {
  const [width, height] = size;
  const top = clamp(bench.bottom - height - 8, EDGE, Math.max(EDGE, window[1] - height - EDGE));
  const furthest = window[0] - width - EDGE;
  const at = (left: number): Box => ({ left, top, right: left + width, bottom: top + height });
  const own = clamp(part.left, EDGE, furthest);
  // Over the bench rather than over the galley or the tally.
  const within = clamp(
    part.left,
    bench.left + 8,
    Math.max(bench.left + 8, Math.min(bench.right - 8 - width, furthest)),
  );
  for (const left of [within, own])
    if (left <= furthest && !(chosen && covered(at(left), grown(chosen)))) return { left, top, aside: 0 };
  if (!chosen) return { left: own, top, aside: 0 };
  const beside = [chosen.right + GAP, chosen.left - GAP - width]
    .filter((left) => left >= EDGE && left <= furthest)
    .sort((a, b) => Math.abs(a - own) - Math.abs(b - own));
  if (beside.length) return { left: beside[0], top, aside: 0 };
  // The pages go to the side on which there is more room.
  const wide = chosen.right - chosen.left;
  if (wide + width + GAP <= bench.right - bench.left) {
    const [left, right] = [bench.left + 8, bench.right - 8 - width];
    const toRight = left + width + GAP - chosen.left;
    const toLeft = right - GAP - chosen.right;
    return Math.abs(toRight) <= Math.abs(toLeft) ? { left, top, aside: toRight } : { left: right, top, aside: toLeft };
  }
  const least = [EDGE, own, furthest].sort((a, b) => covered(at(a), chosen) - covered(at(b), chosen))[0];
  return { left: least, top, aside: 0 };
}

function grown({ left, top, right, bottom }: Box): Box {
  return { left: left - 4, top: top - 4, right: right + 4, bottom: bottom + 4 };
}
