import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useEffect, useRef } from "react";
import { useStore } from "../state/store";
import { say } from "../state/viewing";
import { bringRecipes, dropFromLibrary, forNewFrames, heldSaid, loadLibrary } from "./library";

/** All recipes, with no document open: which one new frames follow, brought in and given out as JSON. */
export function Library({ open, onClose }: { open: boolean; onClose: () => void }) {
  const library = useStore((s) => s.library);
  const file = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (open) loadLibrary().catch((error: Error) => say(error.message, "fault"));
  }, [open]);
  const chosen = library.find((r) => r.for_new_frames);
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/25 p-6">
        <DialogPanel className="card flex max-h-[84vh] w-full max-w-2xl flex-col p-7">
          <DialogTitle className="font-serif text-2xl font-bold">Recipes</DialogTitle>
          <p className="mt-1 max-w-xl text-soft">
            Rules with a name, for every document. Save one from any frame, in the sentence at its foot; frames that
            follow it follow its changes.
          </p>
          <ul className="mt-4 min-h-0 flex-1 divide-y divide-line overflow-y-auto border-y border-line">
            {library.map((recipe) => (
              <li key={recipe.name} className="flex items-center gap-3 py-2">
                <div className="min-w-0 flex-1">
                  <h3 className="truncate font-bold">
                    {recipe.name}{" "}
                    {!recipe.own && (
                      <span className="text-xs font-normal text-soft">{recipe.team ?? "ready made"}</span>
                    )}
                  </h3>
                  <p className="truncate text-xs text-soft">{heldSaid(recipe.rules)}</p>
                </div>
                <label
                  className={`flex items-center gap-1.5 text-sm ${recipe.for_new_frames ? "font-bold text-slot-text" : "text-soft"}`}
                >
                  <input
                    type="checkbox"
                    className="accent-slot"
                    checked={recipe.for_new_frames}
                    onChange={(e) => void forNewFrames(e.target.checked ? recipe.name : null)}
                  />
                  for new frames
                </label>
                <button
                  className="button px-2"
                  disabled={!recipe.own}
                  aria-label={`Take out ${recipe.name}`}
                  onClick={() => void dropFromLibrary(recipe)}
                >
                  Take out
                </button>
              </li>
            ))}
          </ul>
          <p className="mt-3 text-sm text-soft">
            {chosen ? `New frames follow ${chosen.name}.` : "New frames follow none: they begin plain."}
          </p>
          <div className="mt-4 flex gap-2">
            <button className="button-main" onClick={onClose}>
              Done
            </button>
            <span className="flex-1" />
            <button className="button" onClick={() => file.current?.click()}>
              Bring in recipes
            </button>
            <a
              className={`button ${library.some((r) => r.own) ? "" : "pointer-events-none text-soft"}`}
              href="/api/recipes/library.json"
              download
            >
              Give out as JSON
            </a>
            <input
              ref={file}
              hidden
              type="file"
              accept=".json,application/json"
              aria-label="File of recipes"
              onChange={(event) => {
                if (event.target.files?.[0]) void bringRecipes(event.target.files[0]);
                event.target.value = "";
              }}
            />
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
