import { hush, see, explain } from "../state/viewing";
import { type PointerEvent, type ReactNode, useEffect, useLayoutEffect, useRef, useState } from "react";
import { wordOf } from "./words";
import { useStore } from "../state/store";
import { stopTrying } from "../state/trying";
import { chosenBox } from "./view";
import { type Box, placeBeside } from "./beside";

/** How long after the last step of a figure handles, slots and tags come back, in ms. */
const QUIET = 900;

/** What stands in a popover: its title, by which it is dragged, and what is made for that one rule. It puts the
 * popover beside what it changes, and lets it go when it is over. */
export function Panel({
  name,
  title,
  close,
  children,
}: {
  name: string;
  title: string;
  close: () => void;
  children: ReactNode;
}) {
  const here = useRef<HTMLDivElement>(null);
  const [kept, setKept] = useState(false);
  const word = wordOf(name);
  usePlace(here, name, kept);
  useQuiet();
  useEffect(() => (kept ? holdOpen(here.current!.parentElement!) : undefined), [kept]);
  const drag = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0 || (event.target as HTMLElement).closest("button")) return;
    const panel = here.current!.parentElement!;
    const [x, y] = [event.clientX - panel.offsetLeft, event.clientY - panel.offsetTop];
    const handle = event.currentTarget;
    handle.setPointerCapture(event.pointerId);
    const move = (to: globalThis.PointerEvent) => {
      setKept(true);
      const within = (value: number, most: number) => Math.max(4, Math.min(most, value));
      panel.style.left = `${within(to.clientX - x, window.innerWidth - 60)}px`;
      panel.style.top = `${within(to.clientY - y, window.innerHeight - 40)}px`;
    };
    handle.addEventListener("pointermove", move);
    handle.addEventListener("lostpointercapture", () => handle.removeEventListener("pointermove", move), {
      once: true,
    });
  };
  return (
    <div ref={here}>
      <div
        className="-mx-4 -mt-4 mb-2 flex cursor-grab touch-none items-center gap-2 px-4 pt-3 pb-1 select-none active:cursor-grabbing"
        title="Drag it aside: then it stays while you look"
        onPointerDown={drag}
      >
        <h3 className="flex-1 pr-24 font-bold">{title}</h3>
      </div>
      {children}
      {/* Behind what is changed, so that the keys come to this first. */}
      <div className="absolute top-2.5 right-3 flex gap-1">
        {word && (
          <button
            className="min-h-6 rounded-md px-1.5 text-xs text-slot-text hover:bg-inset"
            onClick={() => explain(word)}
          >
            what is “{word}”?
          </button>
        )}
        {kept && (
          <button className="min-h-6 rounded-md px-1.5 text-xs hover:bg-inset" onClick={close}>
            Close
          </button>
        )}
      </div>
      <Fault />
    </div>
  );
}

/** What the server says against what is being tried. */
function Fault() {
  const fault = useStore((s) => s.triedFault);
  return fault ? (
    <p role="alert" className="mt-2 text-xs text-coral-text">
      {fault}
    </p>
  ) : null;
}

const boxOf = (element: Element): Box => {
  const { left, top, right, bottom } = element.getBoundingClientRect();
  return { left, top, right, bottom };
};

/** Put the popover where it covers nothing that it changes; its foot stays when it grows. */
function usePlace(here: React.RefObject<HTMLDivElement | null>, name: string, kept: boolean) {
  const dragged = useRef(false);
  useEffect(() => {
    dragged.current = kept;
  }, [kept]);
  useLayoutEffect(() => {
    const panel = here.current!.parentElement!;
    const canvas = document.querySelector("canvas");
    const part = [...document.querySelectorAll(`[data-part="${name}"]`)].find((one) => one.hasAttribute("data-open"));
    if (!canvas || !part) return;
    const size = (): [number, number] => [panel.offsetWidth, panel.offsetHeight];
    const bench = boxOf(canvas);
    // It ends above the sentence, however much is in it; in a low window it may cover that.
    panel.style.maxHeight = `${Math.max(280, bench.bottom - 18)}px`;
    const rects = part.getClientRects();
    const stand = placeBeside(size(), rects[0] ?? boxOf(part), bench, chosenBox(bench), [
      window.innerWidth,
      window.innerHeight,
    ]);
    panel.style.left = `${stand.left}px`;
    panel.style.top = `${stand.top}px`;
    const before = useStore.getState().view;
    const aside = { ...before, x: before.x + stand.aside };
    if (stand.aside) see(aside);
    // What is in it may become more, or less.
    const foot = stand.top + panel.offsetHeight;
    const sizes = new ResizeObserver(() => {
      if (!dragged.current)
        panel.style.top = `${Math.max(8, Math.min(foot, window.innerHeight - 8) - panel.offsetHeight)}px`;
    });
    sizes.observe(panel);
    return () => {
      sizes.disconnect();
      if (stand.aside && useStore.getState().view === aside) see(before);
    };
  }, [here, name]);
}

/** While something is being tried, handles, slots and tags are out of the way; when it is over, so is what was
 * tried. */
function useQuiet() {
  useEffect(() => {
    let timer = 0;
    const loud = () => hush(false);
    const stop = useStore.subscribe((now, before) => {
      if (now.tried === before.tried || !now.tried) return;
      clearTimeout(timer);
      timer = window.setTimeout(loud, QUIET);
      hush(true);
    });
    return () => {
      stop();
      clearTimeout(timer);
      loud();
      stopTrying();
    };
  }, []);
}

/** A popover that was dragged aside stays when the bench is pressed, and keeps the keys: the bench leaves them
 * to it. */
function holdOpen(panel: HTMLElement): () => void {
  panel.dataset.kept = "";
  const pressed = (event: Event) => {
    if (event.target instanceof HTMLCanvasElement) event.preventDefault(); // a press that is dealt with closes nothing
  };
  addEventListener("pointerup", pressed, true);
  return () => removeEventListener("pointerup", pressed, true);
}
