import { pointsWith, see, seeAside, hover } from "../state/viewing";
import { HAND } from "../state/model/chosen";
import {
  type DragEvent,
  type KeyboardEvent as ReactKeyboardEvent,
  type MouseEvent as ReactMouseEvent,
  type PointerEvent,
  useCallback,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from "react";

import { onFontsReady } from "../drawing/fonts";
import { onPictureReady } from "../drawing/pictures";
import { missing } from "../drawing/scene";
import { caretGone, select, putDown, settle, speakOf, speakOfAllCopy } from "../state/choosing";
import { shownScene, useStore } from "../state/store";
import type { Point } from "../state/geometry";
import type { Gesture, Keys } from "./gesture";
import { openMenu, menuOfChosen } from "../parts/menu";
import { linking, objectsAt, pageAt } from "./hand";
import { marksNow } from "./marking";
import { OthersChosen } from "./OthersChosen";
import { readColors } from "./aids";
import { paint } from "./paint";
import { FindingMarks } from "./FindingMarks";
import { bringFile, intoSaid, placeFromShelf, SHELF } from "./place";
import { PageStrip } from "./PageStrip";
import { EndTag, type GoOn, LeftoverTags, mayGoOn } from "./Tags";
import { toolOf } from "./tools";
import { guideAt } from "./rulers";
import { type Begun, type Box, matrixOf, type Pointed } from "./tools/tool";
import { keepInView, showAll, showAsBefore, zoomAt } from "../parts/view";
import { WhyCard } from "./WhyHere";
import { ReadoutCard, setReadout } from "./Readout";
import { CleanHint } from "./CleanHint";

/** Times in ms that painting took, for the speed measurement. */
const paintTimes: number[] = [];
(window as unknown as { nestPaint: number[] }).nestPaint = paintTimes;

/** Whether a popover stands beside the work that was dragged there: it keeps the keys. */
const keptOpen = () => document.querySelector("[data-kept]") !== null;

/** The work area with the pages on it. */
export function Bench() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const area = useRef<HTMLDivElement>(null);
  const gesture = useRef<{ gesture: Gesture; from: Point } | null>(null);
  const panning = useRef<{ from: Point; x: number; y: number } | null>(null);
  const space = useRef(false);
  const [cursor, setCursor] = useState("default");
  const blink = useRef(true);
  const touches = useRef(new Map<number, Point>());
  const pinch = useRef<{ far: number; middle: Point } | null>(null);
  const [box, setBox] = useState<Box | null>(null);
  const boxing = useRef<Box | null>(null);
  const frame = useRef(0);
  const id = useStore((s) => s.id);
  const tool = useStore((s) => s.tool);
  const clean = useStore((s) => s.clean);
  const quiet = useStore((s) => s.quiet);

  const draw = useCallback(() => {
    frame.current = 0;
    const scene = shownScene();
    const element = canvas.current;
    if (!scene || !element) return;
    const began = performance.now();
    const ratio = window.devicePixelRatio || 1;
    const { selected, others, caught, caret, stretches, points, draft, tool, slots, clean, view } = useStore.getState();
    missing.count = 0;
    const aids = {
      selected,
      others,
      caught,
      caret,
      stretches,
      blink: blink.current,
      unit: useStore.getState().document?.unit ?? "mm",
      points: tool.kind === "points" ? points : null,
      draft,
      pen: useStore.getState().pen,
      hovered: useStore.getState().hovered,
      marks: tool.kind === "subject" ? marksNow() : null,
      why: useStore.getState().why,
      slots,
      clean,
      quiet: useStore.getState().quiet,
    };
    paint(
      element.getContext("2d", { alpha: false })!,
      [element.clientWidth, element.clientHeight],
      ratio,
      scene,
      view,
      aids,
      readColors(),
    );
    element.dataset.drawn = missing.count ? "waiting" : "whole";
    paintTimes.push(performance.now() - began);
    if (paintTimes.length > 2000) paintTimes.splice(0, 1000);
  }, []);

  const redraw = useCallback(() => {
    if (!frame.current) frame.current = requestAnimationFrame(draw);
  }, [draw]);

  useLayoutEffect(() => {
    const element = canvas.current!;
    let size: Point | null = null;
    let framed: Point = [window.innerWidth, window.innerHeight];
    const fit = () => {
      const ratio = window.devicePixelRatio || 1;
      const now: Point = [element.clientWidth, element.clientHeight];
      const around: Point = [window.innerWidth, window.innerHeight];
      if (size && (size[0] !== now[0] || size[1] !== now[1])) {
        keepInView(size, now, around[0] === framed[0] && around[1] === framed[1]);
        framed = around;
      }
      size = now;
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
    if (id !== null) showAsBefore(id);
  }, [id]);

  // The clean view fits the page, or the pages that lie open, in the middle; what was seen before comes back after it.
  const before = useRef<{ scale: number; x: number; y: number } | null>(null);
  useLayoutEffect(() => {
    if (clean) {
      before.current = useStore.getState().view;
      showAll();
    } else if (before.current) {
      see(before.current);
      before.current = null;
    }
  }, [clean]);

  // The caret blinks, and shows at once where it goes.
  const caret = useStore((s) => s.caret);
  useEffect(() => {
    blink.current = true;
    redraw();
    if (!caret) return;
    const timer = setInterval(() => {
      blink.current = !blink.current;
      redraw();
    }, 530);
    return () => clearInterval(timer);
  }, [caret, redraw]);

  const at = (event: { clientX: number; clientY: number }): Point => {
    const box = canvas.current!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };

  useEffect(() => {
    const element = canvas.current!;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      if (event.ctrlKey || event.metaKey) zoomAt(at(event), Math.exp(-event.deltaY * (event.deltaMode ? 0.05 : 0.004)));
      else {
        const [dx, dy] = event.shiftKey && !event.deltaX ? [event.deltaY, 0] : [event.deltaX, event.deltaY];
        seeAside(-dx, -dy);
      }
    };
    element.addEventListener("wheel", wheel, { passive: false });
    /** What is drawn or pointed at takes its keys first, also with a button in focus that has just been pressed for
     * it. */
    const taken = (event: KeyboardEvent) => {
      const elsewhere = (event.target as HTMLElement).closest?.("[role=dialog], [role=menu], .card, [data-sentence]");
      return !elsewhere && !gesture.current && toolOf(useStore.getState().tool).key?.(event.key, event);
    };
    const keys = (event: KeyboardEvent) => {
      const typing = (event.target as HTMLElement).closest?.("input, textarea, [contenteditable]");
      // The space bar takes hold of the bench, unless it works what the focus is on (words of the sentence are no
      // BUTTON).
      const operable = (event.target as HTMLElement).closest?.("button, a, [role]:not([role=application])");
      if (event.type === "keydown" && !typing && taken(event)) {
        event.preventDefault();
        event.stopImmediatePropagation();
        return;
      }
      if (event.code === "Space" && (event.type === "keydown" ? !typing && !operable : space.current)) {
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
    // Before the shortcuts: what is drawn or pointed at takes its keys first.
    addEventListener("keydown", keys, true);
    addEventListener("keyup", keys, true);
    return () => {
      element.removeEventListener("wheel", wheel);
      removeEventListener("keydown", keys, true);
      removeEventListener("keyup", keys, true);
    };
  }, []);

  /** Two fingers move and enlarge the bench; what one of them had begun is taken back. */
  const beginPinch = () => {
    clearTimeout(long.current);
    gesture.current?.gesture.cancel();
    gesture.current = panning.current = boxing.current = null;
    setBox(null);
    setReadout(null);
    const [a, b] = [...touches.current.values()];
    pinch.current = { far: Math.hypot(a[0] - b[0], a[1] - b[1]), middle: [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2] };
  };

  const movePinch = () => {
    const [a, b] = [...touches.current.values()];
    if (!pinch.current || !b) return;
    const far = Math.hypot(a[0] - b[0], a[1] - b[1]);
    const middle: Point = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
    seeAside(middle[0] - pinch.current.middle[0], middle[1] - pinch.current.middle[1]);
    zoomAt(middle, far / Math.max(pinch.current.far, 1));
    pinch.current = { far, middle };
  };

  const pointed = (event: { clientX: number; clientY: number; timeStamp: number } & Modified): Pointed | null => {
    const scene = shownScene();
    return scene && { scene, at: at(event), when: event.timeStamp, keys: keysOf(event), redraw };
  };

  /** What can be done with what lies there. */
  const askMenu = (at: Point, here: Point | null) => {
    const scene = shownScene();
    if (!scene || clean) return;
    const { tool, selected, others } = useStore.getState();
    if (!here) return menuOfChosen(at);
    if (tool.kind === "copy") return openMenu({ kind: "words", at });
    const page = pageAt(scene, here);
    const guide = guideAt(scene, page, matrixOf(scene, page), here);
    if (guide && guide.index !== null)
      return openMenu({
        kind: "guide",
        at,
        page,
        axis: guide.axis,
        place: scene.pages[page].guides[guide.axis][guide.index],
      });
    const [id] = objectsAt(here);
    if (id && id !== selected && !others.includes(id)) select(id);
    if (!id) {
      select(null);
      speakOf(page);
    }
    menuOfChosen(at, here);
  };

  const menuByKey = useRef(false);
  const openedByKey = (event: ReactKeyboardEvent) => {
    menuByKey.current = event.key === "ContextMenu" || (event.key === "F10" && event.shiftKey);
  };
  const menu = (event: ReactMouseEvent) => {
    event.preventDefault();
    if (!menuByKey.current) return askMenu([event.clientX, event.clientY], at(event));
    menuByKey.current = false;
    const box = canvas.current!.getBoundingClientRect();
    askMenu([box.left + box.width / 2, box.top + box.height / 3], null);
  };

  /** A finger that stays where it is asks for the menu; so does a mouse, where objects lie over one another. */
  const long = useRef(0);
  const pressed = useRef<Point>([0, 0]);
  const pressLong = (event: PointerEvent, wait: number) => {
    const [there, here]: [Point, Point] = [[event.clientX, event.clientY], at(event)];
    clearTimeout(long.current);
    pressed.current = here;
    long.current = window.setTimeout(() => {
      gesture.current?.gesture.cancel();
      gesture.current = boxing.current = null;
      setBox(null);
      touches.current.clear();
      askMenu(there, here);
    }, wait);
  };

  const begin = (begun: Begun, from: Pointed) => {
    if (begun === "box") boxing.current = { from: from.at, to: from.at, adding: from.keys.shift };
    else if (typeof begun === "object") gesture.current = { gesture: begun, from: from.at };
  };

  const down = (event: PointerEvent) => {
    const here = pointed(event);
    if (!here) return;
    const { view, tool: inHand } = useStore.getState();
    const tool = toolOf(inHand);
    const plain = event.button === 0 && !space.current;
    canvas.current!.setPointerCapture(event.pointerId);
    pointsWith(event.pointerType === "touch");
    settle();
    const finger = event.pointerType === "touch";
    if (finger) touches.current.set(event.pointerId, here.at);
    if (touches.current.size > 1) return beginPinch();
    if (tool.rests && (finger || (event.button === 0 && objectsAt(here.at).length > 1)))
      pressLong(event, finger ? 600 : 900);
    if (plain && tool.writes) {
      const begun = tool.down(here, inHand);
      if (begun !== "hand") {
        event.preventDefault(); // the keyboard stays with the copy
        return begin(begun, here);
      }
      putDown();
    }
    if (event.button === 1 || space.current) {
      // What is moved to be looked at leaves the keys, and what is open, where they are.
      event.preventDefault();
      addEventListener("pointerup", (over) => over.preventDefault(), { capture: true, once: true });
      panning.current = { from: here.at, x: view.x, y: view.y };
      setCursor("grabbing");
      return;
    }
    if (!keptOpen()) canvas.current!.focus();
    caretGone(true); // a press on the bench gives it the keys, and speaks of all copy again
    speakOfAllCopy();
    if (!plain) return;
    const now = useStore.getState().tool;
    let begun = toolOf(now).down(here, now);
    if (begun === "hand") {
      putDown();
      begun = toolOf(HAND).down(here, HAND);
    }
    if (now.kind === "line") event.preventDefault(); // its caret comes with the line
    begin(begun, here);
  };

  const move = (event: PointerEvent) => {
    const here = pointed(event);
    if (!here) return;
    if (event.pointerType === "touch" && touches.current.has(event.pointerId)) {
      touches.current.set(event.pointerId, here.at);
      if (pinch.current) return movePinch();
    }
    const [px, py] = here.at;
    if (Math.hypot(px - pressed.current[0], py - pressed.current[1]) > 8) clearTimeout(long.current);
    if (panning.current) {
      const { from, x, y } = panning.current;
      see({ ...useStore.getState().view, x: x + px - from[0], y: y + py - from[1] });
      return;
    }
    const doing = gesture.current;
    if (doing) {
      if (Math.hypot(px - doing.from[0], py - doing.from[1]) < 2 && !doing.gesture.readout) return;
      doing.gesture.move(here.at, here.keys);
      setReadout(doing.gesture.readout ? { text: doing.gesture.readout, at: here.at } : null);
      return;
    }
    if (boxing.current) {
      boxing.current = { ...boxing.current, to: here.at };
      setBox(boxing.current);
      return;
    }
    const over = toolOf(useStore.getState().tool).over?.(here) ?? "default";
    setCursor(space.current ? "grab" : over);
  };

  const up = (event: PointerEvent) => {
    clearTimeout(long.current);
    touches.current.delete(event.pointerId);
    if (pinch.current) {
      // The finger that is left does nothing until it is lifted.
      if (touches.current.size === 0) pinch.current = null;
      return;
    }
    panning.current = null;
    const scene = shownScene();
    if (boxing.current && scene) toolOf(useStore.getState().tool).boxed?.(boxing.current, scene);
    boxing.current = null;
    setBox(null);
    gesture.current?.gesture.end();
    gesture.current = null;
    setReadout(null);
  };

  const goOn: GoOn = (event, frame) => {
    const scene = shownScene();
    const object = scene?.objects[frame];
    if (!scene || !object || !mayGoOn(frame)) return;
    event.preventDefault();
    canvas.current!.setPointerCapture(event.pointerId);
    gesture.current = { gesture: linking(scene, object), from: at(event) };
  };

  /** What is dragged in says where it would go. */
  const dragOver = (event: DragEvent) => {
    event.preventDefault();
    const text = event.dataTransfer.items[0]?.type.startsWith("text/");
    const into = intoSaid(at(event), event.dataTransfer.types.includes(SHELF) || !text);
    hover(into?.id ?? null);
    redraw();
    setReadout(into ? { text: into.said, at: at(event) } : null);
  };
  const dragEnds = () => {
    hover(null);
    redraw();
    setReadout(null);
  };

  const drop = (event: DragEvent) => {
    event.preventDefault();
    dragEnds();
    const scene = shownScene();
    if (scene) speakOf(pageAt(scene, at(event)));
    const shelved = event.dataTransfer.getData(SHELF);
    if (shelved) return void placeFromShelf(shelved, at(event));
    for (const file of event.dataTransfer.files) void bringFile(file, at(event));
  };

  const { cursor: always, Hint } = toolOf(tool);
  return (
    <div
      ref={area}
      className="relative h-full min-w-0 overflow-hidden"
      onDragOver={dragOver}
      onDragLeave={dragEnds}
      onDrop={drop}
    >
      <canvas
        ref={canvas}
        tabIndex={0}
        role="application"
        data-clean={clean ? "" : undefined}
        aria-label="Bench: the pages. Arrow keys move the selected object."
        className="block h-full w-full touch-none outline-none"
        style={{ cursor: always ?? cursor }}
        onContextMenu={menu}
        onKeyDown={openedByKey}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        onMouseDown={(event) => (toolOf(useStore.getState().tool).writes || keptOpen()) && event.preventDefault()}
        onClick={(event) => {
          const here = pointed(event);
          if (here && event.detail > 1) toolOf(tool).clicked?.(here, event.detail);
        }}
      />
      {!clean && <OthersChosen />}
      {!clean && (
        <div className={`transition-opacity duration-100 ${quiet ? "pointer-events-none opacity-0" : ""}`}>
          <LeftoverTags goOn={goOn} />
          <EndTag goOn={goOn} />
        </div>
      )}
      <FindingMarks />
      <WhyCard />
      <ReadoutCard />
      {box && (
        <div
          className="pointer-events-none absolute border border-slot bg-slot/10"
          style={{
            left: Math.min(box.from[0], box.to[0]),
            top: Math.min(box.from[1], box.to[1]),
            width: Math.abs(box.to[0] - box.from[0]),
            height: Math.abs(box.to[1] - box.from[1]),
          }}
        />
      )}
      {!clean && !Hint && <PageStrip />}
      {clean ? <CleanHint /> : Hint && <Hint now={tool} />}
    </div>
  );
}

interface Modified {
  shiftKey: boolean;
  altKey: boolean;
  ctrlKey: boolean;
  metaKey: boolean;
}

function keysOf(event: Modified): Keys {
  return { shift: event.shiftKey, alt: event.altKey, command: event.ctrlKey || event.metaKey };
}
