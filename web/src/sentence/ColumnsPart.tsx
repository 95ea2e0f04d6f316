/** Columns, arms, and slots that are too narrow. */
import { DEFAULTS } from "../api/rules";
import type { Schemas } from "../api/client";
import type { Frame, Thing } from "../state/document";
import { useStore } from "../state/store";
import { shown } from "../state/units";
import { LengthField } from "./LengthField";
import { Count } from "./OpeningPart";
import { count } from "./PageSaid";
import { Colors } from "./Paint";
import { Choice, Part } from "../parts/Part";
import type { Rule } from "./rule";

interface ColumnProps {
  thing: Thing;
  frame: Frame;
  attempt: (rule: Rule) => (value: unknown) => void;
  keep: (rule: Rule, label: string) => (value: unknown) => void;
  put: (rule: Rule, label: string) => (value: unknown) => void;
}

export function ColumnsPart({ thing, frame, attempt, keep, put }: ColumnProps) {
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
