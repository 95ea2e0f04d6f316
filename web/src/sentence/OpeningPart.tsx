import { DEFAULTS } from "../api/rules";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { trim } from "../state/units";
import { Choice, Part } from "../parts/Part";

type Rule = Schemas["RuleScene"];

interface DropCap {
  lines: number;
  letters: number;
}
interface Keep {
  start: number;
  end: number;
  whole: boolean;
  next: boolean;
}
export interface Tab {
  at: string | number;
  align: string;
  leader: string;
}

/** How a paragraph begins and holds together: drop cap, lines kept together, tabs. */
export function OpeningPart({
  rule,
  put,
}: {
  rule: Rule;
  put: (field: string, label: string) => (value: unknown) => void;
}) {
  const drop = rule.dropCap as unknown as DropCap | null;
  const keep = rule.keep as unknown as Keep | null;
  const tabs = rule.tabs as unknown as Tab[];
  const kept = keep ? (keep.whole ? "kept whole" : `${Math.max(keep.start, keep.end)} lines kept together`) : "";
  const said = [
    drop
      ? `opened by ${drop.letters === 1 ? "a drop cap" : `${drop.letters} dropped letters`} of ${drop.lines} lines`
      : "",
    kept,
    keep?.next ? "held to the next" : "",
    tabs.length ? `with ${tabs.length === 1 ? "a tab" : `${tabs.length} tabs`}` : "",
  ]
    .filter(Boolean)
    .join(", ");
  return (
    <Part name="opening" title="How paragraphs open and hold together" said={said || "opened plainly"} width="w-80">
      {() => (
        <div className="scroller max-h-[58vh] space-y-4">
          <div>
            <h4 className="eyebrow mb-1.5">First letters</h4>
            <Choice
              columns={4}
              value={drop ? String(drop.lines) : "none"}
              options={[
                { value: "none", label: "as the rest" },
                ...[2, 3, 4].map((n) => ({ value: String(n), label: `${n} lines high` })),
              ]}
              onChoose={(lines) =>
                put(
                  "drop_cap",
                  "Drop cap",
                )(lines === "none" ? (rule.style ? false : null) : { ...drop, lines: Number(lines) })
              }
            />
            {drop && (
              <div className="mt-2 flex gap-4">
                <Count
                  label="Lines"
                  value={drop.lines}
                  low={2}
                  high={20}
                  onKeep={(lines) => put("drop_cap", "Drop cap")({ ...drop, lines })}
                />
                <Count
                  label="Letters"
                  value={drop.letters}
                  low={1}
                  high={10}
                  onKeep={(letters) => put("drop_cap", "Drop cap")({ ...drop, letters })}
                />
              </div>
            )}
          </div>
          <div>
            <h4 className="eyebrow mb-1.5">Where it runs on in another column</h4>
            <Choice
              columns={3}
              value={!keep ? "free" : keep.whole ? "whole" : "lines"}
              options={[
                { value: "free", label: "lines part freely" },
                { value: "lines", label: "some stay together" },
                { value: "whole", label: "it stays whole" },
              ]}
              onChoose={(how) =>
                put(
                  "keep",
                  "Lines kept together",
                )(
                  how === "free"
                    ? rule.style
                      ? false
                      : null
                    : {
                        start: keep?.start ?? DEFAULTS.keep.start,
                        end: keep?.end ?? DEFAULTS.keep.end,
                        whole: how === "whole",
                        next: keep?.next ?? DEFAULTS.keep.next,
                      },
                )
              }
            />
            {keep && !keep.whole && (
              <div className="mt-2 flex gap-4">
                <Count
                  label="At its start"
                  value={keep.end}
                  low={1}
                  high={50}
                  onKeep={(end) => put("keep", "Lines kept together")({ ...keep, end })}
                />
                <Count
                  label="At its end"
                  value={keep.start}
                  low={1}
                  high={50}
                  onKeep={(start) => put("keep", "Lines kept together")({ ...keep, start })}
                />
              </div>
            )}
            <label className="mt-2 flex items-center gap-2 text-soft">
              <input
                type="checkbox"
                className="accent-slot"
                checked={keep?.next ?? DEFAULTS.keep.next}
                onChange={(e) =>
                  put(
                    "keep",
                    "Held to the next",
                  )({ ...(keep ?? { start: 1, end: 1, whole: false }), next: e.target.checked })
                }
              />{" "}
              held to the next paragraph
            </label>
            <label className="mt-1 flex items-center gap-2 text-soft">
              <input
                type="checkbox"
                className="accent-slot"
                checked={rule.newColumn}
                onChange={(e) => put("new_column", "New column")(e.target.checked)}
              />{" "}
              begins a new column
            </label>
          </div>
          <Tabs tabs={tabs} keep={put("tabs", "Tabs")} />
        </div>
      )}
    </Part>
  );
}

const WAYS = [
  ["start", "begins there"],
  ["center", "is centred there"],
  ["end", "ends there"],
  ["figure", "has its decimal point there"],
] as const;

function Tabs({ tabs, keep }: { tabs: Tab[]; keep: (tabs: Tab[] | null) => void }) {
  const change = (index: number, part: Partial<Tab>) =>
    keep(tabs.map((tab, i) => (i === index ? { ...tab, ...part } : tab)));
  const last = tabs.filter((t) => t.at !== "end").at(-1)?.at;
  return (
    <div>
      <h4 className="eyebrow mb-1.5">Tabs</h4>
      {tabs.length === 0 && <p className="mb-1 text-xs text-soft">None: a tab goes on to the next three ems.</p>}
      <ul className="space-y-2">
        {tabs.map((tab, index) => (
          <li key={`${index} ${tab.at}`} className="flex flex-wrap items-center gap-1.5">
            <Typed
              label={`Place of tab ${index + 1}`}
              value={tab.at === "end" ? "end" : typeof tab.at === "number" ? `${trim(tab.at)} pt` : tab.at}
              onKeep={(at) => change(index, { at: at.trim().toLowerCase() === "end" ? "end" : at })}
            />
            {tab.at !== "end" && (
              <select
                className="field py-1 text-xs"
                aria-label={`What follows tab ${index + 1}`}
                value={tab.align}
                onChange={(e) => change(index, { align: e.target.value })}
              >
                {WAYS.map(([value, label]) => (
                  <option key={value} value={value}>
                    {label}
                  </option>
                ))}
              </select>
            )}
            <input
              className="field w-12 py-1 text-center"
              aria-label={`What fills tab ${index + 1}`}
              placeholder="fill"
              defaultValue={tab.leader}
              maxLength={5}
              onBlur={(e) => e.target.value !== tab.leader && change(index, { leader: e.target.value })}
            />
            <button
              className="button px-2 py-1 text-xs"
              aria-label={`Take tab ${index + 1} away`}
              onClick={() => keep(tabs.length > 1 ? tabs.filter((_, i) => i !== index) : null)}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <div className="mt-2 flex gap-1">
        <button
          className="button -ml-3 py-1"
          onClick={() =>
            keep([
              ...tabs.filter((t) => t.at !== "end"),
              { at: typeof last === "number" ? last + 60 : 60, align: "start", leader: "" },
              ...tabs.filter((t) => t.at === "end"),
            ])
          }
        >
          Add a tab
        </button>
        {!tabs.some((t) => t.at === "end") && (
          <button className="button py-1" onClick={() => keep([...tabs, { at: "end", align: "end", leader: "." }])}>
            To the line’s end, with dots
          </button>
        )}
      </div>
    </div>
  );
}

function Typed({ label, value, onKeep }: { label: string; value: string; onKeep: (text: string) => void }) {
  const [text, setText] = useState(value);
  const done = () => text.trim() && text !== value && onKeep(text);
  return (
    <input
      className="field w-20 py-1 text-right tabular-nums"
      aria-label={label}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={done}
      onKeyDown={(e) => e.key === "Enter" && done()}
    />
  );
}

export function Count({
  label,
  value,
  low,
  high,
  onKeep,
}: {
  label: string;
  value: number;
  low: number;
  high: number;
  onKeep: (value: number) => void;
}) {
  return (
    <label className="flex items-center gap-2 text-soft">
      {label}
      <input
        type="number"
        className="field w-16 py-1 tabular-nums"
        min={low}
        max={high}
        key={value}
        defaultValue={value}
        onChange={(e) => {
          const wanted = Number(e.target.value);
          if (Number.isInteger(wanted) && wanted >= low && wanted <= high && wanted !== value) onKeep(wanted);
        }}
      />
    </label>
  );
}
