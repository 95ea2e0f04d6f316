import { onlyVersionShown } from "../state/choosing";
import { LANGUAGES } from "../parts/languages";
import { versionSaid } from "../parts/versions";
import { act, type Operation } from "../api/client";
import type { Style, Thing } from "../state/document";
import { chooseFonts } from "../state/fonts";
import { edit, keepTried } from "../state/sending";
import { useStore } from "../state/store";
import { tryOut } from "../state/trying";
import { fine, shown } from "../state/units";
import { LengthField } from "./LengthField";
import { Choice, Verb, Part, Rest } from "../parts/Part";
import { CopyColorPart } from "./CopyColor";
import { FontList } from "./FontList";
import { LettersPart } from "./Letters";
import { OpeningPart } from "./OpeningPart";
import { StylePart } from "./StylePart";
import { Rule, looksOf, only, partly, range, rulesOf, single } from "./copyRules";
import { ShareField } from "./ShareField";
import { ALIGNS, ALIGNS_FROM_RIGHT, BREAKS, LASTS, LETTERS } from "./copyChoices";

/** *Its copy*: alignment, font, size and leading, colour, of all its paragraphs or of those selected in the galley. */
export function CopyClause({ thing, also = [] }: { thing: Thing; also?: string[] }) {
  // What is stored, not what is being tried: a field must not change under the fingers.
  const nest = useStore((s) => s.scene?.nests[thing.id]);
  const shape = useStore((s) => (nest ? s.scene?.shapes[nest.shape] : undefined));
  const faces = useStore((s) => s.faces);
  const chosen = useStore((s) => s.paragraphs);
  const stretches = useStore((s) => s.stretches);
  const onlyShown = useStore((s) => s.onlyShown);
  const several = useStore((s) => Object.keys(s.document?.copies[nest?.copyName ?? ""]?.versions ?? {}).length > 1);
  if (!nest || !shape) return <p className="text-soft">It is hidden.</p>;
  const [first, last] = chosen ?? [0, shape.ruleOf.length - 1];
  const ruled = [...shape.ruleOf.slice(first, last + 1).map((n) => shape.rules[n]), ...rulesOf(also)];
  const numbers = shape.ruleOf.map((_, i) => i).slice(first, last + 1);
  if (!ruled.length) return <p>is still empty: type in the galley, or paste.</p>;
  const words = partly(shape, stretches) ? stretches : [];
  const looks = words.length ? looksOf(shape, words, faces) : [];
  const picked = looks.length ? looks : ruled;
  const aligns = shape.fromRight.slice(first, last + 1).every(Boolean) ? ALIGNS_FROM_RIGHT : ALIGNS;
  const operations = (field: string, value: unknown): Operation[] =>
    words.length && LETTERS.has(field)
      ? act("style-stretches", {
          copy: nest.copyName,
          version: nest.version,
          stretches: words,
          look: { [field]: value },
        })
      : several
        ? act("set-rule", {
            copy: nest.copyName,
            version: nest.version,
            paragraphs: numbers,
            rule: field,
            value,
            only: onlyShown,
          })
        : numbers.map((n) => ({
            do: "put",
            at: ["copies", nest.copyName, "versions", nest.version, "paragraphs", n, field],
            value,
          }));
  const attempt = (field: string) => (value: unknown) => tryOut(operations(field, value));
  const keep = (field: string, label: string) => (value: unknown) => void keepTried(operations(field, value), label);
  const put = (field: string, label: string) => (value: unknown) => void edit(operations(field, value), label);
  const together =
    only(picked.map((r) => r.together.join("\n")))
      ?.split("\n")
      .filter(Boolean) ?? null;
  const stretch = (label: string, change: Partial<Rule["stretch"]>) =>
    put("stretch", label)({ ...picked[0].stretch, ...change });
  // What is written in ems stays so in its field.
  const written = (field: keyof Style): string | null => {
    if (words.length && LETTERS.has(field)) return null;
    const open = useStore.getState().document;
    const paragraphs = open?.copies[nest.copyName]?.versions[nest.version]?.paragraphs ?? [];
    const values = numbers.map(
      (n) =>
        paragraphs[n]?.[field] ?? (paragraphs[n]?.style ? open?.styles?.[paragraphs[n].style]?.[field] : undefined),
    );
    const one = only(values);
    return typeof one === "string" && /em|%/.test(one) ? shown(one) : null;
  };
  const align = only(picked.map((r) => r.align));
  const breaking = only(picked.map((r) => r.breaking));
  const list = picked.every((r) => r.list === picked[0].list) ? picked[0].list : undefined;
  const hyphenated = only(picked.map((r) => r.hyphenated));
  const limits = picked[0].hyphenLimits;
  const language = only(picked.map((r) => r.language));
  const font = only(picked.map((r) => r.font));
  const families = [...new Set(faces.map((f) => f.family))];
  return (
    <p>
      is <StylePart copy={nest.copyName} version={nest.version} numbers={numbers} picked={ruled} />, set{" "}
      <Part name="align" title="Alignment" said={align ? aligns[align] : "in several ways"}>
        {() => (
          <>
            <Choice
              value={align}
              options={Object.entries(aligns).map(([value, label]) => ({ value: value as Rule["align"], label }))}
              onChoose={put("align", "Alignment")}
            />
            {align === "justify" && (
              <>
                <h4 className="eyebrow mt-4 mb-1.5">Its last line</h4>
                <Choice
                  columns={4}
                  value={only(picked.map((r) => r.last))}
                  options={LASTS}
                  onChoose={put("last", "Last line")}
                />
                <h4 className="eyebrow mt-4 mb-1.5">Word spaces, in % of the font’s own</h4>
                <div className="grid grid-cols-2 gap-3">
                  <ShareField
                    label="at least"
                    value={only(picked.map((r) => r.stretch.least))}
                    unsaid={new Set(picked.map((r) => r.stretch.least)).size > 1 ? "several" : "by font"}
                    onKeep={(least) => stretch("Word spaces", { least })}
                    low={30}
                    high={100}
                  />
                  <ShareField
                    label="at most"
                    value={only(picked.map((r) => r.stretch.greatest))}
                    onKeep={(greatest) => stretch("Word spaces", { greatest: greatest ?? 1 })}
                    low={100}
                    high={2000}
                  />
                </div>
                <h4 className="eyebrow mt-4 mb-1.5">Fitted letters share what is free</h4>
                <div className="grid grid-cols-2 gap-3">
                  <ShareField
                    label="between them, ± % of an em"
                    value={only(picked.map((r) => r.stretch.letter_space))}
                    onKeep={(share) => stretch("Fitted letters", { letter_space: share ?? 0 })}
                    low={0}
                    high={2}
                    step={0.25}
                  />
                  <ShareField
                    label="in their widths, ± %"
                    value={only(picked.map((r) => r.stretch.letter_width))}
                    onKeep={(share) => stretch("Fitted letters", { letter_width: share ?? 0 })}
                    low={0}
                    high={1.5}
                    step={0.25}
                  />
                </div>
              </>
            )}
          </>
        )}
      </Part>
      {"\u2060, "}its lines{" "}
      <Part name="breaking" title="Where lines end" said={breaking ? BREAKS[breaking][0] : "ended in several ways"}>
        {() => (
          <>
            <Choice
              value={breaking}
              options={Object.entries(BREAKS).map(([value, [label, hint]]) => ({
                value: value as Rule["breaking"],
                label,
                hint,
              }))}
              onChoose={put("breaking", "Where lines end")}
            />
            <h4 className="eyebrow mt-4 mb-1.5">Words kept together</h4>
            <input
              className="field w-full py-1 text-sm"
              aria-label="Words kept together"
              placeholder="names of several words, by commas"
              key={together?.join()}
              defaultValue={together?.join(", ") ?? ""}
              onBlur={(e) => {
                const words = e.target.value
                  .split(",")
                  .map((w) => w.trim())
                  .filter(Boolean);
                if (together === null || words.join() !== together.join())
                  put("together", "Words kept together")(words);
              }}
              onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
            />
          </>
        )}
      </Part>{" "}
      and{" "}
      <Part
        name="hyphenate"
        title="Hyphenation"
        said={hyphenated === null ? "hyphenated in part" : hyphenated ? "hyphenated" : "not hyphenated"}
      >
        {() => (
          <>
            <Choice
              value={hyphenated === null ? null : hyphenated ? "yes" : "no"}
              options={[
                { value: "no", label: "not hyphenated", hint: "Soft hyphens in the copy still count." },
                {
                  value: "yes",
                  label: "hyphenated",
                  hint: picked.every((r) => r.canHyphenate)
                    ? "By the rules of the copy’s language."
                    : "There are no rules for the copy’s language: only soft hyphens count.",
                },
              ]}
              onChoose={(value) => put("hyphenate", "Hyphenation")(value === "yes")}
            />
            {hyphenated && limits && (
              <div className="mt-4 space-y-2">
                {(
                  [
                    ["before", "Letters before a hyphen, at least", 1, 20],
                    ["after", "Letters behind it, at least", 1, 20],
                    ["least", "Letters of a word, at least", 2, 40],
                    ["ladder", "Hyphens in a row, at most", 1, 1000],
                  ] as const
                ).map(([field, label, low, high]) => (
                  <label key={field} className="flex items-center gap-3 text-soft">
                    <span className="flex-1">{label}</span>
                    <input
                      type="number"
                      key={limits[field]}
                      className="field w-20 py-1 text-right tabular-nums"
                      min={low}
                      max={high}
                      defaultValue={limits[field]}
                      onBlur={(e) => {
                        const wanted = Math.round(
                          Math.min(high, Math.max(low, Number(e.target.value) || limits[field])),
                        );
                        if (wanted !== limits[field])
                          put("hyphenate", "Limits of hyphenation")({ ...limits, [field]: wanted });
                      }}
                      onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
                    />
                  </label>
                ))}
                <label className="flex items-center gap-2 text-soft">
                  <input
                    type="checkbox"
                    className="accent-slot"
                    checked={limits.capitals}
                    onChange={(e) =>
                      put("hyphenate", "Limits of hyphenation")({ ...limits, capitals: e.target.checked })
                    }
                  />{" "}
                  words in capitals too
                </label>
              </div>
            )}
            <h4 className="eyebrow mt-4 mb-1.5">A line’s ends</h4>
            <Choice
              columns={2}
              value={
                only(picked.map((r) => r.hangPunctuation)) === null
                  ? null
                  : picked[0].hangPunctuation
                    ? "hang"
                    : "stand"
              }
              options={[
                { value: "stand", label: "in the slot" },
                { value: "hang", label: "straight by eye", hint: "Marks hang outside; A, T, V, y reach over." },
              ]}
              onChoose={(value) => put("hang_punctuation", "Line ends")(value === "hang")}
            />
            <h4 className="eyebrow mt-4 mb-1.5">A last word alone</h4>
            <Choice
              columns={3}
              value={only(picked.map((r) => r.lastWord))}
              options={[
                { value: "avoided", label: "is avoided" },
                { value: "stands", label: "may stand" },
                { value: "never", label: "never stands" },
              ]}
              onChoose={(value) =>
                put("last_word_alone", "Last word alone")({ avoided: null, stands: true, never: false }[value])
              }
            />
          </>
        )}
      </Part>
      {"\u2060, "}in{" "}
      <Part name="font" title="Font" said={font ?? `${new Set(picked.map((r) => r.font)).size} fonts`}>
        {() => (
          <FontList
            families={families}
            font={font}
            absent={nest.absent}
            words={Array.from(shape?.text ?? "")
              .slice(0, 60)
              .join("")}
            onChoose={put("font", "Font")}
          />
        )}
      </Part>{" "}
      <Part
        name="size"
        title="Size and leading"
        said={`${range(picked.map((r) => r.size))}\u00a0/\u00a0${range(picked.map((r) => r.leading))}`}
      >
        {() => (
          <div className="space-y-3">
            <LengthField
              label="Type size"
              value={written("size") ?? single(picked.map((r) => r.size))}
              onTry={attempt("size")}
              onKeep={keep("size", "Type size")}
            />
            <LengthField
              label="Leading"
              value={written("leading") ?? single(picked.map((r) => r.leading))}
              onTry={attempt("leading")}
              onKeep={keep("leading", "Leading")}
              hint="1.3em follows the type size."
            />
            <LengthField
              label="Space above"
              value={written("space_before") ?? single(picked.map((r) => r.spaceBefore))}
              onTry={attempt("space_before")}
              onKeep={keep("space_before", "Space above")}
            />
            <LengthField
              label="Space below"
              value={written("space_after") ?? single(picked.map((r) => r.spaceAfter))}
              onTry={attempt("space_after")}
              onKeep={keep("space_after", "Space below")}
            />
            <div className="flex items-center gap-3">
              <label htmlFor="grid-step" className="flex-1 text-soft">
                Baselines every
              </label>
              <input
                id="grid-step"
                key={picked[0].grid}
                className="field w-28 text-right"
                placeholder="no grid"
                defaultValue={picked[0].grid ? fine(picked[0].grid) : ""}
                onBlur={(e) => {
                  const text = e.target.value.trim();
                  if (text !== (picked[0].grid ? fine(picked[0].grid) : ""))
                    put("grid", "Baseline grid")(text && text !== "0" ? text : null);
                }}
                onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
              />
            </div>
            <LengthField
              label="All lines in"
              value={written("indent") ?? single(picked.map((r) => r.indent))}
              onTry={attempt("indent")}
              onKeep={keep("indent", "Indent")}
            />
            <LengthField
              label="First line in"
              value={written("first_indent") ?? single(picked.map((r) => r.firstIndent))}
              onTry={attempt("first_indent")}
              onKeep={keep("first_indent", "First-line indent")}
            />
          </div>
        )}
      </Part>
      <Rest plain={!ruled[0].dropCap && !ruled[0].keep && !ruled[0].tabs.length}>
        {"\u2060, "}
        <OpeningPart rule={ruled[0]} put={put} />
      </Rest>
      <LettersPart picked={picked} faces={faces} attempt={attempt} keep={keep} put={put} />
      <Rest plain={list === null}>
        {"\u2060, "}
        <Part
          name="list"
          title="What stands before each paragraph"
          said={
            list === undefined
              ? "listed in part"
              : list === "bullets"
                ? "with bullets"
                : list === "numbers"
                  ? "numbered"
                  : "unlisted"
          }
        >
          {() => (
            <Choice
              value={list === undefined ? null : (list ?? "none")}
              options={[
                { value: "none", label: "nothing" },
                { value: "bullets", label: "a bullet" },
                { value: "numbers", label: "its number", hint: "Neighbours count on." },
              ]}
              onChoose={(kind) => put("list", "List")(kind === "none" ? null : { kind })}
            />
          )}
        </Part>
      </Rest>
      <Rest
        plain={
          language?.split("-")[0] === nest.version.split("-")[0] && only(picked.map((r) => r.direction)) === "auto"
        }
      >
        {"\u2060, "}in{" "}
        <Part
          name="language"
          title="Language and direction"
          said={LANGUAGES.find(([tag]) => tag === language?.split("-")[0])?.[1] ?? language ?? "several languages"}
        >
          {() => (
            <>
              <select
                className="field mb-3 w-full"
                aria-label="Language"
                value={language?.split("-")[0] ?? ""}
                onChange={(e) => put("language", "Language")(e.target.value)}
              >
                {LANGUAGES.map(([tag, name]) => (
                  <option key={tag} value={tag}>
                    {name}
                  </option>
                ))}
              </select>
              <Choice
                value={only(picked.map((r) => r.direction))}
                options={[
                  { value: "auto", label: "runs as its first letter does" },
                  { value: "ltr", label: "runs from left to right" },
                  { value: "rtl", label: "runs from right to left" },
                ]}
                onChoose={put("direction", "Direction")}
              />
            </>
          )}
        </Part>
      </Rest>
      {"\u2060, "}
      <span className="whitespace-nowrap">
        <CopyColorPart picked={picked} attempt={attempt("color")} keep={keep("color", "Colour of the copy")} />
        {several ? "," : "."}
      </span>
      {several && (
        <>
          {" "}
          <Part
            name="versions"
            title="Where its look counts"
            said={onlyShown ? `only in ${versionSaid(nest.version)}` : "in every version"}
          >
            {(close) => (
              <>
                <p className="mb-2 text-soft">
                  How copy looks is one in all its versions; words, their emphasis and their language are each version’s
                  own.
                </p>
                <Choice
                  value={onlyShown ? "only" : "every"}
                  options={[
                    { value: "every", label: "in every version" },
                    { value: "only", label: `only in ${versionSaid(nest.version)}`, hint: "what is set from now on" },
                  ]}
                  onChoose={(value) => (onlyVersionShown(value === "only"), close())}
                />
              </>
            )}
          </Part>
          .
        </>
      )}
      {nest.loose > 0 && (
        <span className="text-coral-text">
          {" "}
          {nest.loose} {nest.loose === 1 ? "line is" : "lines are"} too short of words to justify.
        </span>
      )}
      {nest.absent.length > 0 && (
        <span className="text-coral-text">
          {" "}
          {nest.absent.map((a) => a.family).join(" and ")} {nest.absent.length === 1 ? "is" : "are"} not here:{" "}
          {nest.absent[0].by} stands in. <Verb onDo={chooseFonts}>Bring the font</Verb>
        </span>
      )}
      {nest.missing > 0 && (
        <span className="text-coral-text">
          {" "}
          {nest.missing} {nest.missing === 1 ? "letter is" : "letters are"} in no font.
        </span>
      )}
      {nest.fallback.length > 0 && (
        <span className="text-soft">
          {" "}
          What {font ?? "its font"} lacks is set in {nest.fallback.join(" and ")}.
        </span>
      )}
      {nest.broken && <span className="text-coral-text"> A word is wider than every line and had to be broken.</span>}
    </p>
  );
}
