import type { Face, Schemas } from "../api/client";
import { fine } from "../state/units";
import { LengthField } from "./LengthField";
import { Slider } from "./Slider";
import { Colors, PATTERNS } from "./Paint";
import { Choice, Part, Rest } from "../parts/Part";

type Rule = Schemas["RuleScene"];

/** OpenType features by what they do; those that a face lacks are not offered. */
const FEATURES: [string, string][] = [
  ["smcp", "small capitals"],
  ["c2sc", "capitals small too"],
  ["onum", "old-style figures"],
  ["lnum", "lining figures"],
  ["tnum", "figures of one width"],
  ["frac", "fractions"],
  ["dlig", "rare ligatures"],
  ["swsh", "swashes"],
  ["case", "marks for capitals"],
  ["sups", "raised"],
  ["subs", "lowered"],
];
const USUAL: [string, string][] = [
  ["liga", "ligatures"],
  ["kern", "kerning"],
];

interface Props {
  picked: Rule[];
  faces: Face[];
  attempt: (field: string) => (value: unknown) => void;
  keep: (field: string, label: string) => (value: unknown) => void;
  put: (field: string, label: string) => (value: unknown) => void;
}

/** The letters themselves: weight and slope, room between them, figures and small capitals, their stroke. */
export function LettersPart({ picked, faces, attempt, keep, put }: Props) {
  const first = picked[0];
  const own = faces.filter((f) => f.family === first.font);
  const varies = own.find((f) => f.slope === first.slope) ?? own.at(0);
  const has = new Set(own.flatMap((f) => f.features));
  const weights = [...new Set(own.map((f) => f.weight))].sort((a, b) => a - b);
  const on = (tag: string, usual = false) => (usual ? first.features[tag] !== 0 : first.features[tag] > 0);
  const toggle = (tag: string, usual = false) => {
    const next: Record<string, number> = { ...first.features };
    if (usual) {
      if (on(tag, true)) next[tag] = 0;
      else delete next[tag];
    } else if (on(tag)) delete next[tag];
    else next[tag] = 1;
    put("features", "Features")(next);
  };
  const stroke = first.letterStroke;
  // What all share is said; where they differ, that some have it.
  const inAll = (has: (rule: Rule) => boolean, said: string) =>
    picked.every(has) ? said : picked.some(has) ? `some ${said}` : "";
  const names = FEATURES.flatMap(([tag, name]) => inAll((rule) => rule.features[tag] > 0, name) || []);
  const tracked = picked.every((rule) => rule.tracking === first.tracking);
  const apart = tracked
    ? first.tracking
      ? `${first.tracking > 0 ? "set apart by" : "closed up by"} ${fine(Math.abs(first.tracking))}`
      : ""
    : "set apart in several ways";
  const weight = picked.every((rule) => rule.weight === first.weight)
    ? first.weight !== 400
      ? `weight ${first.weight}`
      : ""
    : "of several weights";
  const wide = picked.every((rule) => rule.fontWidth === first.fontWidth)
    ? varies?.widths && first.fontWidth !== 100
      ? `${fine(first.fontWidth).split(" ")[0]} % wide`
      : ""
    : "of several widths";
  const said = [
    weight,
    wide,
    inAll((rule) => rule.slope === "italic", "italic"),
    ...names,
    apart,
    inAll((rule) => rule.letterStroke !== null, "with a stroke"),
    inAll((rule) => rule.underline, "underlined"),
  ]
    .filter(Boolean)
    .join(", ");
  return (
    <Rest plain={!said}>
      {"\u2060, "}
      <Part name="letters" title="Letters" said={said || "letters as they are"} width="w-80">
        {() => (
          <div className="scroller max-h-[58vh] space-y-3">
            {varies?.weights && (
              <Axis
                name="Weight"
                ends={varies.weights}
                value={first.weight}
                onTry={attempt("weight")}
                onKeep={put("weight", "Weight")}
              />
            )}
            {varies?.widths && (
              <Axis
                name="Width"
                unit="%"
                ends={varies.widths}
                value={first.fontWidth}
                onTry={attempt("font_width")}
                onKeep={put("font_width", "Width of the letters")}
              />
            )}
            {!varies?.weights && weights.length > 1 && (
              <div>
                <h4 className="eyebrow mb-1">Weight</h4>
                <Choice
                  columns={Math.min(5, weights.length)}
                  value={String(first.weight)}
                  options={weights.map((w) => ({ value: String(w), label: String(w) }))}
                  onChoose={(w) => put("weight", "Weight")(Number(w))}
                />
              </div>
            )}
            {own.some((f) => f.slope === "italic") && (
              <Choice
                columns={2}
                value={first.slope}
                options={[
                  { value: "normal", label: "upright" },
                  { value: "italic", label: "italic" },
                ]}
                onChoose={put("slope", "Slope")}
              />
            )}
            <LengthField
              label="Between letters"
              value={fine(first.tracking, 3)}
              onTry={attempt("tracking")}
              onKeep={keep("tracking", "Tracking")}
              hint="0.05em follows the type size; below zero closes them up."
            />
            <div className="grid grid-cols-2 gap-x-3 gap-y-1">
              {USUAL.map(([tag, name]) => (
                <Check key={tag} name={name} on={on(tag, true)} onChange={() => toggle(tag, true)} />
              ))}
              {FEATURES.filter(([tag]) => has.has(tag)).map(([tag, name]) => (
                <Check key={tag} name={name} on={on(tag)} onChange={() => toggle(tag)} />
              ))}
              <Check
                name="underlined"
                on={first.underline}
                onChange={() => put("underline", "Underline")(!first.underline)}
              />
            </div>
            <div>
              <h4 className="eyebrow mb-1.5">Stroke of the letters</h4>
              {stroke ? (
                <div className="space-y-2.5">
                  <LengthField
                    label="Width"
                    value={fine(stroke.width, 3)}
                    onTry={(width) => attempt("letter_stroke")({ ...raw(stroke), width })}
                    onKeep={(width) => keep("letter_stroke", "Stroke of the letters")({ ...raw(stroke), width })}
                  />
                  <Colors
                    value={stroke.color}
                    onChoose={(color, done) =>
                      (done ? keep("letter_stroke", "Stroke of the letters") : attempt("letter_stroke"))({
                        ...raw(stroke),
                        color,
                      })
                    }
                  />
                  <Choice
                    columns={3}
                    value={!stroke.dash.length ? "none" : stroke.dash[0] === 0 ? "dotted" : "dashed"}
                    options={[
                      { value: "none", label: "unbroken" },
                      { value: "dashed", label: "dashed" },
                      { value: "dotted", label: "dotted" },
                    ]}
                    onChoose={(kind) =>
                      put("letter_stroke", "Stroke of the letters")({ ...raw(stroke), ...PATTERNS[kind] })
                    }
                  />
                  <Choice
                    columns={2}
                    value={stroke.position}
                    options={[
                      { value: "centred", label: "over the letters" },
                      { value: "outside", label: "behind them" },
                    ]}
                    onChoose={(position) => put("letter_stroke", "Stroke of the letters")({ ...raw(stroke), position })}
                  />
                  {stroke.second ? (
                    <div className="space-y-2.5 border-t border-line pt-2.5">
                      <p className="text-soft">Behind it a second stroke</p>
                      <LengthField
                        label="Its width"
                        value={fine(stroke.second.width, 3)}
                        onTry={(width) =>
                          attempt("letter_stroke")({ ...raw(stroke), second: { ...stroke.second, width } })
                        }
                        onKeep={(width) =>
                          keep(
                            "letter_stroke",
                            "Second stroke",
                          )({ ...raw(stroke), second: { ...stroke.second, width } })
                        }
                      />
                      <Colors
                        value={stroke.second.color}
                        onChoose={(color, done) =>
                          (done ? keep("letter_stroke", "Second stroke") : attempt("letter_stroke"))({
                            ...raw(stroke),
                            second: { ...stroke.second, color },
                          })
                        }
                      />
                      <button
                        className="button -ml-3"
                        onClick={() => put("letter_stroke", "No second stroke")({ ...raw(stroke), second: null })}
                      >
                        No second stroke
                      </button>
                    </div>
                  ) : (
                    <button
                      className="button -ml-3"
                      onClick={() =>
                        put("letter_stroke", "Second stroke")({ ...raw(stroke), second: { color: "paper", width: 2 } })
                      }
                    >
                      A second stroke behind it
                    </button>
                  )}
                  <button
                    className="button -ml-3"
                    onClick={() => put("letter_stroke", "No stroke of the letters")(null)}
                  >
                    No stroke
                  </button>
                </div>
              ) : (
                <button
                  className="button -ml-3"
                  onClick={() => put("letter_stroke", "Stroke of the letters")({ color: "ink", width: 0.5 })}
                >
                  Give the letters a stroke
                </button>
              )}
            </div>
          </div>
        )}
      </Part>
    </Rest>
  );
}

/** What a variable font varies in, between its ends. */
function Axis(props: {
  name: string;
  ends: NonNullable<Face["weights"]>;
  value: number;
  unit?: string;
  onTry: (value: number) => void;
  onKeep: (value: number) => void;
}) {
  const { least, greatest } = props.ends;
  return (
    <div>
      <h4 className="eyebrow mb-1">{props.name}</h4>
      <div className="flex items-center gap-2">
        <Slider
          className="min-w-0 flex-1"
          label={props.name}
          unit={props.unit}
          min={least}
          max={greatest}
          value={props.value}
          onTry={props.onTry}
          onKeep={props.onKeep}
        />
      </div>
    </div>
  );
}

function raw(stroke: NonNullable<Rule["letterStroke"]>) {
  return {
    color: stroke.color,
    width: stroke.width,
    dash: stroke.dash,
    cap: stroke.cap,
    join: stroke.join,
    position: stroke.position,
    second: stroke.second,
  };
}

function Check({ name, on, onChange }: { name: string; on: boolean; onChange: () => void }) {
  return (
    <label className="flex items-center gap-2 py-0.5 text-soft">
      <input type="checkbox" className="accent-slot" checked={on} onChange={onChange} /> {name}
    </label>
  );
}
