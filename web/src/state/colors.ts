/** Colours as people write them, and what is told of one: its contrast. */

/** CSS's own names are not taken: a document's names are its own. */
const HEX = /^#?([0-9a-f]{3}|[0-9a-f]{6})$/i;

const hex = (parts: number[]) =>
  `#${parts
    .map((part) =>
      Math.round(Math.min(255, Math.max(0, part)))
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;

/** A colour from what is typed: hex, three figures of RGB, four of CMYK in per cent; null when it is none. CMYK becomes RGB by
 * the plain conversion of CSS Color 5 (device-cmyk): what is printed depends on paper and ink. */
export function typedColor(text: string): string | null {
  const said = text.trim().toLowerCase();
  const short = HEX.exec(said)?.[1];
  if (short) return `#${short.length === 3 ? [...short].map((c) => c + c).join("") : short}`;
  const figures = (said.match(/-?\d+(?:[.,]\d+)?\s*%?/g) ?? []).map((one) => ({
    value: Number.parseFloat(one.replace(",", ".")),
    share: one.includes("%"),
  }));
  const rest = said.replace(/-?\d+(?:[.,]\d+)?\s*%?/g, "").replace(/[\s,;/()]+/g, "");
  const values = figures.map((figure) => figure.value);
  if (figures.length === 3 && ["", "rgb"].includes(rest)) {
    const out = figures.map(({ value, share }) => (share ? value * 2.55 : value));
    return out.every((part) => part >= 0 && part <= 255) ? hex(out) : null;
  }
  if (figures.length === 4 && ["", "cmyk", "device-cmyk"].includes(rest) && values.every((v) => v >= 0 && v <= 100)) {
    const [c, m, y, k] = values.map((value) => value / 100);
    return hex([c, m, y].map((part) => 255 * (1 - Math.min(1, part * (1 - k) + k))));
  }
  return null;
}

/** Relative luminance, WCAG 2.2. */
function luminance(color: string): number {
  const parts = [1, 3, 5].map((at) => Number.parseInt(color.slice(at, at + 2), 16) / 255);
  const [r, g, b] = parts.map((part) => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4));
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

/** Contrast of two colours given as #rrggbb, WCAG 2.2: 1 to 21. */
export function contrast(a: string, b: string): number {
  const [low, high] = [luminance(a), luminance(b)].sort((x, y) => x - y);
  return (high + 0.05) / (low + 0.05);
}

/** How often each colour stands in a document, by its name or figure. */
export function colorsUsed(value: unknown, found = new Map<string, number>()): Map<string, number> {
  if (Array.isArray(value)) for (const one of value) colorsUsed(one, found);
  else if (value && typeof value === "object")
    for (const [key, one] of Object.entries(value))
      if ((key === "color" || key === "background") && typeof one === "string")
        found.set(one, (found.get(one) ?? 0) + 1);
      else colorsUsed(one, found);
  return found;
}
