import { useState } from "react";
import type { Schemas } from "../api/client";
import { act } from "../api/client";
import { edit } from "../state/sending";
import { useStore } from "../state/store";
import { tryOut, stopTrying } from "../state/trying";
import { Part } from "../parts/Part";

interface Props {
  copy: string;
  version: string;
  numbers: number[];
  picked: Schemas["RuleScene"][];
}

/** The paragraphs' named style; where they depart from it, that is said and can be undone. */
export function StylePart({ copy, version, numbers, picked }: Props) {
  const styles = useStore((s) => s.document?.styles) ?? {};
  const recipe = useStore((s) => {
    const follows = s.selected ? s.scene?.objects[s.selected]?.follows : null;
    return follows?.text ? follows.recipe : null;
  });
  const [name, setName] = useState("");
  const same = picked.every((r) => r.style === picked[0].style);
  const style = same ? picked[0].style : null;
  const departs = [...new Set(picked.flatMap((r) => r.departs))];
  const given = (to: string | null) =>
    act("set-style", { copy, version, paragraphs: numbers, style: to, only: useStore.getState().onlyShown });
  const make = (to: string) =>
    act("style-from", { copy, version, paragraph: numbers[0], name: to, only: useStore.getState().onlyShown });
  return (
    <Part
      name="style"
      title="Style"
      said={
        !same
          ? "of several styles"
          : style
            ? `${style}${departs.length ? ", changed here" : ""}`
            : recipe
              ? `styled as ${recipe}`
              : "of no style"
      }
    >
      {(close) => (
        <div className="space-y-3">
          <div role="radiogroup" aria-label="Style" className="scroller max-h-56" onMouseLeave={stopTrying}>
            {[...Object.keys(styles), null].map((one) => (
              <button
                key={one ?? ""}
                role="radio"
                aria-checked={same && one === style}
                className={`block w-full rounded-md px-2.5 py-1.5 text-left ${same && one === style ? "bg-slot-wash font-bold text-slot-text" : "hover:bg-inset"}`}
                onMouseEnter={() => tryOut(given(one))}
                onClick={() => (close(), void edit(given(one), "Style"))}
              >
                {one ?? "no style"}
              </button>
            ))}
          </div>
          {style && departs.length > 0 && (
            <>
              <p className="text-soft">Set otherwise here: {departs.map((d) => d.replaceAll("_", " ")).join(", ")}.</p>
              <div className="flex flex-wrap gap-1">
                <button
                  className="button -ml-3"
                  onClick={() => (close(), void edit(given(style), "Back to the style"))}
                >
                  Back to {style}
                </button>
                <button className="button" onClick={() => (close(), void edit(make(style), "Change the style"))}>
                  Make {style} so everywhere
                </button>
              </div>
            </>
          )}
          <form
            className="flex gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              if (!name.trim()) return;
              close();
              void edit(make(name.trim()), "New style");
            }}
          >
            <input
              className="field min-w-0 flex-1"
              placeholder="New style of this paragraph"
              aria-label="Name of a new style"
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
            <button className="button" disabled={!name.trim() || name.trim() in styles}>
              Make
            </button>
          </form>
        </div>
      )}
    </Part>
  );
}
