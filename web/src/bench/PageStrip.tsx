import { speakOf } from "../state/choosing";
import { useState } from "react";
import { act } from "../api/client";
import { Small } from "../parts/SmallPage";
import { edit } from "../state/sending";
import { useStore } from "../state/store";
import { showPage } from "../parts/view";

const DRAGGED = "application/x-nest-line-page";

/** The pages, small, in a row: one is gone to by a press, and dragged to another place among them. */
export function PageStrip() {
  const scene = useStore((s) => s.scene);
  const shown = useStore((s) => s.strip);
  const page = useStore((s) => s.page);
  const [before, setBefore] = useState<number | null>(null);
  if (!shown || !scene) return null;
  const go = (to: number) => {
    speakOf(to);
    showPage(to);
  };
  const move = (from: number, place: number) => {
    const to = place > from ? place - 1 : place;
    if (to !== from) void edit(act("move-page", { page: from, to }), "Move the page").then((done) => done && go(to));
  };
  return (
    <nav
      aria-label="Pages"
      className="absolute inset-x-3 bottom-3 flex justify-center"
      onDragLeave={(event) => !event.currentTarget.contains(event.relatedTarget as Node) && setBefore(null)}
    >
      <ol className="card flex max-w-full gap-1 overflow-x-auto px-2 py-1.5">
        {scene.pages.map((_, index) => (
          <li
            key={index}
            className={`relative shrink-0 ${before === index ? "border-l-2 border-slot" : "border-l-2 border-transparent"} ${before === index + 1 && index === scene.pages.length - 1 ? "border-r-2 border-r-slot" : ""}`}
            draggable
            onDragStart={(event) => {
              event.dataTransfer.setData(DRAGGED, String(index));
              event.dataTransfer.effectAllowed = "move";
            }}
            onDragOver={(event) => {
              if (!event.dataTransfer.types.includes(DRAGGED)) return;
              event.preventDefault();
              event.stopPropagation();
              const box = event.currentTarget.getBoundingClientRect();
              setBefore(event.clientX < box.left + box.width / 2 ? index : index + 1);
            }}
            onDrop={(event) => {
              if (!event.dataTransfer.types.includes(DRAGGED)) return;
              event.preventDefault();
              event.stopPropagation();
              if (before !== null) move(Number(event.dataTransfer.getData(DRAGGED)), before);
              setBefore(null);
            }}
          >
            <button
              className={`block rounded-lg px-1.5 pt-1 text-center text-xs ${index === page ? "bg-slot-wash font-bold text-slot-text" : "hover:bg-inset"}`}
              aria-current={index === page ? "page" : undefined}
              title="Drag it to another place; with Alt and arrows it moves as well"
              onClick={() => go(index)}
              onKeyDown={(event) => {
                const by = { ArrowLeft: -1, ArrowRight: 2 }[event.key];
                if (!event.altKey || !by) return;
                event.preventDefault();
                const place = index + by;
                if (place >= 0 && place <= scene.pages.length) move(index, place);
              }}
            >
              <Small scene={scene} index={index} />
              {index + 1}
            </button>
          </li>
        ))}
      </ol>
    </nav>
  );
}
