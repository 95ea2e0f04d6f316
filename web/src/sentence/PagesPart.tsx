import { speakOf } from "../state/choosing";
import { ArrowDown, ArrowUp, Copy, Trash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import { act } from "../api/client";
import { Small } from "../parts/SmallPage";
import { lay, showPage } from "../parts/view";
import { edit } from "../state/sending";
import { useStore } from "../state/store";
import { inUnit } from "../state/units";
import { Part } from "../parts/Part";

/** Which page is spoken of, and the strip of all pages: go to one, add, move, duplicate, delete. */
export function PagesPart({ page }: { page: number }) {
  const scene = useStore((s) => s.scene);
  const facing = useStore((s) => s.document?.facing ?? false);
  const unit = useStore((s) => s.document?.unit ?? "mm");
  const many = scene?.pages.length ?? 0;
  const before = useRef(many);
  // A page that is taken away, by undoing too, does not leave the bench looking at nothing.
  useEffect(() => {
    if (many < before.current) showPage(page);
    before.current = many;
  }, [many, page]);
  if (!scene) return null;
  const go = (to: number) => {
    speakOf(to);
    showPage(to);
  };
  const make = (operations: ReturnType<typeof act>, label: string, to: number) =>
    void edit(operations, label).then((done) => {
      if (done) go(Math.max(0, Math.min(to, useStore.getState().scene!.pages.length - 1)));
    });
  return (
    <Part
      name="pages"
      title="Pages"
      said={many === 1 ? "the only one" : `page ${page + 1} of ${many}`}
      width="w-[360px]"
    >
      {() => (
        <>
          <ol className="-mx-2 -my-1 max-h-[46vh] space-y-1 overflow-y-auto py-1">
            {scene.pages.map((one, index) => (
              <li
                key={index}
                className={`flex items-center gap-3 rounded-lg px-2 py-1.5 ${index === page ? "bg-slot-wash" : ""}`}
              >
                <button
                  className="flex min-w-0 flex-1 items-center gap-3 text-left"
                  aria-current={index === page}
                  onClick={() => go(index)}
                >
                  <Small scene={scene} index={index} />
                  <span>
                    <b className={index === page ? "text-slot-text" : ""}>Page {index + 1}</b>
                    <span className="block text-xs text-soft">
                      {inUnit(one.width, unit)} × {inUnit(one.height, unit)}
                    </span>
                  </span>
                </button>
                {[
                  {
                    label: "before the one above it",
                    icon: <ArrowUp size={15} />,
                    off: index === 0,
                    run: () => make(act("move-page", { page: index, to: index - 1 }), "Move the page", index - 1),
                  },
                  {
                    label: "behind the one below it",
                    icon: <ArrowDown size={15} />,
                    off: index === many - 1,
                    run: () => make(act("move-page", { page: index, to: index + 1 }), "Move the page", index + 1),
                  },
                  {
                    label: "duplicated",
                    icon: <Copy size={15} />,
                    off: false,
                    run: () => make(act("duplicate-page", { page: index }), "Duplicate the page", index + 1),
                  },
                  {
                    label: "deleted",
                    icon: <Trash2 size={15} />,
                    off: many === 1,
                    run: () => make(act("delete-page", { page: index }), "Delete the page", index),
                  },
                ].map(({ label, icon, off, run }) => (
                  <button
                    key={label}
                    className="rounded-md p-1 text-soft hover:bg-inset disabled:opacity-30"
                    disabled={off}
                    aria-label={`Page ${index + 1} ${label}`}
                    title={label[0].toUpperCase() + label.slice(1)}
                    onClick={run}
                  >
                    {icon}
                  </button>
                ))}
              </li>
            ))}
          </ol>
          <button
            className="button mt-2 -ml-3"
            onClick={() => make(act("add-page", { after: page }), "Add a page", page + 1)}
          >
            Add a page behind page {page + 1}
          </button>
          <button className="button mt-0.5 -ml-3" onClick={() => lay(scene.laid === "under" ? "beside" : "under")}>
            Lay them {scene.laid === "under" ? "beside" : "under"} one another
          </button>
          <label className="mt-1 flex items-center gap-2 text-soft">
            <input
              type="checkbox"
              className="accent-slot"
              checked={facing}
              onChange={(e) =>
                void edit([{ do: "put", at: ["facing"], value: e.target.checked }], "Pages in pairs").then(() =>
                  showPage(page),
                )
              }
            />{" "}
            pages lie open in pairs
          </label>
        </>
      )}
    </Part>
  );
}
