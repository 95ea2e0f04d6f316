import { speakOfRecipe } from "../state/choosing";
import { useEffect, useRef, useState } from "react";
import { act } from "../api/client";
import { Part } from "../parts/Part";
import { type Thing, thingsOf } from "../state/document";
import { edit } from "../state/sending";
import { selection, useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { heldSaid, keepInLibrary, ruleWord } from "./library";

/** *Follows a recipe*: choose one, see where the frame departs, return, change the recipe, let go, save one. */
export function RecipePart({ thing }: { thing: Thing }) {
  const object = useStore((s) => s.scene?.objects[thing.id]);
  const nest = useStore((s) => s.scene?.nests[thing.id]);
  const follows = object?.follows;
  const departs = [...(follows?.departs ?? []), ...(nest?.textDeparts ?? [])];
  const [saving, setSaving] = useState(false);
  const name = follows?.recipe;
  return (
    <Part
      name="recipe"
      title="Recipe"
      width="w-80"
      said={
        name
          ? `follows ${name}${departs.length ? `, but for its ${departs.length > 2 ? `${departs.length} rules` : departs.map(ruleWord).join(" and ")}` : ""}`
          : "follows no recipe"
      }
    >
      {(close) =>
        saving ? (
          <SaveRecipe
            thing={thing}
            version={nest?.version}
            name={name ?? ""}
            onDone={() => (setSaving(false), close())}
          />
        ) : (
          <div className="scroller max-h-[60vh] space-y-3">
            <RecipeList ids={[thing.id]} version={nest?.version} chosen={name ?? null} close={close} />
            {name && departs.length > 0 && (
              <div>
                <h4 className="eyebrow mb-1">Set otherwise here</h4>
                <ul>
                  {departs.map((rule) => (
                    <li key={rule} className="flex items-center">
                      <span className="flex-1">{ruleWord(rule)}</span>
                      <button
                        className="button px-2 py-1"
                        onMouseEnter={() =>
                          tryOut(act("return-to-recipe", { object: thing.id, rules: [rule], version: nest?.version }))
                        }
                        onMouseLeave={stopTrying}
                        onClick={() =>
                          void edit(
                            act("return-to-recipe", { object: thing.id, rules: [rule], version: nest?.version }),
                            "Back to the recipe",
                          )
                        }
                      >
                        return
                      </button>
                    </li>
                  ))}
                </ul>
                <div className="-ml-3 flex flex-wrap">
                  <button
                    className="button"
                    onClick={() => (
                      close(),
                      void edit(
                        act("return-to-recipe", { object: thing.id, rules: departs, version: nest?.version }),
                        "Back to the recipe",
                      )
                    )}
                  >
                    Return in all
                  </button>
                  <button
                    className="button"
                    onMouseEnter={() => tryOut(act("recipe-from", { object: thing.id, version: nest?.version }))}
                    onMouseLeave={stopTrying}
                    onClick={() => (
                      close(),
                      void edit(act("recipe-from", { object: thing.id, version: nest?.version }), "Change the recipe")
                    )}
                  >
                    Make {name} so for all
                  </button>
                </div>
              </div>
            )}
            <div className="-mx-3 border-t border-line pt-2">
              {name && (
                <>
                  <button className="button block w-full text-left" onClick={() => (close(), speakOfRecipe(name))}>
                    Change {name} <Followers name={name} />
                  </button>
                  <button className="button block w-full text-left" onClick={() => void keepInLibrary(name)}>
                    Keep {name} in the library
                  </button>
                  <button
                    className="button block w-full text-left"
                    onClick={() => (
                      close(),
                      void edit(act("let-go", { objects: [thing.id], version: nest?.version }), "Let go of the recipe")
                    )}
                  >
                    Let this frame go
                  </button>
                </>
              )}
              <button className="button block w-full text-left" onClick={() => (stopTrying(), setSaving(true))}>
                Save a recipe of this frame …
              </button>
            </div>
          </div>
        )
      }
    </Part>
  );
}

function Followers({ name }: { name: string }) {
  const count = useStore((s) => (s.document ? thingsOf(s.document).filter((t) => t.recipe === name).length : 0));
  return (
    <span className="text-soft">
      {count === 1 ? "for the one frame that follows it" : `for the ${count} frames that follow it`}
    </span>
  );
}

/** The recipes of the document, then those of the library; pointing at one shows it. */
export function RecipeList({
  ids,
  version,
  chosen,
  close,
}: {
  ids: string[];
  version?: string;
  chosen: string | null;
  close: () => void;
}) {
  const here = useStore((s) => s.document?.recipes) ?? {};
  const library = useStore((s) => s.library);
  const all = [
    ...Object.entries(here).map(([name, rules]) => ({ name, rules, from: "here" })),
    ...library
      .filter((r) => !(r.name in here))
      .map((r) => ({ name: r.name, rules: r.rules, from: r.own ? "your library" : (r.team ?? "ready made") })),
  ];
  // What is focused as it opens is not pointed at.
  const opened = useRef(0);
  useEffect(() => void (opened.current = Date.now()), []);
  const given = (one: (typeof all)[number]) =>
    act("follow", { objects: ids, recipe: one.name, version, ...(one.from === "here" ? {} : { rules: one.rules }) });
  return (
    <div role="radiogroup" aria-label="Recipe" className="-mx-1 p-0.5" onMouseLeave={stopTrying}>
      {all.map((one) => (
        <button
          key={one.name}
          role="radio"
          aria-checked={one.name === chosen}
          className={`block w-full rounded-md px-2.5 py-1 text-left ${one.name === chosen ? "bg-slot-wash font-bold text-slot-text" : "hover:bg-inset"}`}
          onMouseEnter={() => one.name !== chosen && tryOut(given(one))}
          onFocus={() => Date.now() - opened.current > 250 && one.name !== chosen && tryOut(given(one))}
          onClick={() => (close(), void edit(given(one), "Follow a recipe"))}
        >
          <span className="flex">
            <span className="flex-1">{one.name}</span>
            <span className="text-xs font-normal text-soft">{one.from}</span>
          </span>
        </button>
      ))}
    </div>
  );
}

const OFFERED = [
  "padding",
  "give",
  "least",
  "greatest",
  "whole_pixels",
  "columns",
  "gutter",
  "balance",
  "column_rule",
  "sit",
  "lift",
  "leaded",
  "hang",
  "stand",
  "band",
  "fit_type",
  "leftover",
  "wrap_lines",
  "pushed",
  "fill",
  "stroke",
  "wrap",
  "text",
];

function SaveRecipe({
  thing,
  version,
  name: old,
  onDone,
}: {
  thing: Thing;
  version?: string;
  name: string;
  onDone: () => void;
}) {
  const own = new Set([
    ...Object.keys(thing.frame ?? {}),
    ...["fill", "stroke", "wrap"].filter((field) => thing[field as keyof Thing] !== undefined),
    "text",
  ]);
  const [name, setName] = useState("");
  const [rules, setRules] = useState(OFFERED.filter((rule) => own.has(rule)));
  const taken = useStore((s) => s.document?.recipes) ?? {};
  const flip = (rule: string) => setRules(rules.includes(rule) ? rules.filter((r) => r !== rule) : [...rules, rule]);
  return (
    <form
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!name.trim() || !rules.length) return;
        void edit(act("save-recipe", { object: thing.id, name: name.trim(), rules, version }), "Save a recipe");
        onDone();
      }}
    >
      <input
        className="field w-full"
        autoFocus
        aria-label="Name of the recipe"
        placeholder={old ? `Name, for example ${old} 2` : "Name, for example Price badge"}
        maxLength={80}
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <fieldset>
        <legend className="eyebrow mb-1">It holds</legend>
        <div className="grid max-h-[34vh] grid-cols-2 gap-x-2 overflow-y-auto text-[13px]">
          {OFFERED.map((rule) => (
            <label key={rule} className="flex items-start gap-1.5 py-0.5 leading-tight">
              <input
                type="checkbox"
                className="mt-0.5 accent-slot"
                checked={rules.includes(rule)}
                onChange={() => flip(rule)}
              />
              {ruleWord(rule)}
            </label>
          ))}
        </div>
      </fieldset>
      {name.trim() in taken && (
        <p className="text-xs text-soft">There is one of that name: it becomes so, for all that follow it.</p>
      )}
      <div className="flex gap-2">
        <button className="button-main" disabled={!name.trim() || !rules.length}>
          Save
        </button>
        <button type="button" className="button" onClick={onDone}>
          Leave it
        </button>
      </div>
    </form>
  );
}

/** Said while the sentence speaks of a recipe. */
export function OnRecipe({ name }: { name: string }) {
  const [renaming, setRenaming] = useState(false);
  const rules = useStore((s) => s.document?.recipes?.[name]);
  const done = () => speakOfRecipe(null);
  if (!rules) return null;
  return (
    <div className="flex items-center gap-2 bg-slot-wash px-6 py-1 font-sans text-sm" role="status">
      {renaming ? (
        <input
          className="field py-0.5"
          aria-label="Name of the recipe"
          autoFocus
          defaultValue={name}
          maxLength={80}
          onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
          onBlur={(e) => {
            const to = e.target.value.trim();
            setRenaming(false);
            if (to && to !== name)
              void edit(act("rename-recipe", { name, to }), "Rename the recipe").then(
                (made) => made && speakOfRecipe(to),
              );
          }}
        />
      ) : (
        <b>The recipe {name}</b>
      )}
      <span className="min-w-0 flex-1 truncate text-soft">
        is what you change here now, <Followers name={name} />. It holds {heldSaid(rules)}.
      </span>
      <button className="button py-1" onClick={() => setRenaming(true)}>
        Rename
      </button>
      <button
        className="button py-1"
        onClick={() => (done(), void edit(act("drop-recipe", { name }), "Drop the recipe"))}
        title="Frames that follow it keep their rules"
      >
        Drop it
      </button>
      <button className="button-main py-1" onClick={done}>
        Done
      </button>
    </div>
  );
}

/** Several frames: a recipe for all of them. */
export function RecipesOfSeveral() {
  const ids = useStore((s) => selection(s).join("\n")).split("\n");
  const open = useStore((s) => s.document);
  const frames = open ? thingsOf(open).filter((t) => ids.includes(t.id) && t.frame) : [];
  if (!frames.length) return null;
  const names = new Set(frames.map((t) => t.recipe ?? null));
  const chosen = names.size === 1 ? [...names][0] : null;
  return (
    <Part
      name="recipe"
      title="Recipe"
      width="w-80"
      said={names.size > 1 ? "follow several recipes" : chosen ? `follow ${chosen}` : "follow no recipe"}
    >
      {(close) => <RecipeList ids={frames.map((t) => t.id)} chosen={chosen} close={close} />}
    </Part>
  );
}
