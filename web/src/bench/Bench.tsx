import { type DragEvent, type PointerEvent, useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import { create } from "zustand";
import { onFontsReady } from "../drawing/fonts";
import { onPictureReady } from "../drawing/pictures";
import { missing } from "../drawing/scene";
import { groupAround, labelOf, leaderOf, leavesOf, thingsOf } from "../state/document";
import type { NestScene, Operation } from "../api/client";
import { leftoverSaid } from "../tally/leftover";
import {
  beginCopy,
  caretGone,
  keepTried,
  putCaret,
  ruled,
  select,
  selectAll,
  selectedThing,
  selection,
  shownScene,
  stopTrying,
  tryOut,
  useStore,
} from "../state/store";
import { indexAt, lineStep } from "./caret";
import { apply, extentOf, inverse, type Matrix, pagePlaces, PX, type Point } from "../drawing/geometry";
import {
  dragging,
  drawing,
  linking,
  pageAt,
  makingLine,
  movingInLine,
  movingPicture,
  movingPivot,
  tying,
  sizing,
  type Spot,
  spotAt,
  turning,
} from "./hand";
import type { Gesture, Keys } from "./gesture";
import {
  addPoint,
  bendLast,
  closes,
  deletePoints,
  drawnAt,
  finishDraft,
  isChosen,
  movingHandle,
  movingPoints,
  POINT_KINDS,
  pointSpotAt,
  putKnot,
  setPointKind,
  sayIfItBecomesAPath,
  takeBack,
} from "./pointing";
import { knotsOf } from "./knots";
import { marking, marksNow } from "./marking";
import { draggingGuide, guideAt } from "./rulers";
import { askWhy, WhyCard } from "./WhyHere";
import { OthersChosen } from "./OthersChosen";
import { pageMatrix, paint, readColors } from "./paint";
import { bringFile, placeFromShelf, SHELF } from "./place";

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
  const [cursor, setCursor] = useState("default");
  const hovered = useRef<string | null>(null);
  const pen = useRef<Point | null>(null);
  const blink = useRef(true);
  const writing = useRef<number | null>(null);
  const bending = useRef<Point | null>(null);
  const pressed = useRef<{ at: Point; when: number }>({ at: [0, 0], when: 0 });
  const touches = useRef(new Map<number, Point>());
  const pinch = useRef<{ far: number; middle: Point } | null>(null);
  const marquee = useRef<{ from: Point; to: Point; adding: boolean } | null>(null);
  const [box, setBox] = useState<{ from: Point; to: Point } | null>(null);
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
      pen: pen.current,
      hovered: hovered.current,
      marks: tool.kind === "subject" ? marksNow() : null,
      why: useStore.getState().why,
      slots,
      clean,
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
    const fit = () => {
      const ratio = window.devicePixelRatio || 1;
      const now: Point = [element.clientWidth, element.clientHeight];
      if (size && (size[0] !== now[0] || size[1] !== now[1])) keepInView(size, now);
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
    if (id !== null) showAll();
  }, [id]);

  // The clean view fits the page, or the pages that lie open, in the middle; what was seen before comes back after it.
  const before = useRef<{ scale: number; x: number; y: number } | null>(null);
  useLayoutEffect(() => {
    if (clean) {
      before.current = useStore.getState().view;
      showAll();
    } else if (before.current) {
      useStore.setState({ view: before.current });
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
      // The space bar takes hold of the bench, unless it works what the focus is on (words of the sentence are no BUTTON).
      const operable = (event.target as HTMLElement).closest?.("button, a, [role]:not([role=application])");
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
      if (event.type === "keydown" && !typing && useStore.getState().tool.kind === "draw") {
        if (event.key === "Backspace") takeBack();
        else if (event.key === "Escape" || event.key === "Enter") void finishDraft();
        else return;
        event.preventDefault();
        event.stopImmediatePropagation();
      }
      if (
        event.type === "keydown" &&
        !typing &&
        useStore.getState().tool.kind === "points" &&
        (event.key === "Delete" || event.key === "Backspace")
      ) {
        const { selected } = useStore.getState();
        if (selected && useStore.getState().points.length) {
          deletePoints(selected);
          event.preventDefault();
          event.stopImmediatePropagation();
        }
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
    gesture.current?.gesture.cancel();
    gesture.current = panning.current = marquee.current = null;
    writing.current = bending.current = null;
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
    const { view } = useStore.getState();
    useStore.setState({
      view: {
        ...view,
        x: view.x + middle[0] - pinch.current.middle[0],
        y: view.y + middle[1] - pinch.current.middle[1],
      },
    });
    zoomAt(middle, far / Math.max(pinch.current.far, 1));
    pinch.current = { far, middle };
  };

  const down = (event: PointerEvent) => {
    const here = at(event);
    const scene = shownScene();
    if (!scene) return;
    const { view, tool } = useStore.getState();
    canvas.current!.setPointerCapture(event.pointerId);
    if (useStore.getState().justMade) useStore.setState({ justMade: null });
    if (event.pointerType === "touch") {
      touches.current.set(event.pointerId, here);
      if (touches.current.size > 1) return beginPinch();
    }
    if (tool.kind === "copy" && event.button === 0 && !space.current) {
      const spot = spotAt(scene, here);
      const place = copyPlace(here);
      if (
        place !== null &&
        (spot.kind !== "object" || spot.id === useStore.getState().selected) &&
        spot.kind !== "bench"
      ) {
        event.preventDefault(); // the keyboard stays with the copy
        writing.current = event.shiftKey ? (useStore.getState().caret?.anchor ?? place) : place;
        putCaret(writing.current, place, keysOf(event).command ? "add" : event.shiftKey ? undefined : "clear");
        return;
      }
      useStore.setState({ tool: { kind: "hand" } });
    }
    canvas.current!.focus();
    caretGone(true); // a press on the bench gives it the keys, and speaks of all copy again
    if (useStore.getState().paragraphs || useStore.getState().stretches.length)
      useStore.setState({ paragraphs: null, stretches: [] });
    if (event.button === 1 || space.current) {
      panning.current = { from: here, x: view.x, y: view.y };
      setCursor("grabbing");
      return;
    }
    if (event.button !== 0) return;
    const tops = pagePlaces(scene);
    const keys = keysOf(event);
    if (!useStore.getState().clean && tool.kind === "hand") {
      const page = pageUnder(here);
      const m = pageMatrix(view, tops[page]);
      const guide = guideAt(scene, page, m, here);
      if (guide) {
        gesture.current = { gesture: draggingGuide(scene, page, m, guide), from: here };
        return;
      }
    }
    if (tool.kind === "draw") {
      const page = useStore.getState().draft?.page ?? pageUnder(here);
      const m = pageMatrix(view, tops[page]);
      const place = drawnAt(scene, page, apply(inverse(m), here), m[0], keys);
      if (closes(apply(inverse(m), here), m[0])) return void finishDraft();
      putKnot(page, { at: place });
      bending.current = here;
      return;
    }
    if (tool.kind === "why") return void askWhy(here, true);
    if (tool.kind === "subject") {
      const object = scene.objects[useStore.getState().selected ?? ""];
      if (object?.picture)
        gesture.current = {
          gesture: marking(object, pageMatrix(view, tops[object.page]), tool.what, here, redraw),
          from: here,
        };
      else useStore.setState({ tool: { kind: "hand" } });
      return;
    }
    if (tool.kind === "tie") {
      const object = scene.objects[useStore.getState().selected ?? ""];
      const tie = object && tying(scene, object, pageMatrix(view, tops[object.page]), here);
      if (tie) gesture.current = { gesture: tie, from: here };
      else useStore.setState({ tool: { kind: "hand" } });
      return;
    }
    if (tool.kind === "line") {
      const page = pageUnder(here);
      const back = inverse(pageMatrix(view, tops[page]));
      event.preventDefault();
      gesture.current = { gesture: makingLine(page, here, (p) => apply(back, p)), from: here };
      return;
    }
    if (tool.kind === "points") {
      const object = scene.objects[useStore.getState().selected ?? ""];
      if (object) {
        const m = pageMatrix(view, tops[object.page]);
        const spot = pointSpotAt(object, m, here);
        if (spot.kind === "handle") {
          gesture.current = { gesture: movingHandle(object, m, spot), from: here };
          sayIfItBecomesAPath(object, selectedThing()?.outline?.kind ?? "rectangle");
          return;
        }
        if (spot.kind === "knot") {
          const { points } = useStore.getState();
          const already = isChosen(points, spot.which);
          if (keys.shift)
            useStore.setState({
              points: already
                ? points.filter((p) => p[0] !== spot.which[0] || p[1] !== spot.which[1])
                : [...points, spot.which],
            });
          else if (!already) useStore.setState({ points: [spot.which] });
          gesture.current = {
            gesture: movingPoints(scene, object, m, knotsOf(object)[spot.which[0]][spot.which[1]], here),
            from: here,
          };
          return;
        }
        if (spot.kind === "edge") {
          const last = pressed.current;
          pressed.current = { at: here, when: Date.now() };
          // The second press of a double-click adds no second point.
          if (Date.now() - last.when < 450 && Math.hypot(here[0] - last.at[0], here[1] - last.at[1]) < 6) return;
          sayIfItBecomesAPath(object, selectedThing()?.outline?.kind ?? "rectangle");
          return void addPoint(object, m, here);
        }
        marquee.current = { from: here, to: here, adding: keys.shift };
        return;
      }
    }
    if (tool.kind === "pivot") {
      const object = scene.objects[useStore.getState().selected ?? ""];
      useStore.setState({ tool: { kind: "hand" } });
      if (!object) return;
      const moving = movingPivot(object, pageMatrix(view, tops[object.page]));
      moving.move(here, keys);
      gesture.current = { gesture: moving, from: here };
      return;
    }
    if (tool.kind === "outline") {
      const page = pageUnder(here);
      const back = inverse(pageMatrix(view, tops[page]));
      gesture.current = { gesture: drawing(page, here, (p) => apply(back, p)), from: here };
      return;
    }
    const spot = spotAt(scene, here);
    if (tool.kind === "within") {
      const object = scene.objects[useStore.getState().selected ?? ""];
      if (object?.picture && spot.kind === "object" && spot.id === object.id) {
        gesture.current = { gesture: movingPicture(object, pageMatrix(view, tops[object.page]), here), from: here };
        return;
      }
      useStore.setState({ tool: { kind: "hand" } });
    }
    if (spot.kind === "bench") {
      useStore.setState({ page: pageUnder(here) });
      marquee.current = { from: here, to: here, adding: keys.shift };
      return;
    }
    if (spot.kind === "object") {
      const { selected, others } = useStore.getState();
      if (keys.shift) select(spot.id, true);
      else if (spot.id !== selected && !others.includes(spot.id)) select(spot.id);
      if (!useStore.getState().selected) return;
    }
    const object = scene.objects[useStore.getState().selected!];
    const page = pageMatrix(view, tops[object.page]);
    gesture.current = { gesture: started(spot, object, page, here), from: here };
  };

  const started = (
    spot: Spot,
    object: NonNullable<ReturnType<typeof shownScene>>["objects"][string],
    page: Matrix,
    here: Point,
  ): Gesture => {
    const scene = shownScene()!;
    if (spot.kind === "handle") return sizing(scene, object, spot, here, page[0]);
    if (spot.kind === "turn") return turning(scene, object, page, here);
    if (spot.kind === "type") return sizing(scene, object, { fx: 1, fy: 1 }, here, page[0], true);
    const leader = scene.objects[leaderOf(scene, selection()) ?? ""];
    if (leader && (spot.kind === "anchor" || leader.anchor?.place === "in-line")) return movingInLine(leader);
    return dragging(scene, object, here, page[0]);
  };

  const move = (event: PointerEvent) => {
    const here = at(event);
    const scene = shownScene();
    if (!scene) return;
    if (event.pointerType === "touch" && touches.current.has(event.pointerId)) {
      touches.current.set(event.pointerId, here);
      if (pinch.current) return movePinch();
    }
    if (panning.current) {
      const { from, x, y } = panning.current;
      useStore.setState({ view: { ...useStore.getState().view, x: x + here[0] - from[0], y: y + here[1] - from[1] } });
      return;
    }
    const doing = gesture.current;
    if (doing) {
      if (Math.hypot(here[0] - doing.from[0], here[1] - doing.from[1]) < 2 && !doing.gesture.readout) return;
      doing.gesture.move(here, keysOf(event));
      setReadout(doing.gesture.readout ? { text: doing.gesture.readout, at: here } : null);
      return;
    }
    if (writing.current !== null) {
      const place = copyPlace(here);
      if (place !== null && place !== useStore.getState().caret?.head) putCaret(writing.current, place);
      return;
    }
    if (marquee.current) {
      marquee.current.to = here;
      setBox({ from: marquee.current.from, to: here });
      return;
    }
    const { tool, view, draft } = useStore.getState();
    if (tool.kind === "why") {
      setCursor("help");
      if (!useStore.getState().why?.pinned) void askWhy(here);
      return;
    }
    if (tool.kind === "draw") {
      const page = draft?.page ?? pageUnder(here);
      const m = pageMatrix(view, pagePlaces(scene)[page]);
      const back = apply(inverse(m), here);
      if (bending.current && Math.hypot(here[0] - bending.current[0], here[1] - bending.current[1]) > 4) bendLast(back);
      pen.current = bending.current
        ? null
        : closes(back, m[0])
          ? draft!.knots[0].at
          : drawnAt(scene, page, back, m[0], keysOf(event));
      redraw();
      return;
    }
    if (tool.kind === "points") {
      const object = scene.objects[useStore.getState().selected ?? ""];
      const spot = object && pointSpotAt(object, pageMatrix(view, pagePlaces(scene)[object.page]), here);
      return setCursor(!spot || spot.kind === "beside" ? "default" : spot.kind === "edge" ? "copy" : "move");
    }
    if (tool.kind === "outline" || tool.kind === "line" || tool.kind === "tie" || tool.kind === "subject")
      return setCursor("crosshair");
    if (tool.kind === "copy") {
      const over = spotAt(scene, here);
      return setCursor(over.kind === "object" && over.id === useStore.getState().selected ? "text" : "default");
    }
    const guide = clean
      ? null
      : guideAt(scene, pageUnder(here), pageMatrix(view, pagePlaces(scene)[pageUnder(here)]), here);
    if (guide) return setCursor(guide.axis === "x" ? "col-resize" : "row-resize");
    const spot = spotAt(scene, here);
    const over = spot.kind === "object" ? spot.id : null;
    if (over !== hovered.current) {
      hovered.current = over;
      redraw();
    }
    setCursor(space.current ? "grab" : cursorOf(spot, scene.objects[useStore.getState().selected ?? ""]?.turn ?? 0));
  };

  const up = (event: PointerEvent) => {
    touches.current.delete(event.pointerId);
    if (pinch.current) {
      // The finger that is left does nothing until it is lifted.
      if (touches.current.size === 0) pinch.current = null;
      return;
    }
    panning.current = null;
    bending.current = null;
    writing.current = null;
    if (marquee.current) choose(marquee.current);
    marquee.current = null;
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

  /** What a drawn box covers is selected: objects, or points while these are edited. */
  const choose = ({ from, to, adding }: { from: Point; to: Point; adding: boolean }) => {
    const scene = shownScene();
    if (!scene) return;
    const { view, tool, points, selected, others } = useStore.getState();
    const tops = pagePlaces(scene);
    const small = Math.hypot(to[0] - from[0], to[1] - from[1]) < 4;
    const [left, right] = [Math.min(from[0], to[0]), Math.max(from[0], to[0])];
    const [top, bottom] = [Math.min(from[1], to[1]), Math.max(from[1], to[1])];
    const inside = ([x, y]: Point) => x >= left && x <= right && y >= top && y <= bottom;
    if (tool.kind === "points" && selected && scene.objects[selected]) {
      if (small) return useStore.setState(points.length ? { points: [] } : { tool: { kind: "hand" } });
      const object = scene.objects[selected];
      const m = pageMatrix(view, tops[object.page]);
      const found: [number, number][] = [];
      knotsOf(object).forEach((ring, c) =>
        ring.forEach((knot, i) => inside(apply(m, apply(object.matrix, knot.at))) && found.push([c, i])),
      );
      return useStore.setState({ points: adding ? [...points.filter((p) => !isChosen(found, p)), ...found] : found });
    }
    if (small) return adding ? undefined : select(null);
    const found = Object.values(scene.objects).filter((o) => {
      if (o.hidden || o.locked) return false;
      const m = pageMatrix(view, tops[o.page]);
      const e = extentOf(o);
      const [[a, b], [c, d]] = [apply(m, [e.left, e.top]), apply(m, [e.right, e.bottom])];
      return a >= left && c <= right && b >= top && d <= bottom;
    });
    const open = useStore.getState().document;
    // Of a group, all or nothing.
    const ids = found.flatMap((o) => {
      const group = open && groupAround(open, o.id);
      return group ? leavesOf(group).map((leaf) => leaf.id) : [o.id];
    });
    selectAll([...new Set(adding && selected ? [selected, ...others, ...ids] : ids)]);
  };

  const drop = (event: DragEvent) => {
    event.preventDefault();
    useStore.setState({ page: pageUnder(at(event)) });
    const shelved = event.dataTransfer.getData(SHELF);
    if (shelved) return void placeFromShelf(shelved, at(event));
    for (const file of event.dataTransfer.files) void bringFile(file, at(event));
  };

  return (
    <div
      ref={area}
      className="relative h-full min-w-0 overflow-hidden"
      onDragOver={(e) => e.preventDefault()}
      onDrop={drop}
    >
      <canvas
        ref={canvas}
        tabIndex={0}
        role="application"
        aria-label="Bench: the pages. Arrow keys move the selected object."
        className="block h-full w-full touch-none outline-none"
        style={{
          cursor:
            tool.kind === "outline" || tool.kind === "draw" || tool.kind === "pivot"
              ? "crosshair"
              : tool.kind === "line"
                ? "text"
                : cursor,
        }}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        onMouseDown={(event) => useStore.getState().tool.kind === "copy" && event.preventDefault()}
        onClick={(event) => {
          if (tool.kind !== "copy" || event.detail < 2) return;
          const { caret } = useStore.getState();
          const shape = shapeOfSelected();
          if (!caret || !shape) return;
          putCaret(
            ...(event.detail === 2
              ? wordAround(shape.text, caret.head)
              : event.detail === 3
                ? lineAround(caret.head)
                : paragraphAround(shape.text, caret.head)),
          );
        }}
        onDoubleClick={(event) => {
          const thing = selectedThing();
          if (!thing || tool.kind !== "hand") return;
          const open = useStore.getState().document;
          if (useStore.getState().others.length && open && groupAround(open, thing.id)) {
            const scene = shownScene();
            const spot = scene && spotAt(scene, at(event));
            return select(spot?.kind === "object" ? spot.id : thing.id, false, true);
          }
          if (thing.picture) {
            useStore.setState({ tool: { kind: "within" }, others: [] });
            return;
          }
          if (thing.frame) putCaret(copyPlace(at(event)) ?? 0);
          else beginCopy();
        }}
      />
      {!clean && <OthersChosen />}
      {!clean && <LeftoverTags goOn={goOn} />}
      <WhyCard />
      {!clean && <EndTag goOn={goOn} />}
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
      {tool.kind === "line" && (
        <p className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm whitespace-nowrap">
          Click for a line that grows with its words, drag for a frame of fixed width.{" "}
          <span className="text-soft">Esc: leave it</span>
        </p>
      )}
      {tool.kind === "tie" && (
        <p className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm whitespace-nowrap">
          Drag an edge of it onto an edge of another object. <span className="text-soft">Esc: leave it</span>
        </p>
      )}
      {tool.kind === "pivot" && (
        <p className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm whitespace-nowrap">
          Press where it is to turn about: on it or beside it. <span className="text-soft">Esc: leave it</span>
        </p>
      )}
      {clean && <CleanHint />}
      {tool.kind === "why" && (
        <p className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm whitespace-nowrap">
          Point at a line’s end, a gap or a baseline: what put it there lights up.{" "}
          <span className="text-soft">Esc: done</span>
        </p>
      )}
      {tool.kind === "subject" && (
        <p className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm whitespace-nowrap">
          {tool.what === "box"
            ? "Drag a rectangle round the subject."
            : tool.what === "keep"
              ? "Draw over what belongs to the subject."
              : "Draw over what does not belong to it."}{" "}
          <span className="text-soft">Esc: done</span>
        </p>
      )}
      {tool.kind === "draw" && (
        <p className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm">
          Click for a corner, drag for a curve; click the first point to close.{" "}
          <span className="text-soft">Backspace: take one back · Shift: level or upright · Esc: close here</span>
        </p>
      )}
      {tool.kind === "within" && (
        <p className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm whitespace-nowrap">
          Drag the picture within its outline. <span className="text-soft">Esc: done</span>
        </p>
      )}
      {tool.kind === "points" && <PointsCard />}
      {tool.kind === "outline" && (
        <p className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm">
          Drag from one corner to the other.{" "}
          <span className="text-soft">Shift: equal sides · Alt: from the centre · Esc: leave it</span>
        </p>
      )}
    </div>
  );
}

/** What the hand is doing, in figures, beside the pointer. A store of its own: the rest of the bench need not follow each move. */
const useReadout = create<{ text: string; at: Point }>(() => ({ text: "", at: [0, 0] }));
const setReadout = (said: { text: string; at: Point } | null) => useReadout.setState(said ?? { text: "" });

function ReadoutCard() {
  const { text, at } = useReadout();
  return text ? (
    <div
      className="card pointer-events-none absolute top-0 left-0 px-2 py-1 text-xs tabular-nums will-change-transform contain-content"
      style={{ transform: `translate(${at[0] + 16}px, ${at[1] + 18}px)` }}
    >
      {text}
    </div>
  ) : null;
}

/** What can be done with points, and the kinds that the chosen ones can be. */
function PointsCard() {
  const chosen = useStore((s) => s.points.length);
  const selected = useStore((s) => s.selected);
  return (
    <div className="card absolute bottom-3 left-1/2 flex max-w-[96%] -translate-x-1/2 items-center gap-3 px-3 py-1.5 text-sm">
      {chosen > 0 && selected ? (
        <span className="flex shrink-0 gap-1">
          {POINT_KINDS.map(({ kind, name, key, drawing }) => (
            <button
              key={kind}
              className="button flex items-center gap-1.5 px-2 py-0.5 whitespace-nowrap"
              title={`${name} (${key.toUpperCase()})`}
              onClick={() => setPointKind(selected, kind)}
            >
              <svg
                width="20"
                height="20"
                viewBox="0 0 20 20"
                fill="none"
                stroke="currentColor"
                strokeWidth="1.6"
                aria-hidden
              >
                <path d={drawing} />
                <circle cx="10" cy={kind === "smooth" ? 7.2 : 5.2} r="2.2" fill="var(--color-sheet)" />
              </svg>
              {name}
            </button>
          ))}
        </span>
      ) : (
        <span className="whitespace-nowrap">Drag points and handles; click the edge for a new one.</span>
      )}
      <span className="pointer-events-none whitespace-nowrap text-soft">
        Shift: level or upright · Alt: one handle alone · Delete · Esc: done
      </span>
    </div>
  );
}

/** Says how the clean view ends, for a moment. */
function CleanHint() {
  const [said, setSaid] = useState(true);
  useEffect(() => {
    const timer = setTimeout(() => setSaid(false), 3000);
    return () => clearTimeout(timer);
  }, []);
  return said ? (
    <p
      role="status"
      className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm whitespace-nowrap"
    >
      Clean view, as it will print. <span className="text-soft">Esc: back to work</span>
    </p>
  ) : null;
}

/** What a frame lacks for the words that are left over, and what pushes them away. */
function LeftoverWhy({ nest }: { nest: NestScene }) {
  const unit = useStore((s) => s.document?.unit ?? "mm");
  const labels = useStore((s) => s.scene?.labels);
  return <span className="pr-1.5">{leftoverSaid(nest, labels ?? {}, unit)}</span>;
}

/** Whether copy can go on from a frame by hand: not from a locked one, nor from one whose lines do not wrap. */
function mayGoOn(frame: string): boolean {
  const { document, scene } = useStore.getState();
  const thing = document && thingsOf(document).find((t) => t.id === frame);
  return !!thing && !scene?.objects[frame]?.locked && ruled(thing).frame?.wrap_lines !== false;
}

/** Begins to drag the copy of a frame on to another. */
type GoOn = (event: PointerEvent, frame: string) => void;

/** What is offered where words are left over; dragged, the copy goes on there. */
function LeftoverTags({ goOn }: { goOn: GoOn }) {
  const selected = useStore((s) => s.selected);
  const [held, setHeld] = useState<string | null>(null);
  const pressed = useRef<[number, number]>([0, 0]);
  // By what is stored: while a cure is pointed at nothing may be left over, and its button must not go away.
  const stored = useStore((s) => s.scene);
  useStore((s) => s.tried);
  const view = useStore((s) => s.view);
  const scene = shownScene();
  if (!scene || !stored) return null;
  const tops = pagePlaces(scene);
  return Object.values(stored.nests)
    .filter((nest) => nest.leftover > 0 && stored.objects[nest.id] && scene.objects[nest.id])
    .map((nest) => {
      // It stays under the pointer, whatever a cure that is pointed at does to its frame.
      const object = (held === nest.id ? stored : scene).objects[nest.id];
      const m = pageMatrix(view, tops[object.page]);
      const corners = [0, 1].flatMap((fx) =>
        [0, 1].map((fy) => apply(m, apply(object.matrix, [fx * object.box[2], fy * object.box[3]]))),
      );
      const left = (Math.min(...corners.map((c) => c[0])) + Math.max(...corners.map((c) => c[0]))) / 2;
      const top = Math.max(...corners.map((c) => c[1]));
      return (
        <div
          key={nest.id}
          className="absolute flex -translate-x-1/2 items-center rounded-full bg-coral-wash pr-1 pl-2.5 text-xs whitespace-nowrap text-coral-text shadow-sm"
          style={{ left, top: top + 6 }}
          onMouseEnter={() => setHeld(nest.id)}
          onMouseLeave={() => setHeld(null)}
        >
          <button
            className="touch-none py-0.5 pr-1.5 font-bold"
            title={
              !mayGoOn(nest.id)
                ? "Show them in the galley"
                : "Show them in the galley; dragged onto another frame or an empty place, the copy goes on there"
            }
            onPointerDown={(event) => {
              pressed.current = [event.clientX, event.clientY];
              event.currentTarget.setPointerCapture(event.pointerId);
            }}
            onPointerMove={(event) => {
              if (
                !mayGoOn(nest.id) ||
                !event.currentTarget.hasPointerCapture(event.pointerId) ||
                Math.hypot(event.clientX - pressed.current[0], event.clientY - pressed.current[1]) < 5
              )
                return;
              useStore.setState({ selected: nest.id, others: [] });
              goOn(event, nest.id);
            }}
            onClick={() => (useStore.setState({ selected: nest.id, others: [] }), beginCopy())}
          >
            {nest.leftover} {nest.leftover === 1 ? "word" : "words"} left over
          </button>
          {nest.id === selected && <LeftoverWhy nest={nest} />}
          {nest.id === selected && nest.cures.map((cure) => <Cure key={cure.label} cure={cure} />)}
        </div>
      );
    });
}

/** A change that finds room for the words left over; pointing at it shows it. */
function Cure({ cure: { label, hint, operations } }: { cure: NestScene["cures"][number] }) {
  const cure = operations as Operation[];
  useEffect(() => stopTrying, []); // it may go while it is pointed at
  return (
    <button
      className="rounded-full px-2 py-0.5 underline decoration-dotted underline-offset-2 hover:bg-sheet"
      title={hint}
      onMouseEnter={() => tryOut(cure)}
      onMouseLeave={stopTrying}
      onClick={() => void keepTried(cure, label)}
    >
      {label}
    </button>
  );
}

/** Where the copy of the selected frame goes on; dragged onto another frame or an empty place it goes on there. */
function EndTag({ goOn }: { goOn: GoOn }) {
  const selected = useStore((s) => (s.others.length || s.tool.kind !== "hand" ? null : s.selected));
  useStore((s) => s.scene);
  useStore((s) => s.tried);
  const view = useStore((s) => s.view);
  const open = useStore((s) => s.document);
  const scene = shownScene();
  const nest = selected ? scene?.nests[selected] : undefined;
  const object = selected ? scene?.objects[selected] : undefined;
  if (!scene || !nest || !object || !open || !mayGoOn(object.id)) return null;
  const m = pageMatrix(view, pagePlaces(scene)[object.page]);
  const corners = [0, 1].flatMap((fx) =>
    [0, 1].map((fy) => apply(m, apply(object.matrix, [fx * object.box[2], fy * object.box[3]]))),
  );
  const [left, top] = [Math.max(...corners.map((c) => c[0])), Math.max(...corners.map((c) => c[1]))];
  const after = nest.chain?.after ? scene.objects[nest.chain.after] : null;
  const there = after && thingsOf(open).find((t) => t.id === after.id);
  return (
    <button
      className="absolute flex cursor-grab touch-none items-center gap-1 rounded-full border border-slot bg-sheet px-2 py-0.5 text-xs whitespace-nowrap text-slot-text shadow-sm"
      style={{ left: left + 14, top: top - 24 }}
      title="Drag it onto another frame or an empty place: the copy goes on there"
      onPointerDown={(event) => event.button === 0 && goOn(event, object.id)}
      onClick={(event) => event.detail === 0 && document.querySelector<HTMLElement>("[data-part=chain]")?.click()}
    >
      {there
        ? `goes on in ${labelOf(there)}${after.page !== object.page ? `, page ${after.page + 1}` : ""}`
        : "goes on …"}{" "}
      <span aria-hidden>↝</span>
    </button>
  );
}

function cursorOf(spot: Spot, turn: number): string {
  if (spot.kind === "turn") return "grab";
  if (spot.kind === "type") return "nwse-resize";
  if (spot.kind === "anchor") return "grab";
  if (spot.kind === "object") return "move";
  if (spot.kind !== "handle") return "default";
  const angle = (Math.atan2(spot.fy - 0.5, spot.fx - 0.5) * 180) / Math.PI + turn;
  return ["ew-resize", "nwse-resize", "ns-resize", "nesw-resize"][((Math.round(angle / 45) % 4) + 4) % 4];
}

function pageUnder(at: Point): number {
  const scene = shownScene()!;
  return pageAt(scene, at);
}

/** The place of the selected frame's copy nearest to a point of the bench. */
function copyPlace(here: Point): number | null {
  const scene = shownScene();
  const { selected, view } = useStore.getState();
  const nest = scene?.nests[selected ?? ""];
  const shape = nest && scene?.shapes[nest.shape];
  const object = scene?.objects[selected ?? ""];
  if (!scene || !nest || !shape || !object) return null;
  return indexAt(nest, shape, apply(inverse(pageMatrix(view, pagePlaces(scene)[object.page])), here));
}

function shapeOfSelected() {
  const scene = shownScene();
  const nest = scene?.nests[useStore.getState().selected ?? ""];
  return nest ? scene?.shapes[nest.shape] : undefined;
}

/** Anchor and head of the word at a place (code points), by the language's own words. */
function wordAround(text: string, at: number): [number, number] {
  const each = Array.from(text);
  const units = each.slice(0, at).join("").length;
  for (const part of new Intl.Segmenter(undefined, { granularity: "word" }).segment(text)) {
    if (units < part.index + part.segment.length || part.index + part.segment.length >= text.length) {
      const start = Array.from(text.slice(0, part.index)).length;
      return [start, start + Array.from(part.segment).length];
    }
  }
  return [at, at];
}

function lineAround(at: number): [number, number] {
  const scene = shownScene();
  const nest = scene?.nests[useStore.getState().selected ?? ""];
  const shape = nest && scene?.shapes[nest.shape];
  if (!nest || !shape) return [at, at];
  const [start, end] = [lineStep(nest, shape, at, "Home", null), lineStep(nest, shape, at, "End", null)];
  return [start?.index ?? at, end?.index ?? at];
}

function paragraphAround(text: string, at: number): [number, number] {
  const each = Array.from(text);
  let [start, end] = [at, at];
  while (start > 0 && each[start - 1] !== "\n") start--;
  while (end < each.length && each[end] !== "\n") end++;
  return [start, end];
}

function keysOf(event: PointerEvent): Keys {
  return { shift: event.shiftKey, alt: event.altKey, command: event.ctrlKey || event.metaKey };
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

/** The view that a page was fitted with last: while it is the view, the page stays fitted. */
let fitted: { view: object; page: number } | null = null;

/** Keep what is seen in the middle when the bench changes its size; a page that was fitted is fitted again. */
function keepInView(from: Point, to: Point) {
  const { view } = useStore.getState();
  if (fitted?.view === view) return showPage(fitted.page);
  useStore.setState({ view: { ...view, x: view.x + (to[0] - from[0]) / 2, y: view.y + (to[1] - from[1]) / 2 } });
}

/** Fit the page that is spoken of into the bench. */
export function showAll() {
  showPage(useStore.getState().page);
}

/** Fit a page into the bench. */
export function showPage(index: number) {
  const scene = shownScene();
  const page = scene?.pages[Math.min(index, scene.pages.length - 1)];
  if (!scene || !page) return;
  const [w, h] = benchSize();
  // Rulers take room at the top and on the left.
  const rulers = useStore.getState().clean ? 0 : 14;
  // Pages that face each other are shown together.
  const places = pagePlaces(scene);
  const top = places[scene.pages.indexOf(page)][1];
  const row = scene.pages.map((one, i) => ({ one, left: places[i][0] })).filter((_, i) => places[i][1] === top);
  const left = Math.min(...row.map((r) => r.left));
  const width = Math.max(...row.map((r) => r.left + r.one.width)) - left;
  const height = Math.max(...row.map((r) => r.one.height));
  const bleed = useStore.getState().clean ? 0 : page.bleed;
  const scale = Math.min((w - 70 - rulers) / (width + 2 * bleed), (h - 66 - rulers) / (height + 2 * bleed)) / PX;
  const view = {
    scale,
    x: (w + rulers - width * scale * PX) / 2 - left * scale * PX,
    y: (h + rulers - height * scale * PX) / 2 - top * scale * PX,
  };
  useStore.setState({ view });
  fitted = { view, page: index };
}

/** Show the page of an object that is out of sight. */
export function bringIntoView(id: string) {
  const scene = shownScene();
  const object = scene?.objects[id];
  if (!scene || !object) return;
  const [w, h] = benchSize();
  const [x, y, width, height] = object.box;
  const [px, py] = apply(pageMatrix(useStore.getState().view, pagePlaces(scene)[object.page]), [
    x + width / 2,
    y + height / 2,
  ]);
  if (px < 0 || px > w || py < 0 || py > h) showPage(object.page);
}

export function zoomTo(scale: number) {
  zoomBy(scale / useStore.getState().view.scale);
}
