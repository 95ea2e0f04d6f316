import { DEFAULTS } from "../api/rules";
import { useEffect, useMemo, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { NestScene, Operation, Schemas } from "../api/client";
import type { Frame, Thing } from "../state/document";
import { edit, keepTried } from "../state/sending";
import { shownScene, useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { inUnit, oneOrFour, shown, sidesShown, trim } from "../state/units";
import { usePoints } from "../state/lengths";
import { Tries } from "../tries/Tries";
import { ChainPart } from "./ChainPart";
import { EndHerePart } from "./EndHere";
import { GivePart } from "./GivePart";
import { LengthField } from "./LengthField";
import { Count } from "./OpeningPart";
import { OutlinePart } from "./OutlinePart";
import { count } from "./PageSaid";
import { Colors } from "./Paint";
import { PlacePart } from "./PlacePart";
import { type Mark, MetricWord } from "./MetricPart";
import { Choice, Verb, Part, Rest } from "../parts/Part";

type Rule = keyof Frame;

/** *This frame*: padding, sit, hang, stand, band. */
export function FrameClause({ thing, frame, several = false }: { thing: Thing; frame: Frame; several?: boolean }) {
  const nest = useStore(
    useShallow((s) => {
      const all = shownScene(s)?.nests[thing.id];
      return (
        all && {
          leftover: all.leftover,
          exact: all.exact,
          residue: all.residue,
          proposal: all.proposal,
          factor: all.factor,
          size: all.size,
        }
      );
    }),
  );
  const operations = (rule: Rule, value: unknown): Operation[] => [
    { do: "put", at: ["objects", thing.id, "frame", rule], value },
  ];
  const put = (rule: Rule, label: string) => (value: unknown) => void edit(operations(rule, value), label);
  const attempt = (rule: Rule) => (value: unknown) => tryOut(operations(rule, value));
  const keep = (rule: Rule, label: string) => (value: unknown) => void keepTried(operations(rule, value), label);
  const sit = frame.sit ?? DEFAULTS.frame.sit;
  // By what is stored: while it is pointed at it is made already, and must not go away.
  const proposal = useStore((s) => s.scene?.nests[thing.id]?.proposal);
  const settled = nest && nest.leftover === 0 && sit !== "top" && !nest.exact;
  return (
    <p>
      {several ? (
        <>
          each <GivePart thing={thing} frame={frame} />
        </>
      ) : (
        <>
          is <OutlinePart thing={thing} />, <PlacePart thing={thing} />, <GivePart thing={thing} frame={frame} />
        </>
      )}
      {"\u2060, "}and keeps its copy{" "}
      <Part name="padding" title="Padding" said={sidesShown(frame.padding)}>
        {() => (
          <LengthField
            label="Room to the edge"
            value={sidesShown(frame.padding)}
            onTry={(text) => attempt("padding")(oneOrFour(text))}
            onKeep={(text) => keep("padding", "Padding")(oneOrFour(text))}
            hint="One figure, or four for the top, right, bottom and left, as in CSS: 12 8 12 24. Units and sums: 3mm, 1p6, 0.5em, 8 + 2mm"
          />
        )}
      </Part>{" "}
      from the edge, in{" "}
      <span className="whitespace-nowrap">
        <ColumnsPart thing={thing} frame={frame} attempt={attempt} keep={keep} put={put} />.
      </span>{" "}
      Lines sit{" "}
      <Part
        name="sit"
        title="Where lines sit"
        said={{ middle: "in the middle", top: "at the top", bottom: "at the bottom", leaded: "leaded out" }[sit]}
        width="w-80"
      >
        {() => (
          <>
            <Choice
              columns={4}
              value={sit}
              options={(["top", "middle", "bottom", "leaded"] as const).map((value) => ({
                value,
                label: value === "leaded" ? "leaded out" : value,
                drawing: <SitDrawing sit={value} />,
              }))}
              onChoose={put("sit", "Sit")}
            />
            {sit === "leaded" && (
              <div className="mt-3 space-y-3">
                <LengthField
                  label="Space between paragraphs, to"
                  value={shown(frame.leaded?.space ?? DEFAULTS.leaded.space)}
                  onTry={(space) => attempt("leaded")({ ...frame.leaded, space })}
                  onKeep={(space) => keep("leaded", "Leaded out")({ ...frame.leaded, space })}
                />
                <LengthField
                  label="Then the leading, to"
                  value={shown(frame.leaded?.leading ?? DEFAULTS.leaded.leading)}
                  onTry={(leading) => attempt("leaded")({ ...frame.leaded, leading })}
                  onKeep={(leading) => keep("leaded", "Leaded out")({ ...frame.leaded, leading })}
                  hint="Opened only as far as the height asks for."
                />
              </div>
            )}
            {settled && sit === "leaded" && (
              <p className="mt-3 text-soft">
                At these limits {inUnit(Math.abs(nest.residue))} of the height stay free.
              </p>
            )}
            {settled && sit !== "leaded" && (
              <p className="mt-3 text-soft">
                No exact {sit === "middle" ? "middle" : "bottom"} in this outline: {inUnit(Math.abs(nest.residue))}{" "}
                {nest.residue > 0 ? "lower" : "higher"} is nearest.
              </p>
            )}
            {nest && nest.leftover > 0 && sit !== "top" && (
              <p className="mt-3 text-soft">With words left over, lines sit at the top.</p>
            )}
            {sit === "middle" && (
              <div className="mt-3">
                <LengthField
                  label="Lifted by"
                  value={shown(frame.lift ?? DEFAULTS.frame.lift)}
                  onTry={attempt("lift")}
                  onKeep={keep("lift", "Lift")}
                  hint="A little above the middle often looks like the middle."
                />
              </div>
            )}
          </>
        )}
      </Part>
      {settled ? <span className="text-soft"> (nearest: {inUnit(Math.abs(nest.residue))} off)</span> : null}, hang from{" "}
      <HangPart
        thing={thing}
        frame={frame}
        attempt={attempt("hang")}
        keep={keep("hang", "Hang")}
        put={put("hang", "Hang")}
      />{" "}
      and stand on{" "}
      <StandPart
        thing={thing}
        frame={frame}
        attempt={attempt("stand")}
        keep={keep("stand", "Stand")}
        put={put("stand", "Stand")}
      />
      {proposal && !several && <Proposal offer={proposal} />}
      <Rest
        of="leftover"
        plain={
          (frame.leftover?.ends ?? DEFAULTS.leftover.ends) === "past-the-edge" &&
          !frame.leftover?.mark &&
          !nest?.leftover
        }
      >
        {"\u2060; "}what does not fit{" "}
        <LeftoverPart
          frame={frame}
          attempt={attempt("leftover")}
          keep={keep("leftover", "Leftover")}
          put={put("leftover", "Leftover")}
        />
      </Rest>
      <Rest of="fit" plain={!frame.fit_type && !nest?.leftover}>
        {"\u2060; "}its type{" "}
        <FitPart
          frame={frame}
          factor={nest?.factor ?? 1}
          size={nest?.size ?? 11}
          attempt={attempt("fit_type")}
          keep={keep("fit_type", "Fit the type")}
          put={put("fit_type", "Fit the type")}
        />
      </Rest>
      <Rest of="band" plain={frame.band !== "line-box"}>
        {"\u2060; "}each line needs the height of{" "}
        <Part
          name="band"
          title="The band each line needs"
          said={(frame.band ?? DEFAULTS.frame.band) === "letters" ? "its letters" : "its line box"}
        >
          {() => (
            <Choice
              value={frame.band ?? DEFAULTS.frame.band}
              options={[
                { value: "letters", label: "its letters", hint: "Copy comes as near to an edge as it looks." },
                {
                  value: "line-box",
                  label: "its line box",
                  hint: "As a browser sets it, leading included: for mockups.",
                },
              ]}
              onChoose={put("band", "Band")}
            />
          )}
        </Part>
      </Rest>
      {thing.turn ? (
        <>
          {"\u2060; "}turned by {thing.turn}°, its lines{" "}
          <Part
            name="setting"
            title="Lines of a turned outline"
            said={frame.setting === "turned" ? "turn with it" : "stay level"}
          >
            {() => (
              <Choice
                value={frame.setting ?? DEFAULTS.frame.setting}
                options={[
                  { value: "level", label: "stay level", hint: "The turned outline is filled with level lines." },
                  { value: "turned", label: "turn with it" },
                ]}
                onChoose={put("setting", "Setting")}
              />
            )}
          </Part>
        </>
      ) : null}
      . {several ? null : <ChainPart thing={thing} />} {several ? null : <Also thing={thing} />}
    </p>
  );
}

/** A change that the copy itself suggests; pointing at it shows it. */
function Proposal({ offer }: { offer: Schemas["OfferScene"] }) {
  const operations = offer.operations as unknown as Operation[];
  useEffect(() => stopTrying, []); // it may go while it is pointed at
  return (
    <>
      {" "}
      (
      <Verb
        data-part="capitals"
        title={offer.hint}
        onMouseEnter={() => tryOut(operations)}
        onMouseLeave={stopTrying}
        onDo={() => void keepTried(operations, "Capitals")}
      >
        {offer.label}
      </Verb>
      )
    </>
  );
}

/** What else can be done with one frame. */
function Also({ thing }: { thing: Thing }) {
  const [trying, setTrying] = useState(false);
  return (
    <>
      <Verb data-part="tries" onDo={() => setTrying(true)}>
        Try it several ways
      </Verb>
      {"\u2060, "}
      <EndHerePart thing={thing} /> or{" "}
      <Verb
        data-part="take-copy"
        onDo={() => void edit([{ do: "act", act: "take-copy", given: { object: thing.id } }], "Take copy out")}
      >
        take the copy out
      </Verb>
      .{trying && <Tries id={thing.id} onClose={() => setTrying(false)} />}
    </>
  );
}

const ENDS = {
  "past-the-edge": "runs past the edge",
  "at-the-edge": "is cut at the edge",
  "with-the-last-line": "ends with the last line",
} as const;

interface RuleProps {
  frame: Frame;
  attempt: (value: unknown) => void;
  keep: (value: unknown) => void;
  put: (value: unknown) => void;
}

function LeftoverPart({ frame, attempt, keep, put }: RuleProps) {
  const rule = frame.leftover ?? {};
  const ends = rule.ends ?? "past-the-edge";
  return (
    <Part name="leftover" title="What does not fit" said={`${ENDS[ends]}${rule.mark ? `, marked “${rule.mark}”` : ""}`}>
      {() => (
        <>
          <Choice
            value={ends}
            options={[
              { value: "past-the-edge", label: ENDS["past-the-edge"], hint: "Lines go on below, and print." },
              { value: "at-the-edge", label: ENDS["at-the-edge"], hint: "The same, clipped by the outline." },
              {
                value: "with-the-last-line",
                label: ENDS["with-the-last-line"],
                hint: "Nothing after the last whole line. Words are counted, never lost.",
              },
            ]}
            onChoose={(value) => put({ ...rule, ends: value })}
          />
          <h4 className="eyebrow mt-4 mb-1.5">What marks the end</h4>
          <div className="flex items-center gap-1">
            {["", "…"].map((mark) => (
              <button
                key={mark}
                className={`button px-2 py-1 ${(rule.mark ?? "") === mark ? "font-bold text-slot-text" : ""}`}
                onClick={() => put({ ...rule, mark })}
              >
                {mark || "nothing"}
              </button>
            ))}
            <input
              key={rule.mark ?? ""}
              className="field min-w-0 flex-1 py-1"
              aria-label="Text that marks the end"
              placeholder="more inside →"
              maxLength={80}
              defaultValue={rule.mark && rule.mark !== "…" ? rule.mark : ""}
              onChange={(e) => attempt({ ...rule, mark: e.target.value })}
              onBlur={(e) => e.target.value && e.target.value !== rule.mark && keep({ ...rule, mark: e.target.value })}
              onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
            />
          </div>
        </>
      )}
    </Part>
  );
}

function FitPart({ frame, factor, size, attempt, keep, put }: RuleProps & { factor: number; size: number }) {
  const fit = frame.fit_type ?? null;
  const value = !fit ? "no" : fit.grow ? "both" : "shrink";
  const limit = (which: "least" | "greatest", label: string) => {
    const next = (text: string) => {
      const made = { ...fit, [which]: /^(|none|no)$/i.test(text.trim()) ? undefined : text };
      return Object.fromEntries(Object.entries(made).filter(([, v]) => v !== undefined));
    };
    return (
      <LengthField
        label={label}
        value={fit?.[which] === undefined ? "none" : shown(fit[which])}
        onTry={(text) => attempt(next(text))}
        onKeep={(text) => keep(next(text))}
      />
    );
  };
  return (
    <Part
      name="fit"
      title="Type that follows the frame"
      said={
        !fit
          ? "keeps its size"
          : `${fit.grow ? "fills the frame" : "shrinks until all fits"}: ${trim(size)} pt${fit.set ? `, with “${fit.set}”` : ""}`
      }
      width="w-80"
    >
      {() => (
        <>
          <Choice
            value={value}
            options={[
              { value: "no", label: "keeps its size" },
              {
                value: "shrink",
                label: "shrinks until all fits",
                hint: "All its sizes and the leading, in proportion.",
              },
              { value: "both", label: "shrinks or grows until the frame is full" },
            ]}
            onChoose={(how) => put(how === "no" ? null : { ...fit, grow: how === "both" || undefined })}
          />
          {fit && (
            <div className="mt-3 space-y-3">
              {limit("least", "Least type size")}
              {fit.grow && limit("greatest", "Greatest type size")}
              <label className="flex items-center gap-3 text-soft">
                <span className="flex-1">One size with all frames called</span>
                <input
                  key={fit.set ?? ""}
                  className="field w-28 py-1"
                  placeholder="a name"
                  maxLength={80}
                  defaultValue={fit.set ?? ""}
                  onBlur={(e) =>
                    e.target.value.trim() !== (fit.set ?? "") &&
                    put({ ...fit, set: e.target.value.trim() || undefined })
                  }
                  onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
                />
              </label>
              <p className="text-xs text-soft tabular-nums">
                It comes to {trim(size)} pt, {trim(factor * 100, 1)} % of what its style says.
              </p>
            </div>
          )}
        </>
      )}
    </Part>
  );
}

function SitDrawing({ sit }: { sit: "top" | "middle" | "bottom" | "leaded" }) {
  const top = { top: 6, middle: 17, bottom: 28, leaded: 6 }[sit];
  return (
    <svg width="44" height="52" viewBox="0 0 44 52" aria-hidden>
      {(sit === "leaded" ? [0, 19, 38] : [0, 8, 16]).map((dy, i) => (
        <line
          key={dy}
          x1="7"
          x2={i === 1 ? 31 : 37}
          y1={top + dy + 1}
          y2={top + dy + 1}
          stroke="currentColor"
          strokeWidth="2.6"
          strokeLinecap="round"
        />
      ))}
    </svg>
  );
}

interface MetricProps {
  thing: Thing;
  frame: Frame;
  attempt: (value: unknown) => void;
  keep: (value: unknown) => void;
  put: (value: unknown) => void;
}

/** Heights of the first letters, as shares of their size; of a frame that has none, those of most text faces. */
function useMetrics(thing: Thing): NestScene["metrics"] {
  return useStore((s) => shownScene(s)?.nests[thing.id]?.metrics) ?? NO_COPY;
}

const NO_COPY = { ascender: 0.7, descender: 0.25, cap: 0.65, ex: 0.45, up: 0.9, down: 0.35 };

interface ColumnProps {
  thing: Thing;
  frame: Frame;
  attempt: (rule: Rule) => (value: unknown) => void;
  keep: (rule: Rule, label: string) => (value: unknown) => void;
  put: (rule: Rule, label: string) => (value: unknown) => void;
}

function ColumnsPart({ thing, frame, attempt, keep, put }: ColumnProps) {
  const columns = frame.columns ?? DEFAULTS.frame.columns;
  const rule = frame.column_rule ?? null;
  const arms = frame.arms ?? DEFAULTS.frame.arms;
  const justified = useStore((s) => {
    const nest = s.scene?.nests[thing.id];
    return (nest && s.scene?.shapes[nest.shape]?.rules.some((rule) => rule.align === "justify")) ?? false;
  });
  const gaps = useStore((s) => s.scene?.nests[thing.id]?.gaps ?? false);
  return (
    <Part
      name="columns"
      title="Columns"
      said={
        columns === 1
          ? arms === "in-turn"
            ? "one column, its parts one by one"
            : "one column"
          : `${count(columns, "column")}, ${shown(frame.gutter ?? DEFAULTS.frame.gutter)} apart${frame.balance ? ", balanced" : ""}`
      }
      width="w-80"
    >
      {() => (
        <div className="space-y-3">
          <Choice
            columns={5}
            value={String(columns)}
            options={[1, 2, 3, 4, 5].map((n) => ({
              value: String(n),
              label: String(n),
              drawing: <ColumnsDrawing count={n} />,
            }))}
            onChoose={(n) => put("columns", "Columns")(Number(n))}
          />
          <Count label="How many" value={columns} low={1} high={40} onKeep={put("columns", "Columns")} />
          {columns > 1 && (
            <>
              <LengthField
                label="Gutter"
                value={shown(frame.gutter ?? DEFAULTS.frame.gutter)}
                onTry={attempt("gutter")}
                onKeep={keep("gutter", "Gutter")}
                hint="A pica (12 pt) is usual; under 9 pt reads badly."
              />
              <Choice
                columns={2}
                value={frame.balance ? "yes" : "no"}
                options={[
                  { value: "no", label: "filled one by one" },
                  { value: "yes", label: "of one depth" },
                ]}
                onChoose={(value) => put("balance", "Balance")(value === "yes")}
              />
              <div className="flex items-center gap-3">
                <span className="flex-1 text-soft">A rule between them</span>
                <button
                  className="button"
                  onClick={() => put("column_rule", "Rule between columns")(rule ? null : { color: "ink", width: 0.5 })}
                >
                  {rule ? "take it away" : "draw it"}
                </button>
              </div>
              {rule && (
                <LengthField
                  label="Its width"
                  value={shown(rule.width ?? 1)}
                  onTry={(width) => attempt("column_rule")({ ...rule, width })}
                  onKeep={(width) => keep("column_rule", "Rule between columns")({ ...rule, width })}
                />
              )}
              {rule && (
                <Colors
                  value={rule.color ?? "ink"}
                  onChoose={(color, done) =>
                    (done ? keep("column_rule", "Rule between columns") : attempt("column_rule"))({ ...rule, color })
                  }
                />
              )}
            </>
          )}
          {columns === 1 && (gaps || arms !== DEFAULTS.frame.arms) && (
            <div className="space-y-2">
              <p className="text-soft">Parts side by side</p>
              <Choice
                columns={2}
                value={arms}
                options={[
                  {
                    value: "across",
                    label: "read across the gap",
                    hint: "Each line goes on behind the gap.",
                    drawing: <ArmsDrawing across />,
                  },
                  {
                    value: "in-turn",
                    label: "read one by one",
                    hint: "Down one part, then down the next.",
                    drawing: <ArmsDrawing />,
                  },
                ]}
                onChoose={put("arms", "Parts side by side")}
              />
            </div>
          )}
          <NarrowSlots
            justified={justified}
            value={frame.least_slot ?? DEFAULTS.frame.least_slot}
            onTry={attempt("least_slot")}
            onKeep={keep("least_slot", "Narrowest slot")}
          />
          {columns > 1 && thing.frame && (
            <p className="text-xs text-soft">
              In any outline, with any wrap. They share the y at which their first lines hang.
            </p>
          )}
        </div>
      )}
    </Part>
  );
}

/** Two parts with a gap between, and the way that is read. */
function ArmsDrawing({ across = false }: { across?: boolean }) {
  const way = across ? "M7 9H37M7 18H37M7 27H37" : "M12 7V27L32 9V29";
  return (
    <svg width="44" height="36" viewBox="0 0 44 36" aria-hidden>
      <path d="M4 4H18V32H4ZM26 4H40V32H26Z" fill="currentColor" opacity="0.2" />
      <path d={way} fill="none" stroke="currentColor" strokeWidth="1.5" strokeLinecap="round" strokeLinejoin="round" />
    </svg>
  );
}

function ColumnsDrawing({ count }: { count: number }) {
  const width = (36 - 3 * (count - 1)) / count;
  return (
    <svg width="44" height="36" viewBox="0 0 44 36" aria-hidden>
      {Array.from({ length: count }, (_, c) => (
        <rect
          key={c}
          x={4 + c * (width + 3)}
          y="5"
          width={width}
          height="26"
          rx="1"
          fill="currentColor"
          opacity="0.75"
        />
      ))}
    </svg>
  );
}

const HANGS = {
  ascender: "the ascenders",
  cap: "cap height",
  ex: "x-height",
  "line-box": "its line box",
  ink: "its ink",
} as const;

function HangPart({ thing, frame, attempt, keep, put }: MetricProps) {
  const m = useMetrics(thing);
  const hang = frame.hang ?? DEFAULTS.frame.hang;
  const marks: Mark[] = useMemo(
    () => [
      { value: "ascender", label: "ascender", at: m.ascender },
      { value: "cap", label: "cap height", at: m.cap },
      { value: "ex", label: "x-height", at: m.ex },
      { value: "line-box", label: "line box", at: m.up },
    ],
    [m],
  );
  const named = hang in HANGS;
  const size = useStore((s) => s.scene?.nests[thing.id]?.size ?? 12);
  const points = usePoints(named ? 0 : hang, size);
  const at = named ? (marks.find((k) => k.value === hang)?.at ?? m.cap) : (points ?? size / 2) / size;
  return (
    <Part
      name="hang"
      title="What the first line hangs from"
      said={named ? HANGS[hang as keyof typeof HANGS] : `${shown(hang)} above its baseline`}
      width="w-[292px]"
    >
      {() => (
        <>
          <Dragged thing={thing} marks={marks} at={at} free attempt={attempt} keep={keep} />
          <Choice
            columns={2}
            value={named ? (hang as string) : null}
            options={Object.entries(HANGS).map(([value, label]) => ({ value, label }))}
            onChoose={put}
          />
          <div className="mt-3">
            <LengthField label="Or by a length" value={named ? "" : shown(hang)} onTry={attempt} onKeep={keep} />
          </div>
        </>
      )}
    </Part>
  );
}

const STANDS = {
  baseline: "the baseline",
  descender: "the descenders",
  "line-box": "its line box",
  ink: "its ink",
} as const;

function StandPart({ thing, frame, attempt, keep, put }: MetricProps) {
  const m = useMetrics(thing);
  const stand = frame.stand ?? DEFAULTS.frame.stand;
  const marks: Mark[] = useMemo(
    () => [
      { value: "baseline", label: "baseline", at: 0 },
      { value: "descender", label: "descender", at: -m.descender },
      { value: "line-box", label: "line box", at: -m.down },
    ],
    [m],
  );
  return (
    <Part name="stand" title="What the last line stands on" said={STANDS[stand]} width="w-[292px]">
      {() => (
        <>
          <Dragged
            thing={thing}
            marks={marks}
            at={marks.find((k) => k.value === stand)?.at ?? 0}
            free={false}
            attempt={attempt}
            keep={keep}
          />
          <Choice
            columns={2}
            value={stand}
            options={Object.entries(STANDS).map(([value, label]) => ({ value: value as typeof stand, label }))}
            onChoose={put}
          />
        </>
      )}
    </Part>
  );
}

function Dragged({
  thing,
  marks,
  at,
  free,
  attempt,
  keep,
}: {
  thing: Thing;
  marks: Mark[];
  at: number;
  free: boolean;
  attempt: (v: unknown) => void;
  keep: (v: unknown) => void;
}) {
  const [held, setHeld] = useState<number | null>(null);
  // What is dragged to is a metric by its name, or a height in ems.
  const heightOf = (value: unknown) => marks.find((k) => k.value === value)?.at ?? Number.parseFloat(String(value));
  return (
    <MetricWord
      thingId={thing.id}
      marks={marks}
      at={held ?? at}
      free={free}
      onDrag={(value) => {
        setHeld(heightOf(value));
        attempt(value);
      }}
      onDrop={(value) => {
        setHeld(null);
        keep(value);
      }}
    />
  );
}

/** Which slots copy leaves empty: those that it cannot fill well, or those narrower than a length. */
function NarrowSlots({
  justified,
  value,
  onTry,
  onKeep,
}: {
  justified: boolean;
  value: Schemas["Frame"]["least_slot"];
  onTry: (value: string | number) => void;
  onKeep: (value: string | number) => void;
}) {
  const kind =
    value === undefined || value === "by-copy" || value === "ragged-by-copy" ? (value ?? "by-copy") : "length";
  return (
    <>
      <Choice
        value={kind}
        options={[
          {
            value: "by-copy",
            label: "Slots too narrow for its copy stay empty",
            hint: "Beside a picture, in the tip of an outline: where justified words could not share what is free.",
          },
          ...(justified || kind === "ragged-by-copy"
            ? [
                {
                  value: "ragged-by-copy" as const,
                  label: "Lines in them are set ragged",
                  hint: "Justified copy keeps its word spaces there, and ends where it ends.",
                },
              ]
            : []),
          { value: "length", label: "Slots below a width stay empty" },
        ]}
        onChoose={(chosen) => onKeep(chosen === "length" ? "3em" : chosen)}
      />
      {kind === "length" && (
        <LengthField
          label="Slots no narrower than"
          value={shown(value)}
          onTry={onTry}
          onKeep={onKeep}
          hint="Narrower ones stay empty: beside a picture, in the tip of an outline."
        />
      )}
    </>
  );
}
