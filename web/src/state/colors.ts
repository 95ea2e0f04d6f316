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
