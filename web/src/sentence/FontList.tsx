import { useEffect, useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import { act } from "../api/client";
import { chooseFonts } from "../state/fonts";
import { edit } from "../state/sending";
import { useStore } from "../state/store";

const LATELY = "fonts-lately";
const lately = () => JSON.parse(localStorage.getItem(LATELY) ?? "[]") as string[];

const KINDS = ["serif", "sans", "display", "script", "mono"] as const;
const SCRIPTS = ["Latin", "Greek", "Cyrillic", "Arabic", "Hebrew"] as const;

/** The fonts there are: searched, by kind and by script, those used lately first, each shown in the copy's own words.
 * One that is missing is replaced everywhere at once. */
export function FontList({
  families,
  font,
  absent,
  words,
  onChoose,
}: {
  families: string[];
  font: string | null;
  absent: readonly { family: string; by: string }[];
  words: string;
  onChoose: (family: string) => void;
}) {
  const faces = useStore((s) => s.faces);
  const [wanted, setWanted] = useState("");
  const [kind, setKind] = useState("");
  const [script, setScript] = useState("");
  const about = useMemo(
    () =>
      new Map(
        [...faces]
          .reverse()
          .filter((face) => face.slope === "normal")
          .map((face) => [face.family, face]),
      ),
    [faces],
  );
  const before = useMemo(() => lately().filter((family) => families.includes(family)), [families]);
  const shown = [...before, ...families.filter((family) => !before.includes(family))].filter((family) => {
    const face = about.get(family);
    return (
      family.toLowerCase().includes(wanted.trim().toLowerCase()) &&
      (!kind || face?.kind === kind) &&
      (!script || face?.scripts.includes(script))
    );
  });
  const sample = words.replace(/\s+/g, " ").trim().slice(0, 36) || "Bring string, bring friends";
  const choose = (family: string) => {
    localStorage.setItem(LATELY, JSON.stringify([family, ...lately().filter((one) => one !== family)].slice(0, 4)));
    onChoose(family);
  };
  const there = <T extends string>(all: readonly T[], of: (face: Schemas["FaceOut"]) => readonly string[]) =>
    all.filter((one) => faces.some((face) => of(face).includes(one)));
  return (
    <div>
      <div className="flex flex-wrap gap-1.5">
        <input
          className="field w-full py-1"
          type="search"
          aria-label="Search the fonts"
          placeholder="Search"
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
        />
        <select
          className="field min-w-0 flex-1 py-1"
          aria-label="Kind"
          value={kind}
          onChange={(event) => setKind(event.target.value)}
        >
          <option value="">every kind</option>
          {there(KINDS, (face) => [face.kind]).map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
        <select
          className="field min-w-0 flex-1 py-1"
          aria-label="Script"
          value={script}
          onChange={(event) => setScript(event.target.value)}
        >
          <option value="">every script</option>
          {there(SCRIPTS, (face) => face.scripts).map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </div>
      {absent.map(({ family, by }) => (
        <p key={family} className="mt-2 text-soft">
          {family} is not here; {by} stands in.{" "}
          <button
            className="min-h-6 font-bold text-slot-text underline"
            onClick={() => void edit(act("replace-font", { font: family, by }), "Replace a font")}
          >
            Replace it everywhere by {by}
          </button>
        </p>
      ))}
      <div role="radiogroup" aria-label="Font" className="scroller mt-2 max-h-72">
        {shown.map((family, index) => (
          <button
            key={family}
            role="radio"
            aria-checked={family === font}
            aria-label={family}
            className={`block w-full rounded-md px-2.5 py-1.5 text-left ${family === font ? "bg-slot-wash text-slot-text" : "hover:bg-inset"} ${index === before.length && index ? "mt-1 border-t border-line" : ""}`}
            onClick={() => choose(family)}
          >
            <span className="block text-xs text-soft">{family}</span>
            <Sample face={about.get(family)} words={sample} />
          </button>
        ))}
        {shown.length === 0 && <p className="px-2.5 py-2 text-soft">No font here is so.</p>}
      </div>
      <button className="button mt-1 -ml-2.5 text-slot-text" onClick={chooseFonts}>
        Bring a font of your own …
      </button>
    </div>
  );
}

const loaded = new Set<string>();

/** Words in a font, which is loaded for it. */
function Sample({ face, words }: { face: Schemas["FaceOut"] | undefined; words: string }) {
  useEffect(() => {
    if (!face || loaded.has(face.key)) return;
    loaded.add(face.key);
    document.fonts.add(new FontFace(`sample ${face.family}`, `url("${face.url}")`));
  }, [face]);
  return (
    <span className="block truncate text-[17px] leading-snug" style={{ fontFamily: face && `"sample ${face.family}"` }}>
      {words}
    </span>
  );
}
