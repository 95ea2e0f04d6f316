import { askOver } from "../state/viewing";
import { DialogTitle } from "@headlessui/react";
import { type KeyboardEvent, useState } from "react";
import { changeKeys, keysOf, lettersOn, shippedKeys, strokeOf, switchLetters } from "./keys";
import { type Deed, type Head } from "./deed";
import { DEEDS } from "./deeds";
import { found } from "./DoList";

const HEADS: [Head, string][] = [
  ["Make", "Make"],
  ["Rules", "Rules"],
  ["Object", "Objects"],
  ["Points", "Points"],
  ["Look", "Look"],
  ["Go", "Go to"],
  ["Page", "Pages"],
  ["Help", "Help"],
];

/** Keys that stay as they are. */
const FIXED: [string, string][] = [
  ["Arrows", "Move by 1 pt, with Shift by 10"],
  ["Ctrl and arrows", "Size by 1 pt, with Shift by 10"],
  ["Enter", "With an outline in hand: make it in the middle of what is seen"],
  ["Tab", "While points are edited: the next point"],
  ["Esc", "Out of what goes on; then nothing is chosen"],
  ["Shift and click", "Choose one more"],
  ["Click again", "What lies behind"],
  ["Alt and drag", "Duplicate"],
  ["Space and drag", "Move the bench"],
  ["Ctrl and .", "Do …, while copy is written, too"],
  ["Ctrl and wheel", "Nearer and farther at the pointer"],
  ["Right click, menu key", "What can be done with it"],
];

/** The list of keys: searched, changed one by one, single letters switched off. */
export function KeyList() {
  const [wanted, setWanted] = useState("");
  const [changing, setChanging] = useState<{ one: Deed; strokes: string } | null>(null);
  const [said, setSaid] = useState("");
  const [letters, setLetters] = useState(lettersOn());
  const shown = wanted.trim() ? found(wanted, DEEDS) : DEEDS;
  const keep = (one: Deed, strokes: string) => {
    const had = changeKeys(one, strokes);
    setSaid(
      strokes
        ? `${one.name} has ${strokes} now.${had ? ` ${had.name} had it and has none any more.` : ""}`
        : `${one.name} has no key now.`,
    );
    setChanging(null);
  };
  const capture = (event: KeyboardEvent) => {
    if (!changing) return;
    event.preventDefault();
    event.stopPropagation();
    if (["Shift", "Control", "Meta", "Alt"].includes(event.key)) return;
    if (event.key === "Escape") return setChanging(null);
    if (event.key === "Backspace") return keep(changing.one, "");
    if (event.key === "Enter" && changing.strokes) return keep(changing.one, changing.strokes);
    const strokes = [...changing.strokes.split(" ").filter(Boolean), strokeOf(event.nativeEvent)].slice(-2);
    setChanging({ one: changing.one, strokes: strokes.join(" ") });
  };
  return (
    <div className="card flex max-h-full w-full max-w-4xl flex-col p-7">
      <div className="flex items-center gap-4">
        <DialogTitle className="flex-1 font-serif text-2xl font-bold">The keyboard</DialogTitle>
        <input
          className="field w-60"
          aria-label="Search the keys"
          placeholder="Search"
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
        />
      </div>
      <p className="mt-1 text-soft">
        Press a key in the list to give it another: one stroke, or two one after the other. They work wherever nobody
        types.
      </p>
      <p role="status" className="min-h-5 text-slot-text">
        {said}
      </p>
      <div className="-mx-2 mt-1 min-h-0 flex-1 columns-1 gap-x-8 overflow-y-auto px-2 sm:columns-2 lg:columns-3">
        {HEADS.map(([head, title]) => {
          const deeds = shown.filter((one) => one.head === head && (keysOf(one) || wanted.trim()));
          if (!deeds.length) return null;
          return (
            <div key={head} className="mb-5">
              <h3 className="eyebrow mb-1">{title}</h3>
              <ul>
                {deeds.map((one) => {
                  const now = changing?.one === one;
                  return (
                    <li key={one.id} className="flex items-center gap-2 py-px">
                      <span className="min-w-0 flex-1">{one.name}</span>
                      <button
                        className={`min-h-6 min-w-12 shrink-0 rounded-md px-2 text-right font-bold ${now ? "bg-slot-wash text-slot-text" : "hover:bg-inset"}`}
                        aria-label={`${one.name}: ${keysOf(one) || "no key"}; change`}
                        onClick={() => setChanging(now ? null : { one, strokes: "" })}
                        onKeyDown={capture}
                        onBlur={() => setChanging(null)}
                      >
                        {now ? changing.strokes || "press …" : keysOf(one) || "–"}
                      </button>
                    </li>
                  );
                })}
              </ul>
            </div>
          );
        })}
        {!wanted.trim() && (
          <div className="mb-5 break-inside-avoid">
            <h3 className="eyebrow mb-1">These stay</h3>
            <dl>
              {FIXED.map(([keys, what]) => (
                <div key={keys} className="py-px">
                  <dt className="inline font-bold">{keys}</dt> <dd className="inline text-soft">{what}</dd>
                </div>
              ))}
            </dl>
          </div>
        )}
      </div>
      <p className="mt-3 text-xs text-soft">
        While you press: Enter keeps it, Backspace takes the key away, Esc leaves it.
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-4">
        <label className="flex flex-1 items-center gap-2">
          <input
            type="checkbox"
            className="accent-slot size-4"
            checked={letters}
            onChange={(event) => {
              switchLetters(event.target.checked);
              setLetters(event.target.checked);
            }}
          />
          single letters and signs do something
        </label>
        <button
          className="button"
          onClick={() => {
            shippedKeys();
            setLetters(true);
            setSaid("All keys are as they were.");
          }}
        >
          All as they were
        </button>
        <button className="button-main" onClick={() => askOver(null)}>
          Close
        </button>
      </div>
    </div>
  );
}
