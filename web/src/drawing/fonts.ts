/** Faces for the canvas: each font file under its own name, the same files that the engine shapes with. */
import { useStore } from "../state/store";

const asked = new Set<string>();
const ready = new Set<string>();
const waiting = new Set<() => void>();

export function onFontsReady(redraw: () => void): () => void {
  waiting.add(redraw);
  return () => waiting.delete(redraw);
}

/** A face with OpenType features is a font file of its own, in which they are always on. */
function named(key: string, features: string): string {
  return features ? `${key} ${features}` : key;
}

/** A variable face at a weight and a width: its file is that of the face in the list. */
const VARIED = /^(.+)-w(\d+)-d([\d.]+)$/;

/** Whether a face can be drawn with; asks for it when not. */
export function faceReady(face_: string, features = ""): boolean {
  const key = named(face_, features);
  if (ready.has(key)) return true;
  if (!asked.has(key)) {
    const [, base = face_, weight, width] = VARIED.exec(face_) ?? [];
    const face = useStore.getState().faces.find((f) => f.key === base);
    if (!face) return false;
    asked.add(key);
    const of = /document=\d+/.exec(face.url)?.[0] ?? "";
    const url = features ? `/api/fonts/${base}/file?features=${encodeURIComponent(features)}&${of}` : face.url;
    // A face that is said to have one weight and width is drawn at these, whatever is asked for (CSS Fonts 4, 2.5).
    const at =
      face.weights || face.widths ? { weight: weight ?? String(face.weight), stretch: `${width ?? 100}%` } : {};
    new FontFace(`nest ${key}`, `url(${url})`, at)
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

export function canvasFont(key: string, size: number, features = ""): string {
  return `${size}px "nest ${named(key, features)}"`;
}
