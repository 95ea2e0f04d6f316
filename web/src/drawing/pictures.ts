/** Pictures for the canvas, loaded once and drawn from a copy of about the size they are seen at. */
import { useStore } from "../state/store";

const images = new Map<string, HTMLImageElement | null>();
const waiting = new Set<() => void>();

export function onPictureReady(redraw: () => void): () => void {
  waiting.add(redraw);
  return () => waiting.delete(redraw);
}

export const pictures = {
  get(file: string): HTMLImageElement | null {
    const known = images.get(file);
    if (known !== undefined) return known;
    const url = useStore.getState().pictures[file];
    if (!url) return null;
    images.set(file, null);
    const image = new Image();
    image.onload = () => {
      images.set(file, image);
      waiting.forEach((redraw) => redraw());
    };
    image.onerror = () => images.delete(file);
    image.src = url;
    return null;
  },
};
