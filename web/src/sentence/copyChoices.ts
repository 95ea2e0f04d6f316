/** How copy breaks, ends and is aligned, as it is called. */

export const BREAKS = {
  optimal: ["weighed together", "Each line of a paragraph is weighed with all others."],
  "first-fit": ["filled one by one", "As full as each goes, the way a browser sets it."],
  balanced: ["of even length", "For headings, labels and quotes."],
  "by-sense": ["broken by sense", "Behind commas, before short words that lead on."],
  widening: ["each longer than the last", "For headings above copy."],
  tapering: ["each shorter than the last", "For headings that point down."],
} as const;

export const LASTS = [
  { value: "start", label: "left" },
  { value: "center", label: "centre" },
  { value: "end", label: "right" },
  { value: "justify", label: "filled" },
] as const;

export const ALIGNS = { start: "flush left", center: "centred", end: "flush right", justify: "justified" } as const;

export const ALIGNS_FROM_RIGHT = {
  start: "flush right",
  center: "centred",
  end: "flush left",
  justify: "justified",
} as const;

/** What a stretch of copy can have of its own. */
export const LETTERS = new Set([
  "font",
  "weight",
  "font_width",
  "slope",
  "size",
  "color",
  "tracking",
  "features",
  "underline",
  "letter_stroke",
]);
