/** The words that a newcomer may ask for, and which part of the sentence speaks of which. */

export const WORDS: { word: string; said: string; parts: string[] }[] = [
  {
    word: "outline",
    said: "The closed path that every object has: a ready kind such as an ellipse, or drawn freely.",
    parts: ["outline", "combine"],
  },
  { word: "frame", said: "An outline that has been given copy.", parts: [] },
  {
    word: "copy",
    said: "The words of one frame, or of several that it runs through, with their formatting.",
    parts: [],
  },
  { word: "padding", said: "Room between an outline and its copy, inside the frame.", parts: ["padding"] },
  {
    word: "slot",
    said: "A stretch of a line where letters may stand: inside the padded outline, outside every wrap. The hairlines of a chosen frame are its slots.",
    parts: ["columns", "setting"],
  },
  {
    word: "give",
    said: "An edge gives when it moves as the copy changes, so that the frame is always as large as its words. An edge that does not give holds.",
    parts: ["give"],
  },
  {
    word: "sit",
    said: "Where the lines are in the frame’s height: at the top, in the middle, at the bottom, or leaded out to fill it.",
    parts: ["sit"],
  },
  {
    word: "hang",
    said: "What of the first line touches the top: its cap height, its x-height, its ascenders, its baseline, or the room of its line.",
    parts: ["hang"],
  },
  {
    word: "stand",
    said: "What of the last line touches the bottom: its baseline, its descenders, or the room of its line.",
    parts: ["stand"],
  },
  {
    word: "wrap",
    said: "How an object keeps other copy away from itself: by its box, its outline, or the contour of its picture.",
    parts: ["wrap", "pushed"],
  },
  {
    word: "clearance",
    said: "How far copy stays away from an object that it runs round. It lies outside; padding lies inside.",
    parts: ["clearance"],
  },
  {
    word: "contour",
    said: "The edge of what a picture shows, found on its background or drawn by hand.",
    parts: ["contour", "within"],
  },
  {
    word: "leftover",
    said: "Words that found no slot. They are shown below the frame, and the tag there mends it.",
    parts: ["leftover", "fit"],
  },
  { word: "tie", said: "An edge, a width or a baseline bound to another object’s, at a distance.", parts: ["ties"] },
  {
    word: "anchor",
    said: "The place in the copy that an object belongs to. It stands in the line, beside it, or in the frame’s middle, and goes along with the words.",
    parts: ["anchor"],
  },
  {
    word: "chain",
    said: "Frames that share one copy, in order: what does not fit one goes on in the next.",
    parts: ["chain"],
  },
  {
    word: "recipe",
    said: "Rules with a name. Frames that follow it change with it.",
    parts: ["recipe"],
  },
  {
    word: "tries",
    said: "The same frame set several ways, side by side, to choose from.",
    parts: ["tries", "end-here", "breaking"],
  },
];

/** The word that a part of the sentence is about. */
export function wordOf(part: string): string | null {
  return WORDS.find(({ parts }) => parts.includes(part))?.word ?? null;
}
