import { type DragEvent, type PointerEvent, useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import { onFontsReady } from "../drawing/fonts";
import { onPictureReady } from "../drawing/pictures";
import { missing } from "../drawing/scene";
import { selectedThing, shownScene, useStore } from "../state/store";
import { apply, extent, inverse, type Matrix, pageTops, PX, type Point } from "./geometry";
import { dragging, drawing, type Gesture, sizing, type Spot, spotAt, turning } from "./hand";
import { pageMatrix, paint, readColors } from "./paint";
import { placePicture } from "./place";

/** Times in ms that painting took, for the speed measurement. */
const paintTimes: number[] = [];
(window as unknown as { nestPaint: number[] }).nestPaint = paintTimes;

/** The work area with the pages on it. */
export function Bench() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const area = useRef<HTMLDivElement>(null);
  const gesture = useRef<{ gesture: Gesture; from: Point } | null>(null);
  const panning = useRef<{ from: Point; x: number; y: number } | null>(null);
  const space = useRef(false);
  const [readout, setReadout] = useState<{ text: string; at: Point } | null>(null);
  const [cursor, setCursor] = useState("default");
  const hovered = useRef<string | null>(null);
  const frame = useRef(0);
  const id = useStore((s) => s.id);
  const tool = useStore((s) => s.tool);
  const clean = useStore((s) => s.clean);

  const draw = useCallback(() => {
    frame.current = 0;
    const scene = shownScene();
    const element = canvas.current;
    if (!scene || !element) return;
    const began = performance.now();
    const ratio = window.devicePixelRatio || 1;
    const { selected, slots, clean, view } = useStore.getState();
    missing.count = 0;
    const aids = { selected, hovered: hovered.current, slots, clean };
    paint(element.getContext("2d")!, [element.clientWidth, element.clientHeight], ratio, scene, view, aids, readColors());
    element.dataset.drawn = missing.count ? "waiting" : "whole";
    paintTimes.push(performance.now() - began);
    if (paintTimes.length > 2000) paintTimes.splice(0, 1000);
  }, []);

  const redraw = useCallback(() => {
    if (!frame.current) frame.current = requestAnimationFrame(draw);
  }, [draw]);

  useLayoutEffect(() => {
    const element = canvas.current!;
    const fit = () => {
      const ratio = window.devicePixelRatio || 1;
      element.width = Math.round(element.clientWidth * ratio);
      element.height = Math.round(element.clientHeight * ratio);
      draw();
    };
    const sizes = new ResizeObserver(fit);
    sizes.observe(element);
    const stops = [useStore.subscribe(redraw), onFontsReady(redraw), onPictureReady(redraw)];
    const scheme = matchMedia("(prefers-color-scheme: dark)");
    scheme.addEventListener("change", redraw);
    return () => {
      sizes.disconnect();
      stops.forEach((stop) => stop());
      scheme.removeEventListener("change", redraw);
    };
  }, [draw, redraw]);

  useEffect(() => {
    if (id !== null) showAll();
  }, [id]);

  const at = (event: { clientX: number; clientY: number }): Point => {
    const box = canvas.current!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };

  useEffect(() => {
    const element = canvas.current!;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const { view } = useStore.getState();
      if (event.ctrlKey || event.metaKey) zoomAt(at(event), Math.exp(-event.deltaY * (event.deltaMode ? 0.05 : 0.004)));
      else {
        const [dx, dy] = event.shiftKey && !event.deltaX ? [event.deltaY, 0] : [event.deltaX, event.deltaY];
        useStore.setState({ view: { ...view, x: view.x - dx, y: view.y - dy } });
      }
    };
    element.addEventListener("wheel", wheel, { passive: false });
    const keys = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).closest?.("input, textarea, [contenteditable]");
      if (event.code === "Space" && !typing && document.activeElement?.tagName !== "BUTTON") {
        space.current = event.type === "keydown";
        setCursor(space.current ? "grab" : "default");
        event.preventDefault();
      }
      if (event.type === "keydown" && event.key === "Escape" && gesture.current) {
        gesture.current.gesture.cancel();
        gesture.current = null;
        setReadout(null);
      }
    };
    addEventListener("keydown", keys);
    addEventListener("keyup", keys);
    return () => {
      element.removeEventListener("wheel", wheel);
      removeEventListener("keydown", keys);
      removeEventListener("keyup", keys);
    };
  }, []);

  const down = (event: PointerEvent) => {
    const here = at(event);
    const scene = shownScene();
    if (!scene) return;
    canvas.current!.focus();
    canvas.current!.setPointerCapture(event.pointerId);
    const { view, tool } = useStore.getState();
    if (event.button === 1 || space.current) {
      panning.current = { from: here, x: view.x, y: view.y };
      setCursor("grabbing");
      return;
    }
    if (event.button !== 0) return;
    const tops = pageTops(scene);
    if (tool.kind === "outline") {
      const page = pageUnder(here);
      const back = inverse(pageMatrix(view, tops[page]));
      gesture.current = { gesture: drawing(page, here, (p) => apply(back, p)), from: here };
      return;
    }
    const spot = spotAt(scene, here);
    if (spot.kind === "bench") {
      useStore.setState({ selected: null });
      return;
    }
    if (spot.kind === "object") useStore.setState({ selected: spot.id });
    const object = scene.objects[useStore.getState().selected!];
    const page = pageMatrix(view, tops[object.page]);
    gesture.current = { gesture: started(spot, object, page, here), from: here };
  };

  const started = (spot: Spot, object: NonNullable<ReturnType<typeof shownScene>>["objects"][string], page: Matrix, here: Point): Gesture => {
    if (spot.kind === "handle") return sizing(object, spot, here, page[0]);
    if (spot.kind === "turn") return turning(object, page, here);
    return dragging(object, here, page[0]);
  };

  const move = (event: PointerEvent) => {
    const here = at(event);
    const scene = shownScene();
    if (!scene) return;
    if (panning.current) {
      const { from, x, y } = panning.current;
      useStore.setState({ view: { ...useStore.getState().view, x: x + here[0] - from[0], y: y + here[1] - from[1] } });
      return;
    }
    const doing = gesture.current;
    if (doing) {
      if (Math.hypot(here[0] - doing.from[0], here[1] - doing.from[1]) < 2 && !doing.gesture.readout) return;
      doing.gesture.move(here, { shift: event.shiftKey, alt: event.altKey });
      setReadout(doing.gesture.readout ? { text: doing.gesture.readout, at: here } : null);
      return;
    }
    if (useStore.getState().tool.kind === "outline") return setCursor("crosshair");
    const spot = spotAt(scene, here);
    const over = spot.kind === "object" ? spot.id : null;
    if (over !== hovered.current) {
      hovered.current = over;
      redraw();
    }
    setCursor(space.current ? "grab" : cursorOf(spot, scene.objects[useStore.getState().selected ?? ""]?.turn ?? 0));
  };

  const up = () => {
    panning.current = null;
    gesture.current?.gesture.end();
    gesture.current = null;
    setReadout(null);
  };

  const drop = (event: DragEvent) => {
    event.preventDefault();
    for (const file of event.dataTransfer.files) if (file.type.startsWith("image/")) void placePicture(file, at(event));
  };

  return (
    <div ref={area} className="relative h-full min-w-0 overflow-hidden" onDragOver={(e) => e.preventDefault()} onDrop={drop}>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="application"
        aria-label="Bench: the pages. Arrow keys move the selected object."
        className="block h-full w-full touch-none outline-none"
        style={{ cursor: tool.kind === "outline" ? "crosshair" : cursor }}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        onDoubleClick={() => selectedThing() && useStore.setState({ galley: true, focusGalley: useStore.getState().focusGalley + 1 })}
      />
      {!clean && <LeftoverTags />}
      {readout && (
        <div className="card pointer-events-none absolute px-2 py-1 text-xs tabular-nums" style={{ left: readout.at[0] + 16, top: readout.at[1] + 18 }}>
          {readout.text}
        </div>
      )}
      {tool.kind === "outline" && (
        <p className="card absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm">
          Drag from one corner to the other. <span className="text-soft">Shift: equal sides · Alt: from the centre · Esc: leave it</span>
        </p>
      )}
    </div>
  );
}

/** The words left over, hung under their frame. */
function LeftoverTags() {
  useStore((s) => s.scene);
  useStore((s) => s.tried);
  const view = useStore((s) => s.view);
  const scene = shownScene();
  if (!scene) return null;
  const tops = pageTops(scene);
  return Object.values(scene.nests)
    .filter((nest) => nest.leftover > 0 && scene.objects[nest.id])
    .map((nest) => {
      const object = scene.objects[nest.id];
      const m = pageMatrix(view, tops[object.page]);
      const corners = [0, 1].flatMap((fx) => [0, 1].map((fy) => apply(m, apply(object.matrix, [fx * object.box[2], fy * object.box[3]]))));
      const left = (Math.min(...corners.map((c) => c[0])) + Math.max(...corners.map((c) => c[0]))) / 2;
      const top = Math.max(...corners.map((c) => c[1]));
      return (
        <button
          key={nest.id}
          className="absolute -translate-x-1/2 rounded-full bg-coral-wash px-2.5 py-0.5 text-xs font-bold whitespace-nowrap text-coral-text shadow-sm"
          style={{ left, top: top + 6 }}
          onClick={() => useStore.setState({ selected: nest.id, galley: true, focusGalley: useStore.getState().focusGalley + 1 })}
          title="Show them in the galley"
        >
          {nest.leftover} {nest.leftover === 1 ? "word" : "words"} left over
        </button>
      );
    });
}

function cursorOf(spot: Spot, turn: number): string {
  if (spot.kind === "turn") return "grab";
  if (spot.kind === "object") return "move";
  if (spot.kind !== "handle") return "default";
  const angle = (Math.atan2(spot.fy - 0.5, spot.fx - 0.5) * 180) / Math.PI + turn;
  return ["ew-resize", "nwse-resize", "ns-resize", "nesw-resize"][((Math.round(angle / 45) % 4) + 4) % 4];
}

function pageUnder(at: Point): number {
  const scene = shownScene()!;
  const { view } = useStore.getState();
  const y = (at[1] - view.y) / (view.scale * PX);
  const tops = pageTops(scene);
  let page = 0;
  tops.forEach((top, i) => {
    if (y >= top - 18) page = i;
  });
  return page;
}

export function zoomAt(at: Point, factor: number) {
  const { view } = useStore.getState();
  const scale = Math.min(40, Math.max(0.05, view.scale * factor));
  const real = scale / view.scale;
  useStore.setState({ view: { scale, x: at[0] - (at[0] - view.x) * real, y: at[1] - (at[1] - view.y) * real } });
}

function benchSize(): Point {
  const element = document.querySelector("canvas");
  return element ? [element.clientWidth, element.clientHeight] : [800, 600];
}

export function zoomBy(factor: number) {
  const [w, h] = benchSize();
  zoomAt([w / 2, h / 2], factor);
}

/** Fit the first page into the bench. */
export function showAll() {
  const scene = shownScene();
  if (!scene) return;
  const [w, h] = benchSize();
  const [, , right, bottom] = extent({ ...scene, pages: scene.pages.slice(0, 1) });
  const bleed = scene.pages[0].bleed;
  const scale = Math.min((w - 56) / (right + 2 * bleed), (h - 52) / (bottom + 2 * bleed)) / PX;
  useStore.setState({ view: { scale, x: (w - right * scale * PX) / 2, y: (h - bottom * scale * PX) / 2 } });
}

export function zoomTo(scale: number) {
  zoomBy(scale / useStore.getState().view.scale);
}

