import { Slider } from "../sentence/Slider";
import { useStore } from "../state/store";
import { askHolds, strain, useStrain } from "./strain";

/** Languages that copy is made up in. */
const TONGUES = [
  ["", "its own words"],
  ["de", "German words"],
  ["fi", "Finnish words"],
  ["el", "Greek words"],
  ["fr", "French words"],
  ["es", "Spanish words"],
];

/** How the document holds under longer or shorter copy, as a translation would be: seen, and not stored. */
export function Strain() {
  const { by, language, holds, asking } = useStrain();
  const revision = useStore((s) => s.revision);
  const on = by !== 0 || language !== "";
  return (
    <section aria-label="Strain" className={`-mx-3 border-t border-line px-3 pt-2 pb-1 ${on ? "bg-slot-wash" : ""}`}>
      <h3 className="eyebrow">Strain</h3>
      <div className="flex flex-wrap items-center justify-end gap-x-1.5">
        <Slider
          className="min-w-0 basis-full"
          label="Strain"
          unit="%"
          min={-50}
          max={200}
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
        {TONGUES.map(([value, label]) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
      {on ? (
        <p className="mt-1 text-xs text-soft" role="status">
          Shown {by ? `${by > 0 ? "+" : "−"}${Math.abs(by)} % ` : ""}strained; nothing is changed.{" "}
          <button
            className="min-h-6 font-bold text-slot-text underline"
            onClick={() => strain({ by: 0, language: "" })}
          >
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
