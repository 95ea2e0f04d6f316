/** Lengths as the core reads them: what is typed is read there, never here. */
import { useEffect, useState } from "react";
import type { Length } from "./document";
import { post, type Schemas } from "../api/client";

const known = new Map<string, number | null>();

/** What a length comes to in points, an em being `em` points; null while it is read, or when it is none. */
export function usePoints(length: Length | null | undefined, em: number): number | null {
  const text = String(length ?? "0");
  const key = `${text} ${em}`;
  const [, read] = useState(0);
  useEffect(() => {
    if (known.has(key)) return;
    let current = true;
    post<Schemas["LengthsOut"]>("/api/lengths", { texts: [text], em })
      .then(({ points }) => {
        known.set(key, points[0] ?? null);
        if (current) read((n) => n + 1);
      })
      .catch(() => undefined);
    return () => {
      current = false;
    };
  }, [key, text, em]);
  return typeof length === "number" ? length : (known.get(key) ?? null);
}
