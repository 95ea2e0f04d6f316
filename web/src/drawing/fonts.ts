/** Faces for the canvas: each font file under its own name, the same files that the engine shapes with. */
import { useStore } from "../state/store";

const asked = new Set<string>();
const ready = new Set<string>();
const waiting = new Set<() => void>();

export function onFontsReady(redraw: () => void): () => void {
  waiting.add(redraw);
  return () => waiting.delete(redraw);
}

/** Whether a face can be drawn with; asks for it when not. */
export function faceReady(key: string): boolean {
  if (ready.has(key)) return true;
  if (!asked.has(key)) {
    const face = useStore.getState().faces.find((f) => f.key === key);
    if (!face) return false;
    asked.add(key);
    new FontFace(`nest ${key}`, `url(${face.url})`)
      .load()
      .then((loaded) => {
        document.fonts.add(loaded);
        ready.add(key);
        waiting.forEach((redraw) => redraw());
      })
      .catch(() => asked.delete(key));
  }
  return false;
}

export function canvasFont(key: string, size: number): string {
  return `${size}px "nest ${key}"`;
}
