/** What opens the parts of the sentence. */

import { selectNothing } from "../state/choosing";
import { openPart } from "../state/viewing";
import type { Deed, Need } from "./deed";

/** Parts of the sentence: name, what it is called, everyday words, key, what it is for. */
const PARTS: [string, string, string, string, Need][] = [
  ["give", "Which edges give", "grow shrink auto size fit height width hug stretch to words", "R G", "frame"],
  ["padding", "Padding", "inset margin inside space within", "R P", "frame"],
  ["columns", "Columns", "gutter narrow slots arms", "R U", "frame"],
  ["sit", "Where lines sit", "vertical alignment middle centre top bottom height optically", "R S", "frame"],
  ["hang", "What the first line hangs from", "first line cap height top ascender", "R H", "frame"],
  ["stand", "What the last line stands on", "last line descender baseline bottom", "R T", "frame"],
  ["leftover", "What does not fit", "overflow too much text cut off ellipsis", "R L", "frame"],
  ["fit", "Type that follows the frame", "shrink text to fit scale size automatically", "", "frame"],
  ["setting", "Lines of a turned outline", "rotate level", "", "frame"],
  ["band", "The band each line needs", "line box letters height of a line", "", "frame"],
  ["chain", "Where the copy goes on", "link next frame flow continue chain", "R N", "frame"],
  ["tries", "Try it several ways", "compare variations alternatives side by side", "R V", "frame"],
  ["style", "Style", "paragraph look preset", "", "frame"],
  ["recipe", "Recipe", "preset reuse rules save template", "", "frame"],
  ["align", "Alignment", "left right centre justify ragged", "R A", "frame"],
  ["breaking", "Where lines end", "line breaks rag balance optimal keep words together", "R B", "frame"],
  ["hyphenate", "Hyphenation", "hyphens divide words syllables", "R Y", "frame"],
  ["end-here", "Make it end here", "last line copyfit shorten", "", "frame"],
  ["font", "Font", "typeface family weight", "", "frame"],
  ["size", "Size and leading", "type size line height spacing points", "R Z", "frame"],
  ["letters", "Letters", "tracking kerning capitals small caps figures underline", "", "frame"],
  ["versions", "Where its look counts", "only in this language version translation", "", "frame"],
  ["color", "Colour of the copy", "text color ink", "", "frame"],
  ["list", "What stands before each paragraph", "bullets numbers list", "", "frame"],
  ["opening", "How paragraphs open", "indent drop cap first line space before after keep", "", "frame"],
  ["language", "Language and direction", "right to left spelling", "", "frame"],
  ["outline", "Outline", "shape rounded round corners radius form", "R O", "object"],
  ["place", "Place, size and turn", "position width height rotate angle scale x y", "R X", "object"],
  ["wrap", "Wrap", "text wrap run around standing beside", "R W", "object"],
  ["clearance", "Clearance", "wrap offset distance standoff margin outside", "R C", "wrapping"],
  ["contour", "How the contour is found", "silhouette cut out trace edge threshold", "", "picture"],
  ["within", "The picture in its outline", "crop scale fill inside", "", "picture"],
  ["alt", "In words, for those who do not see it", "alt text description accessibility", "", "picture"],
  ["pushed", "Wraps of other objects", "ignore wrap", "", "frame"],
  ["fill", "Fill", "background color gradient tint opacity", "R F", "object"],
  ["stroke", "Stroke", "border line dashes dots width", "R K", "object"],
  ["paint", "Its paint", "hide print visible", "", "object"],
  ["ties", "What it is tied to", "pin constraint stick edge follow", "", "object"],
  ["anchor", "Where it belongs", "inline attach to words move with text", "", "object"],
  ["stack", "Before and behind", "order layer bring front send back", "", "object"],
  ["align-objects", "Bring level", "align objects left right top middle", "", "several"],
  ["distribute", "Equal gaps", "distribute spacing evenly", "", "several"],
  ["combine", "Combine outlines", "unite join subtract cut intersect", "", "several"],
  ["group-name", "Name of the group", "rename", "", "group"],
  ["pages", "Pages", "add delete order sheet list", "", "page"],
  ["page-size", "Size of the page", "format sheet document width height units", "", "page"],
  ["bleed", "Bleed", "trim print edge", "", "page"],
  ["margins", "Margins", "page border safe area", "", "page"],
  ["background", "Background", "paper color page", "", "page"],
  ["guides", "Guides", "rulers lines help", "", "page"],
  ["colors", "Colours of the document", "swatches palette", "", "page"],
  ["catching", "Catching", "snap snapping magnetic grid", "", "page"],
];

/** Speak of the page, then open a part of what is said of it. */
function ofThePage(name: string) {
  selectNothing();
  openPart(name);
}

export const RULE_DEEDS: Deed[] = PARTS.map(([part, name, also, keys, needs]): Deed => ({
  id: `rule ${part}`,
  name,
  head: needs === "page" ? "Page" : "Rules",
  also,
  keys: keys || undefined,
  needs: needs === "page" ? undefined : needs,
  run: () => (needs === "page" ? ofThePage(part) : openPart(part)),
}));
