import { askOver } from "../state/viewing";
import { useState } from "react";
import { STRAIN, TONGUES } from "../api/rules";
import { versionSaid } from "../parts/versions";
import { SHEETS } from "../sentence/readySheets";
import { Slider } from "../sentence/Slider";
import { select } from "../state/choosing";
import { useStore } from "../state/store";
import { askHolds, AT_REST, isStrained, strain, strainSaid, useStrain } from "./strain";

const MOST = 4;

/** Which frames break first as copy grows; pressed, one is chosen. */
function FirstToBreak({ upTo }: { upTo: Record<string, number | null> }) {
  const labels = useStore((s) => s.scene?.labels) ?? {};
  const breaking = Object.entries(upTo)
    .filter((one): one is [string, number] => one[1] !== null)
    .sort(([, a], [, b]) => a - b);
  if (!breaking.length) return <p className="mt-1 text-xs text-soft">Every frame holds +100 %.</p>;
  return (
    <div className="mt-1 text-xs text-soft">
      <h4>First to break</h4>
      <ol aria-label="First to break">
        {breaking.slice(0, MOST).map(([id, by]) => (
          <li key={id}>
            <button
              className="flex min-h-6 w-full items-center justify-between gap-2 text-left underline"
              onClick={() => select(id)}
            >
              <span className="truncate">{labels[id] ?? id}</span>
              <span className="shrink-0 tabular-nums">{by < 0 ? "now" : `+${by} %`}</span>
            </button>
          </li>
        ))}
      </ol>
    </div>
  );
}

/** How the document holds under longer or shorter copy, larger type, another sheet: seen, and not stored. */
export function Strain() {
  const now = useStrain();
  const { by, language, type, sheet, pictures, holds, asking } = now;
  const revision = useStore((s) => s.revision);
  const [more, setMore] = useState(false);
  const on = isStrained(now);
  return (
    <section aria-label="Strain" className={`-mx-3 border-t border-line px-3 pt-2 pb-1 ${on ? "bg-slot-wash" : ""}`}>
      <div className="flex items-baseline justify-between">
        <h3 className="eyebrow">Strain</h3>
        <button
          className="min-h-6 text-xs text-soft underline"
          aria-expanded={more}
          aria-label={more ? "Less of strain" : "More of strain"}
          onClick={() => setMore(!more)}
        >
          {more ? "less" : "more"}
        </button>
      </div>
      <div className="flex flex-wrap items-center justify-end gap-x-1.5">
        <Slider
          className="min-w-0 basis-full"
          label="Strain"
          unit="%"
          min={STRAIN.least}
          max={STRAIN.greatest}
          value={by}
          onTry={(to) => strain({ by: Math.round(to) })}
          onKeep={(to) => strain({ by: Math.round(to) })}
        />
      </div>
      <select
        className="field mt-1 min-h-7 w-full px-1.5 py-0.5 text-sm"
        aria-label="In which words"
        value={language}
        onChange={(event) => strain({ language: event.target.value })}
      >
        <option value="">its own words</option>
        {TONGUES.map((tongue) => (
          <option key={tongue} value={tongue}>
            {versionSaid(tongue)} words
          </option>
        ))}
      </select>
      {more && (
        <div className="mt-1.5 space-y-1.5 text-sm">
          <label className="flex items-center justify-between gap-1.5">
            <span className="text-xs text-soft">type larger</span>
            <span className="flex items-center gap-1 text-xs text-soft">
              <input
                type="number"
                className="field w-14 px-1.5 py-0.5 text-right"
                min={0}
                max={STRAIN.largestType}
                step={5}
                value={type}
                onChange={(event) =>
                  strain({ type: Math.min(Math.max(Number(event.target.value) || 0, 0), STRAIN.largestType) })
                }
              />
              %
            </span>
          </label>
          <select
            className="field min-h-7 w-full px-1.5 py-0.5 text-sm"
            aria-label="On which sheet"
            value={sheet ? sheet.join(" ") : ""}
            onChange={(event) =>
              strain({ sheet: event.target.value ? (event.target.value.split(" ") as [string, string]) : null })
            }
          >
            <option value="">its own sheet</option>
            {SHEETS.map(([head, sheets]) => (
              <optgroup key={head} label={head}>
                {sheets.map(([name, width, height]) => (
                  <option key={name} value={`${width} ${height}`}>
                    {name}
                  </option>
                ))}
              </optgroup>
            ))}
          </select>
          <label className="flex items-center gap-2 text-xs text-soft">
            <input
              type="checkbox"
              className="size-4 accent-slot"
              checked={!pictures}
              onChange={(event) => strain({ pictures: !event.target.checked })}
            />
            its pictures are missing
          </label>
          <button className="block min-h-6 text-left text-xs text-soft underline" onClick={() => askOver("strained")}>
            A page of pictures
          </button>
        </div>
      )}
      {holds?.revision === revision && <FirstToBreak upTo={holds.upTo} />}
      {on ? (
        <p className="mt-1 text-xs text-soft" role="status">
          Shown {strainSaid(now)}; nothing is changed.{" "}
          <button className="min-h-6 font-bold text-slot-text underline" onClick={() => strain(AT_REST)}>
            Back
          </button>
        </p>
      ) : (
        holds?.revision !== revision && (
          <button
            className="min-h-6 text-left text-xs text-soft underline"
            disabled={asking}
            onClick={() => void askHolds()}
          >
            {asking ? "Trying …" : "How far does each hold?"}
          </button>
        )
      )}
    </section>
  );
}
