import { useEffect, useRef } from "react";
import { onFontsReady } from "../drawing/fonts";
import { pictures } from "../drawing/pictures";
import { drawObject } from "../drawing/scene";
import type { Scene } from "../state/seen";

/** A page, small. */
export function Small({ scene, index }: { scene: Scene; index: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const page = scene.pages[index];
  const scale = Math.min(44 / page.width, 56 / page.height);
  useEffect(() => {
    const draw = () => {
      const element = canvas.current;
      if (!element) return;
      const ratio = window.devicePixelRatio || 1;
      element.width = Math.max(1, page.width * scale * ratio);
      element.height = Math.max(1, page.height * scale * ratio);
      const ctx = element.getContext("2d")!;
      ctx.fillStyle = page.background ?? "#fffdf8";
      ctx.fillRect(0, 0, element.width, element.height);
      ctx.setTransform(scale * ratio, 0, 0, scale * ratio, 0, 0);
      for (const id of page.order) drawObject(ctx, scene, id, pictures, { clean: true, leftoverColor: "#1a1a1a" });
    };
    draw();
    return onFontsReady(draw);
  }, [scene, page, scale]);
  return (
    <span className="grid h-14 w-11 shrink-0 place-items-center">
      <canvas
        ref={canvas}
        aria-hidden
        className="shadow-sm ring-1 ring-line"
        style={{ width: page.width * scale, height: page.height * scale }}
      />
    </span>
  );
}
