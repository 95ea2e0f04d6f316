/** How many lines the sentence takes at most, and how high it is then, in px. */
export const LINES = 4;
/** Sizes of its type, from which the first is taken that does with so many lines, each with its leading. */
export const SIZES = [
  [16, 24],
  [15, 23],
  [14, 22],
] as const;
const AROUND = 13;
export const SENTENCE = LINES * SIZES[0][1] + AROUND;
