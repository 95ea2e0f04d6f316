import { apply, pagePlaces } from "../state/geometry";
import { pageMatrix } from "../state/geometry";
import { shownScene, useStore } from "../state/store";

/** What is chosen in the other windows of the document: framed, with who has it. */
export function OthersChosen() {
  const windows = useStore((s) => s.windows);
  const view = useStore((s) => s.view);
  useStore((s) => s.scene);
  useStore((s) => s.tried);
  const scene = shownScene();
  if (!scene || !windows.length) return null;
  const tops = pagePlaces(scene);
  return windows.flatMap((window) =>
    window.chosen.flatMap((id, index) => {
      const object = scene.objects[id];
      if (!object) return [];
      const m = pageMatrix(view, tops[object.page]);
      const corners = [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ].map(([x, y]) => apply(m, apply(object.matrix, [x * object.box[2], y * object.box[3]])));
      const [left, top] = [Math.min(...corners.map((c) => c[0])), Math.min(...corners.map((c) => c[1]))];
      return (
        <div key={`${window.window} ${id}`} className="pointer-events-none absolute inset-0">
          <svg className="absolute inset-0 h-full w-full">
            <polygon
              points={corners.map((c) => c.join(",")).join(" ")}
              fill="none"
              stroke="var(--color-soft)"
              strokeWidth="1.5"
              strokeDasharray="2 3"
            />
          </svg>
          {index === 0 && (
            <span
              className="absolute -translate-y-full rounded-t-md bg-soft px-1.5 text-[11px] leading-4 whitespace-nowrap text-sheet"
              style={{ left, top }}
            >
              {window.who}, another window
            </span>
          )}
        </div>
      );
    }),
  );
}
