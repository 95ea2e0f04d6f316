/** What becomes of copy that does not fit, and type that follows the frame. */

import type { Frame } from "../state/document";
import { shown, trim } from "../state/units";
import { LengthField } from "./LengthField";
import { Choice, Part } from "../parts/Part";

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

export function LeftoverPart({ frame, attempt, keep, put }: RuleProps) {
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

export function FitPart({ frame, factor, size, attempt, keep, put }: RuleProps & { factor: number; size: number }) {
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
