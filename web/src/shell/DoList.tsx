import { askOver } from "../state/viewing";
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, DialogTitle } from "@headlessui/react";
import { useMemo, useState } from "react";
import { type Deed, hinders } from "./deed";
import { DEEDS } from "./deeds";
import { keysOf } from "./keys";

const LATELY = "done-lately";
const MOST = 60;

function lately(): string[] {
  return JSON.parse(localStorage.getItem(LATELY) ?? "[]") as string[];
}

function remember(one: Deed) {
  localStorage.setItem(LATELY, JSON.stringify([one.id, ...lately().filter((id) => id !== one.id)].slice(0, 6)));
}

/** How well a deed answers to words: every word must begin one of its own, or of its everyday words. */
export function found(wanted: string, deeds: readonly Deed[]): Deed[] {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const rank = (one: Deed): number => {
    const name = one.name.toLowerCase();
    const own = name.split(/\W+/);
    const also = `${one.also ?? ""} ${one.head}`.toLowerCase().split(/\W+/);
    if (!words.every((word) => [...own, ...also].some((its) => its.startsWith(word)))) return -1;
    return (
      (name.startsWith(words.join(" ")) ? 4 : 0) + words.filter((w) => own.some((its) => its.startsWith(w))).length
    );
  };
  return deeds
    .map((one) => ({ one, rank: rank(one) }))
    .filter(({ rank }) => rank >= 0)
    .sort((a, b) => b.rank - a.rank)
    .map(({ one }) => one);
}

/** Everything that can be done, by its own words and everyday ones; what was done last comes first. */
export function DoList() {
  const [wanted, setWanted] = useState("");
  const all = useMemo(() => DEEDS.filter((one) => one.id !== "do"), []);
  const shown = useMemo(() => {
    if (wanted.trim()) return found(wanted, all).slice(0, MOST);
    const before = lately().flatMap((id) => all.find((one) => one.id === id) ?? []);
    return [...before, ...all.filter((one) => !before.includes(one))];
  }, [wanted, all]);
  const run = (one: Deed | null) => {
    if (!one || hinders(one)) return;
    remember(one);
    askOver(null);
    // Once the dialog has given the keys back.
    setTimeout(one.run, 60);
  };
  return (
    <div className="card flex max-h-[70vh] w-full max-w-xl flex-col overflow-hidden">
      <DialogTitle className="sr-only">Do …</DialogTitle>
      <Combobox value={null} onChange={run} immediate>
        <ComboboxInput
          autoFocus
          onKeyDown={(event) => event.key === "Escape" && askOver(null)}
          aria-label="Do …"
          className="m-3 mb-2 rounded-lg border border-edge bg-sheet px-4 py-2.5 font-serif text-lg outline-offset-0"
          placeholder="Do … grow, margin, heart, page number"
          onChange={(event) => setWanted(event.target.value)}
        />
        <ComboboxOptions static className="min-h-0 flex-1 overflow-y-auto px-3 pb-3">
          {shown.map((one) => {
            const why = hinders(one);
            return (
              <ComboboxOption
                key={one.id}
                value={one}
                disabled={!!why}
                className="flex items-baseline gap-3 rounded-md px-3 py-1.5 data-disabled:text-soft data-focus:bg-slot-wash"
              >
                <span className="min-w-0 flex-1 truncate">{one.name}</span>
                <span className="shrink-0 text-xs text-soft">{why ?? one.head}</span>
                <kbd className="w-24 shrink-0 text-right font-sans text-xs text-soft">{keysOf(one)}</kbd>
              </ComboboxOption>
            );
          })}
        </ComboboxOptions>
        {shown.length === 0 && (
          <p className="px-6 pb-5 text-soft">
            Nothing is called so here. Try another everyday word, such as “grow”, “margin” or “line break”.
          </p>
        )}
      </Combobox>
    </div>
  );
}
