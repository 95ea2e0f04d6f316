import { useEffect, useRef } from "react";
import { extentOf } from "../state/geometry";
import { pathOf } from "../drawing/scene";
import { useStore } from "../state/store";

const WIDTH = 56;
const HEIGHT = 40;
const JOINS: Record<string, GlobalCompositeOperation> = {
  union: "source-over",
  difference: "destination-out",
  intersection: "source-in",
  "symmetric-difference": "xor",
};

/** The outlines that are chosen, small, and what is left of them when they are combined in one way. The first is the
 * base. */
export function CombinedDrawing({ ids, how }: { ids: string[]; how: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const scene = useStore((s) => s.scene);
  useEffect(() => {
    const things = ids.flatMap((id) => scene?.objects[id] ?? []);
    const ctx = canvas.current?.getContext("2d");
    if (!ctx || !things.length) return;
    const outlines = things.map((thing) => {
      const placed = new Path2D();
      placed.addPath(pathOf(thing), new DOMMatrix([...thing.matrix]));
      return placed;
    });
    const extents = things.map(extentOf);
    const [left, top] = [Math.min(...extents.map((e) => e.left)), Math.min(...extents.map((e) => e.top))];
    const [right, bottom] = [Math.max(...extents.map((e) => e.right)), Math.max(...extents.map((e) => e.bottom))];
    const ratio = window.devicePixelRatio || 1;
    const scale = Math.min((WIDTH - 4) / Math.max(1, right - left), (HEIGHT - 4) / Math.max(1, bottom - top));
    canvas.current!.width = WIDTH * ratio;
    canvas.current!.height = HEIGHT * ratio;
    ctx.setTransform(
      scale * ratio,
      0,
      0,
      scale * ratio,
      ((WIDTH - (right + left) * scale) / 2) * ratio,
      ((HEIGHT - (bottom + top) * scale) / 2) * ratio,
    );
    const style = getComputedStyle(canvas.current!);
    ctx.fillStyle = style.getPropertyValue("--color-slot");
    outlines.forEach((outline, index) => {
      ctx.globalCompositeOperation = index ? JOINS[how] : "source-over";
      ctx.fill(outline);
    });
    ctx.globalCompositeOperation = "source-over";
    ctx.strokeStyle = style.color;
    ctx.lineWidth = 1 / scale;
    outlines.forEach((outline) => ctx.stroke(outline));
  }, [ids, how, scene]);
  return <canvas ref={canvas} aria-hidden className="shrink-0 text-soft" style={{ width: WIDTH, height: HEIGHT }} />;
}
