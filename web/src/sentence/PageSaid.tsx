import { catchOn } from "../state/viewing";
import type { Plain } from "../api/client";
import { thingsOf } from "../state/document";
import { absentSaid, chooseFonts } from "../state/fonts";
import { edit, keepTried } from "../state/sending";
import { useStore } from "../state/store";
import { tryOut } from "../state/trying";
import { inUnit, oneOrFour, shown } from "../state/units";
import { LengthField } from "./LengthField";
import { Colors, ColorsPart } from "./Paint";
import { PagesPart } from "./PagesPart";
import { Choice, Verb, Part } from "../parts/Part";
import { Clause } from "./Running";
import { Sheets } from "./SheetButtons";
import { SHEETS } from "./readySheets";

/** With nothing selected the sentence speaks of the page. */
export function PageSaid() {
  const scene = useStore((s) => s.scene);
  const open = useStore((s) => s.document);
  const snapping = useStore((s) => s.snapping);
  const spoken = useStore((s) => s.page);
  if (!scene || !open) return null;
  const unit = open.unit ?? "mm";
  const number = Math.min(spoken, scene.pages.length - 1);
  const page = scene.pages[number];
  const raw = open.pages[number];
  const things = thingsOf({ ...open, pages: [raw] });
  const nests = Object.values(scene.nests).filter((nest) => nest.page === number);
  const over = nests.reduce((sum, n) => sum + n.leftover, 0);
  const put = (field: string, value: unknown): Plain => ({ do: "put", at: ["pages", number, field], value });
  const size = (name: "width" | "height", label: string) => (
    <LengthField
      label={label}
      value={inUnit(page[name], unit)}
      onTry={(text) => tryOut([put(name, text)])}
      onKeep={(text) => void keepTried([put(name, text)], "Page size")}
    />
  );
  const absent = absentSaid(scene);
  const margins = raw.margins ?? 0;
  const guides = raw.guides ?? {};
  return (
    <>
      <Clause head="This page">
        <p>
          is <PagesPart page={number} />
          {"\u2060, "}
          <Part
            name="page-size"
            title="Size of the page"
            said={`${inUnit(page.width, unit)} by ${inUnit(page.height, unit)}`}
            width="w-80"
          >
            {() => (
              <div className="scroller max-h-96 space-y-3">
                {size("width", "Width")}
                {size("height", "Height")}
                <button
                  className="button -ml-3"
                  onClick={() => void edit([put("width", raw.height), put("height", raw.width)], "Turn the page")}
                >
                  Turn it: {page.width > page.height ? "upright" : "lying"}
                </button>
                {SHEETS.map(([head, sheets]) => (
                  <div key={head}>
                    <h4 className="eyebrow mb-1">{head}</h4>
                    <Sheets
                      sheets={sheets}
                      onChoose={(name, width, height) =>
                        void edit([put("width", width), put("height", height)], `Page size ${name}`)
                      }
                    />
                  </div>
                ))}
                <label className="flex items-center gap-3 text-soft">
                  <span className="flex-1">Figures shown in</span>
                  <select
                    className="field py-1"
                    value={unit}
                    onChange={(e) => void edit([{ do: "put", at: ["unit"], value: e.target.value }], "Unit")}
                  >
                    {[
                      ["mm", "millimetres"],
                      ["cm", "centimetres"],
                      ["in", "inches"],
                      ["pt", "points"],
                      ["pc", "picas"],
                      ["px", "pixels"],
                    ].map(([value, label]) => (
                      <option key={value} value={value}>
                        {label}
                      </option>
                    ))}
                  </select>
                </label>
              </div>
            )}
          </Part>
          {"\u2060, "}with{" "}
          <Part name="bleed" title="Bleed" said={page.bleed ? `${inUnit(page.bleed, unit)} bleed` : "no bleed"}>
            {() => (
              <LengthField
                label="Bleed"
                value={inUnit(page.bleed, unit)}
                onTry={(text) => tryOut([put("bleed", text)])}
                onKeep={(text) => void keepTried([put("bleed", text)], "Bleed")}
                hint="What is printed past the trim, and cut away."
              />
            )}
          </Part>{" "}
          and{" "}
          <Part
            name="margins"
            title="Margins"
            said={
              page.margins.some(Boolean)
                ? `${[...new Set(page.margins)].length === 1 ? inUnit(page.margins[0], unit) : page.margins.map((m) => inUnit(m, unit)).join(", ")} margins`
                : "no margins"
            }
          >
            {() => (
              <LengthField
                label="Margins"
                value={Array.isArray(margins) ? margins.map(shown).join(" ") : shown(margins)}
                onTry={(text) => tryOut([put("margins", oneOrFour(text))])}
                onKeep={(text) => void keepTried([put("margins", oneOrFour(text))], "Margins")}
                hint="One, or four: top, right, bottom, left. Things catch on them."
              />
            )}
          </Part>
          {"\u2060, "}on{" "}
          <Part name="background" title="Background" said={raw.background ? `${raw.background}` : "bare paper"}>
            {(close) => (
              <div className="space-y-3">
                <Colors
                  value={raw.background ?? null}
                  onChoose={(color, done) =>
                    done ? void keepTried([put("background", color)], "Background") : tryOut([put("background", color)])
                  }
                />
                <button
                  className="button -ml-3"
                  onClick={() => (close(), void edit([put("background", null)], "No background"))}
                >
                  Bare paper
                </button>
              </div>
            )}
          </Part>
          .{" "}
          {things.length
            ? `${upper(count(things.length, "object"))}, ${count(nests.length, "frame")}`
            : "Nothing is on it yet"}
          {nests.length > 0 && over === 0 && "\u2060, nothing left over"}
          {over > 0 && (
            <>
              {"\u2060, "}
              <b className="text-coral-text">{count(over, "word")} left over</b>
            </>
          )}
          ;{" "}
          <Part
            name="guides"
            title="Guides"
            said={
              guides.x?.length || guides.y?.length
                ? count((guides.x?.length ?? 0) + (guides.y?.length ?? 0), "guide")
                : "no guides"
            }
          >
            {() => (
              <div className="space-y-3">
                <Guides page={number} axis="x" label="From the left" values={guides.x ?? []} />
                <Guides page={number} axis="y" label="From the top" values={guides.y ?? []} />
                <p className="text-xs text-soft">Figures with units, a space between; or drag one out of a ruler.</p>
              </div>
            )}
          </Part>
          {"\u2060, "}
          <ColorsPart />
          {"\u2060, "}
          <Part name="catching" title="What is moved" said={snapping ? "catching on lines" : "moving freely"}>
            {() => (
              <Choice
                value={snapping ? "yes" : "no"}
                options={[
                  {
                    value: "yes",
                    label: "catches on lines",
                    hint: "Guides, margins, edges and middles of the page and of objects, equal gaps. Ctrl held: freely.",
                  },
                  { value: "no", label: "moves freely", hint: "Ctrl held: it catches." },
                ]}
                onChoose={(value) => catchOn(value === "yes")}
              />
            )}
          </Part>
          .{!things.length && " Draw an outline, type into it, and its rules are written here."}
          {absent && (
            <>
              {" "}
              <span className="text-coral-text">{absent}</span> <Verb onDo={chooseFonts}>Bring the font</Verb>
            </>
          )}
        </p>
      </Clause>
    </>
  );
}

/** As a sentence begins. */
const upper = (text: string) => text[0].toUpperCase() + text.slice(1);

function Guides({
  page,
  axis,
  label,
  values,
}: {
  page: number;
  axis: "x" | "y";
  label: string;
  values: (string | number)[];
}) {
  const text = values.map((v) => (typeof v === "number" ? String(Math.round(v * 100) / 100) : v)).join("  ");
  return (
    <label className="block text-soft">
      {label}
      <input
        key={text}
        className="field mt-1 w-full tabular-nums"
        defaultValue={text}
        placeholder="for example 20mm 105mm"
        onBlur={(e) => {
          const wanted = e.target.value
            .split(/[\s;]+/)
            .filter(Boolean)
            .map((v) => (/^-?[\d.]+$/.test(v) ? Number(v) : v));
          if (wanted.join() !== values.join())
            void edit([{ do: "put", at: ["pages", page, "guides", axis], value: wanted }], "Guides");
        }}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
      />
    </label>
  );
}

export function count(n: number, word: string): string {
  const small = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"];
  return `${small[n] ?? n} ${word}${n === 1 ? "" : "s"}`;
}
