import { type PointerEvent, useEffect, useRef } from "react";
import { canvasFont, faceReady, onFontsReady } from "../drawing/fonts";
import { shownScene, useStore } from "../state/store";
import { trim } from "../state/units";

const WIDTH = 260;
const HEIGHT = 148;
const SIZE = 88;
const BASE = 104;

export interface Mark {
  value: string;
  label: string;
  /** Ems above the baseline; below it negative. */
  at: number;
}

/** An enlarged word with a line across it, dragged up and down; it catches on the metrics of the font. */
export function MetricWord({
  thingId,
  marks,
  at,
  free,
  onDrag,
  onDrop,
}: {
  thingId: string;
  marks: Mark[];
  at: number;
  free: boolean;
  onDrag: (value: string | number) => void;
  onDrop: (value: string | number) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const held = useRef(false);
  const value = useRef<string | number>("");
  const look = useStore((s) => {
    const scene = shownScene(s);
    const nest = scene?.nests[thingId];
    return nest ? scene?.shapes[nest.shape]?.looks[0] : undefined;
  });
  useEffect(() => {
    const draw = () => {
      const element = canvas.current;
      if (!element || !look) return;
      const ratio = window.devicePixelRatio || 1;
      element.width = WIDTH * ratio;
      element.height = HEIGHT * ratio;
      const ctx = element.getContext("2d")!;
      const css = getComputedStyle(document.documentElement);
      ctx.scale(ratio, ratio);
      ctx.clearRect(0, 0, WIDTH, HEIGHT);
      if (faceReady(look.face)) {
        ctx.font = canvasFont(look.face, SIZE);
        ctx.fillStyle = css.getPropertyValue("--color-ink");
        const width = ctx.measureText("Hxdg").width;
        ctx.fillText("Hxdg", Math.max(8, (WIDTH - 24 - width) / 2), BASE);
      }
      ctx.font = "10px 'Chrome Sans'";
      ctx.textAlign = "right";
      for (const mark of marks) {
        const y = BASE - mark.at * SIZE;
        ctx.strokeStyle = css.getPropertyValue("--color-line");
        ctx.lineWidth = 1;
        ctx.beginPath();
        ctx.moveTo(0, Math.round(y) + 0.5);
        ctx.lineTo(WIDTH, Math.round(y) + 0.5);
        ctx.stroke();
      }
      const y = BASE - at * SIZE;
      ctx.strokeStyle = css.getPropertyValue("--color-slot");
      ctx.fillStyle = css.getPropertyValue("--color-slot");
      ctx.lineWidth = 2;
      ctx.beginPath();
      ctx.moveTo(0, y);
      ctx.lineTo(WIDTH, y);
      ctx.stroke();
      ctx.beginPath();
      ctx.arc(WIDTH - 10, y, 6, 0, 7);
      ctx.fill();
    };
    draw();
    return onFontsReady(draw);
  }, [marks, at, look]);

  const point = (event: PointerEvent) => {
    const y = event.clientY - canvas.current!.getBoundingClientRect().top;
    const em = (BASE - y) / SIZE;
    const nearest = marks.reduce((a, b) => (Math.abs(b.at - em) < Math.abs(a.at - em) ? b : a));
    const caught = Math.abs(nearest.at - em) * SIZE < 7 || !free;
    value.current = caught ? nearest.value : `${trim(Math.max(0, em), 2)}em`;
    onDrag(value.current);
  };
  return (
    <canvas
      ref={canvas}
      aria-hidden
      className="mb-3 block cursor-ns-resize touch-none rounded-lg bg-card"
      style={{ width: WIDTH, height: HEIGHT }}
      onPointerDown={(event) => {
        held.current = true;
        event.currentTarget.setPointerCapture(event.pointerId);
        point(event);
      }}
      onPointerMove={(event) => held.current && point(event)}
      onPointerUp={() => {
        if (held.current) onDrop(value.current);
        held.current = false;
      }}
    />
  );
}
