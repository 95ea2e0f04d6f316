import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { COLORS, DEFAULTS } from "../api/rules";
import type { Plain } from "../api/client";
import type { Fill, Stroke } from "../state/document";
import { edit, keepTried } from "../state/sending";
import { useStore } from "../state/store";
import { tryOut } from "../state/trying";
import { shown } from "../state/units";
import { LengthField } from "./LengthField";
import { Pipette } from "lucide-react";
import { useEffect, useMemo, useRef, useState } from "react";
import { pixelPressed } from "../bench/pipette";
import { colorsUsed } from "../state/colors";
import { Choice, Part } from "../parts/Part";
import { Slider } from "./Slider";

/** A colour as it is called: one that is given by its figure by the name that the document has for it. */
export function colorSaid(
  color: string,
  named: Record<string, string> = useStore.getState().document?.colors ?? {},
): string {
  if (!color.startsWith("#")) return color;
  const long = (figure: string) =>
    (figure.length === 4 ? `#${[...figure.slice(1)].map((c) => c + c).join("")}` : figure).toLowerCase();
  return Object.entries({ ...COLORS, ...named }).find(([, figure]) => long(figure) === long(color))?.[0] ?? color;
}

/** A fill in words: its tint, its colour, and how opaque it is. */
export function fillSaid(fill: Fill): string {
  const tint = fill.tint !== undefined && fill.tint < 100 ? `${fill.tint} % ` : "";
  const opacity = fill.opacity !== undefined && fill.opacity < 1 ? `, ${Math.round(fill.opacity * 100)} % opaque` : "";
  return `${withArticle(`${tint}${colorSaid(fill.color)} fill`)}${opacity}`;
}

/** A stroke in words. */
export function strokeSaid(stroke: Stroke): string {
  const dash = !stroke.dash?.length ? "" : isDotted(stroke) ? "dotted " : "dashed ";
  const opacity =
    stroke.opacity !== undefined && stroke.opacity < 1 ? `, ${Math.round(stroke.opacity * 100)} % opaque` : "";
  return `${withArticle(`${shown(stroke.width ?? DEFAULTS.stroke.width)} ${dash}${colorSaid(stroke.color ?? DEFAULTS.stroke.color)} stroke`)}${opacity}`;
}

/** `a 20 % straw fill`, `an 8 pt stroke`, `an ink fill`: as it is read. */
function withArticle(text: string): string {
  return /^(8|11|18)(\D|$)|^8\d|^[aeiou]/i.test(text) ? `an ${text}` : `a ${text}`;
}

function isDotted(stroke: Pick<Stroke, "dash">): boolean {
  return /^0(em|pt)?$/.test(String(stroke.dash?.[0] ?? "").replace(/\s/g, ""));
}

/** Patterns of dashes, an em being the width of their stroke: they keep their look at every width. */
export const PATTERNS: Record<"none" | "dashed" | "dotted", Pick<Stroke, "dash" | "cap">> = {
  none: { dash: [], cap: "butt" },
  dashed: { dash: ["3em", "2em"], cap: "butt" },
  dotted: { dash: ["0em", "2.5em"], cap: "round" },
};

/** Colours by name, those the document uses first; one typed, or taken from the page. With the object whose copy it
 * is of, its contrast is said. */
export function Colors({
  value,
  of,
  onChoose,
}: {
  value: string | null;
  /** The object whose copy has it. */
  of?: string;
  onChoose: (color: string, done: boolean) => void;
}) {
  const open = useStore((s) => s.document);
  const all = useMemo(() => {
    const named: Record<string, string> = { ...COLORS, ...open?.colors };
    const used = colorsUsed({ pages: open?.pages, copies: open?.copies, styles: open?.styles });
    // Ordered once for a look at them: what is chosen does not move.
    return Object.entries(named).sort(([a], [b]) => (used.get(b) ?? 0) - (used.get(a) ?? 0));
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [open?.colors]);
  const figure = value?.startsWith("#") ? value : (all.find(([name]) => name === value)?.[1] ?? "#000000");
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      {all.map(([name, color]) => (
        <button
          key={name}
          title={name}
          aria-label={name}
          aria-pressed={name === value}
          onClick={() => onChoose(name, true)}
          className={`h-7 w-7 rounded-full border ${name === value ? "ring-2 ring-slot ring-offset-2 ring-offset-sheet" : ""}`}
          style={{ background: color, borderColor: "rgb(0 0 0 / 0.2)" }}
        />
      ))}
      <TeamColors onNamed={(name) => onChoose(name, true)} />
      {value?.startsWith("#") && <NameColor figure={value} onNamed={(name) => onChoose(name, true)} />}
      <TypedColor key={figure} figure={figure} names={all.map(([name]) => name)} onChoose={onChoose} />
      <button
        className="button flex items-center gap-1.5 px-2 py-1 text-xs"
        onClick={() => void pixelPressed().then((color) => color && onChoose(color, true))}
      >
        <Pipette size={14} aria-hidden /> from the page
      </button>
      <label className="flex items-center gap-1.5 text-xs text-soft">
        mixed
        <input
          type="color"
          className="h-7 w-9 cursor-pointer rounded border border-edge bg-sheet p-0.5"
          value={figure}
          onInput={(e) => onChoose(e.currentTarget.value, false)}
          onChange={(e) => onChoose(e.currentTarget.value, true)}
        />
      </label>
      {of && value && <Contrast color={value} of={of} />}
    </div>
  );
}

/** Colours of one's teams that the document has not: one that is chosen comes into it by the name that it gets
 * there. */
function TeamColors({ onNamed }: { onNamed: (name: string) => void }) {
  const id = useStore((s) => s.id);
  const colors = useStore((s) => s.document?.colors);
  const more = useQuery({
    queryKey: ["colors", id, colors],
    queryFn: () => answer(api.GET("/api/documents/{document_id}/colors", { params: { path: { document_id: id! } } })),
    enabled: id !== null,
    placeholderData: keepPreviousData, // those that are looked at stay where they are until it is known which are left
    staleTime: 60_000,
  }).data;
  return more?.map(({ name, said, figure }) => (
    <button
      key={name}
      title={said}
      aria-label={said}
      onClick={() =>
        void edit([{ do: "put", at: ["colors", name], value: figure }], "Colour of the team").then(
          (made) => made && onNamed(name),
        )
      }
      className="h-7 w-7 rounded-md border"
      style={{ background: figure, borderColor: "rgb(0 0 0 / 0.2)" }}
    />
  ));
}

/** What a typed colour is, and how well copy of it is read in an object. */
async function colorRead(text: string, object?: string) {
  const id = useStore.getState().id!;
  return answer(
    api.POST("/api/documents/{document_id}/colors/read", {
      params: { path: { document_id: id } },
      body: { text, object },
    }),
  );
}

/** The ratio of a colour to what lies behind it, and whether that is enough to be read. */
function Contrast({ color, of }: { color: string; of: string }) {
  const revision = useStore((s) => s.revision);
  const read = useQuery({
    queryKey: ["contrast", of, color, revision],
    queryFn: () => colorRead(color, of),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  }).data;
  if (!read || read.contrast === null) return null;
  return (
    <p className={`w-full text-xs ${read.poor ? "text-coral-text" : "text-soft"}`} role="note">
      <b className="tabular-nums">{read.contrast.toFixed(1)} : 1</b> on {read.behind}, {read.said}
    </p>
  );
}

/** A colour by its name, as hex, RGB or CMYK in per cent. */
function TypedColor({
  figure,
  names,
  onChoose,
}: {
  figure: string;
  names: string[];
  onChoose: (color: string, done: boolean) => void;
}) {
  const [text, setText] = useState(figure);
  const [none, setNone] = useState(false);
  const asked = useRef(0);
  const there = useRef(true);
  useEffect(() => {
    there.current = true;
    return () => void (there.current = false);
  }, []);
  const choose = (color: string | null, done: boolean) => {
    setNone(color === null);
    if (color && (done ? color !== figure : there.current)) onChoose(color, done);
  };
  const read = async (typed: string, done: boolean) => {
    const mine = ++asked.current;
    // What is written as it is stored needs no reading.
    if (names.includes(typed) || /^#[0-9a-f]{6}$/.test(typed)) return choose(typed, done);
    const color = (await colorRead(typed).catch(() => null))?.color ?? null;
    if (mine === asked.current) choose(color, done);
  };
  const keep = () => void (text !== figure && read(text, true));
  return (
    <input
      className="field w-36 py-0.5 tabular-nums"
      aria-label="Colour by name, hex, RGB or CMYK"
      title="A name, #1d3a33, 29 58 51, or four figures of CMYK in per cent"
      aria-invalid={none}
      value={text}
      spellCheck={false}
      onFocus={(e) => e.target.select()}
      onChange={(e) => {
        setText(e.target.value);
        void read(e.target.value, false);
      }}
      onKeyDown={(e) => e.key === "Enter" && keep()}
      onBlur={keep}
    />
  );
}

/** Give a colour that has only a figure a name, so that it can be used and changed everywhere. */
function NameColor({ figure, onNamed }: { figure: string; onNamed: (name: string) => void }) {
  const named = useStore((s) => s.document?.colors) ?? {};
  const [name, setName] = useState("");
  const taken = name.trim() in named || name.trim() in COLORS;
  return (
    <form
      className="flex w-full gap-2 pt-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (!name.trim() || taken) return;
        const naming = edit([{ do: "put", at: ["colors", name.trim()], value: figure }], "Name a colour");
        void naming.then((done) => done && onNamed(name.trim()));
      }}
    >
      <span className="h-7 w-7 shrink-0 rounded-full border border-black/20" style={{ background: figure }} />
      <input
        className="field min-w-0 flex-1 py-0.5"
        placeholder={`name ${figure}`}
        aria-label="Name of this colour"
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <button className="button px-2 py-0.5" disabled={!name.trim() || taken}>
        Name
      </button>
    </form>
  );
}

/** The document's colours: changed or renamed here, they change everywhere. */
export function ColorsPart() {
  const named = useStore((s) => s.document?.colors) ?? {};
  const entries = Object.entries(named);
  return (
    <Part
      name="colors"
      title="Colours of the document"
      said={`${entries.length || "no"} named ${entries.length === 1 ? "colour" : "colours"}`}
    >
      {() => (
        <div className="scroller max-h-72 space-y-1.5">
          {entries.map(([name, figure]) => (
            <div key={name} className="flex items-center gap-2">
              <input
                type="color"
                aria-label={`Colour ${name}`}
                className="h-7 w-9 shrink-0 cursor-pointer rounded border border-line bg-sheet p-0.5"
                value={figure}
                onInput={(e) => tryOut([{ do: "put", at: ["colors", name], value: e.currentTarget.value }])}
                onChange={(e) =>
                  void keepTried(
                    [{ do: "put", at: ["colors", name], value: e.currentTarget.value }],
                    "Change a colour",
                    `color:${name}`,
                  )
                }
              />
              <input
                className="field min-w-0 flex-1 py-0.5"
                aria-label={`Name of ${name}`}
                defaultValue={name}
                key={name}
                onBlur={(e) =>
                  e.target.value.trim() &&
                  e.target.value.trim() !== name &&
                  void edit(
                    [{ do: "act", act: "rename-color", given: { name, to: e.target.value.trim() } }],
                    "Rename a colour",
                  )
                }
                onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
              />
            </div>
          ))}
          <p className="pt-1 text-xs text-soft">Changed or renamed here, a colour changes everywhere.</p>
        </div>
      )}
    </Part>
  );
}

/** Try while a colour is being looked for, keep when it is found. */
function change(operations: Plain[], label: string, done: boolean) {
  if (done) void keepTried(operations, label, `${label}:${JSON.stringify(operations[0].at)}`);
  else tryOut(operations);
}

export function FillPart({ id, fill }: { id: string; fill: Fill | null }) {
  const at = ["objects", id, "fill"];
  const put = (value: Fill, done = true) => change([{ do: "put", at, value }], "Fill", done);
  const base = fill ?? { color: "straw" };
  return (
    <Part name="fill" title="Fill of the outline" said={fill ? fillSaid(fill) : "no fill"}>
      {(close) => (
        <div className="space-y-3">
          <Colors value={fill?.color ?? null} onChoose={(color, done) => put({ ...base, color }, done)} />
          {fill && (
            <>
              <Percent
                label="Tint"
                value={fill.tint ?? DEFAULTS.fill.tint}
                onChange={(tint, done) => put({ ...fill, tint }, done)}
              />
              <Percent
                label="Opacity"
                value={Math.round((fill.opacity ?? DEFAULTS.fill.opacity) * 100)}
                onChange={(share, done) => put({ ...fill, opacity: share / 100 }, done)}
              />
              <button
                className="button -ml-3"
                onClick={() => (close(), void edit([{ do: "put", at, value: null }], "No fill"))}
              >
                No fill
              </button>
            </>
          )}
        </div>
      )}
    </Part>
  );
}

function Percent({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number;
  onChange: (value: number, done: boolean) => void;
}) {
  return (
    <div className="flex items-center gap-3 text-soft">
      <span className="w-16">{label}</span>
      <Slider
        label={label}
        unit="%"
        className="min-w-0 flex-1"
        min={0}
        max={100}
        value={value}
        onTry={(n) => onChange(n, false)}
        onKeep={(n) => onChange(n, true)}
      />
    </div>
  );
}

const DASHES: { value: "none" | "dashed" | "dotted"; label: string }[] = [
  { value: "none", label: "unbroken" },
  { value: "dashed", label: "dashed" },
  { value: "dotted", label: "dotted" },
];

function dashes(text: string): string[] {
  return text
    .trim()
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map((part, i, all) =>
      /^[a-z]+$/i.test(part) ? "" : /^[a-z]+$/i.test(all[i + 1] ?? "") ? `${part}${all[i + 1]}` : part,
    )
    .filter(Boolean);
}

export function StrokePart({ id, stroke }: { id: string; stroke: Stroke | null }) {
  const at = ["objects", id, "stroke"];
  const put = (value: Stroke, done = true) => change([{ do: "put", at, value }], "Stroke", done);
  const base: Stroke = stroke ?? { color: "ink", width: 1, position: "inside" };
  const dash = !stroke?.dash?.length ? "none" : isDotted(stroke) ? "dotted" : "dashed";
  return (
    <Part name="stroke" width="w-80" title="Stroke of the outline" said={stroke ? strokeSaid(stroke) : "no stroke"}>
      {(close) => (
        <div className="scroller max-h-[58vh] space-y-3">
          <LengthField
            label="Width"
            value={shown(stroke?.width ?? (stroke ? 1 : 0))}
            onTry={(width) => put({ ...base, width }, false)}
            onKeep={(width) => put({ ...base, width })}
          />
          <Colors value={stroke?.color ?? null} onChoose={(color, done) => put({ ...base, color }, done)} />
          {stroke && (
            <>
              <Choice
                columns={3}
                value={stroke.position ?? DEFAULTS.stroke.position}
                options={[
                  { value: "inside", label: "inside" },
                  { value: "centred", label: "on the edge" },
                  { value: "outside", label: "outside" },
                ]}
                onChoose={(position) => put({ ...stroke, position })}
              />
              <Choice
                columns={3}
                value={dash}
                options={DASHES}
                onChoose={(kind) => put({ ...stroke, ...PATTERNS[kind] })}
              />
              <LengthField
                label="Its own dashes"
                value={(stroke.dash ?? DEFAULTS.stroke.dash).map((d) => shown(d)).join(" ")}
                onTry={(text) => put({ ...stroke, dash: dashes(text) }, false)}
                onKeep={(text) => put({ ...stroke, dash: dashes(text) })}
                hint="Stroke and gap by turns: 6 3, or 12 3 2 3; an em is the stroke’s width."
              />
              <div>
                <p className="mb-1 text-soft">Its ends</p>
                <Choice
                  columns={3}
                  value={stroke.cap ?? DEFAULTS.stroke.cap}
                  options={[
                    { value: "butt", label: "cut" },
                    { value: "round", label: "round" },
                    { value: "square", label: "square" },
                  ]}
                  onChoose={(cap) => put({ ...stroke, cap })}
                />
              </div>
              <div>
                <p className="mb-1 text-soft">Its corners</p>
                <Choice
                  columns={3}
                  value={stroke.join ?? DEFAULTS.stroke.join}
                  options={[
                    { value: "miter", label: "pointed" },
                    { value: "round", label: "round" },
                    { value: "bevel", label: "cut off" },
                  ]}
                  onChoose={(join) => put({ ...stroke, join })}
                />
              </div>
              <Percent
                label="Opacity"
                value={Math.round((stroke.opacity ?? DEFAULTS.stroke.opacity) * 100)}
                onChange={(share, done) => put({ ...stroke, opacity: share / 100 }, done)}
              />
              <button
                className="button -ml-3"
                onClick={() => (close(), void edit([{ do: "put", at, value: null }], "No stroke"))}
              >
                No stroke
              </button>
            </>
          )}
        </div>
      )}
    </Part>
  );
}
