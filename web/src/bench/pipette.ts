/** A colour taken from the bench: the pixel that is pressed next. */
import { useStore } from "../state/store";
import { say, hush, saidEnough } from "../state/viewing";

/** Ask for a pixel of the pages; null when Escape is pressed instead. What is open stays so. */
export function pixelPressed(): Promise<string | null> {
  const canvas = document.querySelector("canvas");
  if (!canvas) return Promise.resolve(null);
  const before = useStore.getState().quiet;
  hush(true);
  say("Press the colour on the page; Esc leaves it.");
  document.documentElement.classList.add("picks-a-pixel");
  return new Promise((done) => {
    let found: string | null = null;
    const end = () => {
      for (const kind of ["pointerdown", "pointerup", "mousedown", "mouseup", "click"])
        removeEventListener(kind, pressed, true);
      removeEventListener("keydown", keys, true);
      document.documentElement.classList.remove("picks-a-pixel");
      hush(before);
      saidEnough();
      done(found);
    };
    const pressed = (event: Event) => {
      event.preventDefault();
      event.stopImmediatePropagation();
      if (event.type === "pointerdown") {
        const { clientX, clientY } = event as PointerEvent;
        const box = canvas.getBoundingClientRect();
        const inside = clientX >= box.left && clientX < box.right && clientY >= box.top && clientY < box.bottom;
        const ratio = canvas.width / box.width;
        const at = [(clientX - box.left) * ratio, (clientY - box.top) * ratio].map(Math.floor);
        if (inside) {
          const [r, g, b] = canvas.getContext("2d")!.getImageData(at[0], at[1], 1, 1).data;
          found = `#${[r, g, b].map((part) => part.toString(16).padStart(2, "0")).join("")}`;
        }
      }
      if (event.type === "click") end();
    };
    const keys = (event: KeyboardEvent) => {
      if (event.key !== "Escape") return;
      event.preventDefault();
      event.stopImmediatePropagation();
      end();
    };
    for (const kind of ["pointerdown", "pointerup", "mousedown", "mouseup", "click"])
      addEventListener(kind, pressed, true);
    addEventListener("keydown", keys, true);
  });
}
