import { takeUp } from "../state/choosing";
import { TIES } from "../api/rules";
import type { Operation } from "../api/client";
import { type Thing, thingsOf, type Tie } from "../state/document";
import { labelOf } from "../state/naming";
import { edit, keepTried } from "../state/sending";
import { useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { goUnder } from "./WrapParts";
import { useState } from "react";
import { shown } from "../state/units";
import { LengthField } from "./LengthField";
import { Part } from "../parts/Part";

const EDGES = Object.keys(TIES) as Tie["edge"][];

export function saidOf(tie: Tie, to: string): string {
  const its = tie.its ?? tie.edge;
  const gap = tie.gap && tie.gap !== "0" ? `, ${shown(tie.gap)} apart` : "";
  return `its ${tie.edge} to ${its === tie.edge ? "that" : `the ${its}`} of ${to}${gap}`;
}

/** What the object is tied to: an edge, its width or its first baseline to another's, at a distance. */
export function TiesPart({ thing }: { thing: Thing }) {
  const open = useStore((s) => s.document);
  if (!open) return null;
  const ties = thing.ties ?? [];
  const page = open.pages.find((p) => p.objects.some((t) => t.id === thing.id || t.objects));
  const others = (page ? thingsOf({ ...open, pages: [page] }) : []).filter((t) => t.id !== thing.id);
  const nameOf = (id: string) => {
    const other = others.find((t) => t.id === id);
    return other ? labelOf(other) : id;
  };
  const operations = (next: Tie[]): Operation[] => [
    next.length
      ? { do: "put", at: ["objects", thing.id, "ties"], value: next }
      : { do: "cut", at: ["objects", thing.id, "ties"] },
  ];
  const change = (index: number, part: Partial<Tie>) => ties.map((tie, i) => (i === index ? { ...tie, ...part } : tie));
  const put = (next: Tie[]) => void edit(operations(next), "Ties");
  // One tie an edge: the next is of an edge that is free.
  const free = EDGES.find((edge) => !ties.some((tie) => tie.edge === edge));
  return (
    <Part
      name="ties"
      title="What it is tied to"
      said={ties.length ? `tied: ${ties.map((tie) => saidOf(tie, nameOf(tie.to))).join("; ")}` : "tied to nothing"}
      width="w-[340px]"
    >
      {(close) => (
        <div className="scroller max-h-[58vh] space-y-3">
          {ties.map((tie, index) => (
            <div key={`${index} ${tie.edge} ${tie.to}`} className="space-y-2 border-b border-line pb-3">
              <div className="flex flex-wrap items-center gap-1.5 text-soft">
                Its
                <Chosen
                  label={`Edge of tie ${index + 1}`}
                  value={tie.edge}
                  values={EDGES}
                  onChoose={(edge) =>
                    put(
                      change(index, {
                        edge,
                        its: TIES[edge].find((its) => its === (tie.its ?? tie.edge)) ?? TIES[edge][0],
                      }),
                    )
                  }
                />
                to the
                <Chosen
                  label={`Its edge of tie ${index + 1}`}
                  value={tie.its ?? tie.edge}
                  values={[...TIES[tie.edge]]}
                  onChoose={(its) => put(change(index, { its }))}
                />
                of
                <select
                  className="field max-w-40 py-1"
                  aria-label={`Object of tie ${index + 1}`}
                  value={tie.to}
                  onChange={(e) => put(change(index, { to: e.target.value }))}
                >
                  {others.map((other) => (
                    <option key={other.id} value={other.id}>
                      {labelOf(other)}
                    </option>
                  ))}
                </select>
              </div>
              <LengthField
                label="Distance"
                value={shown(tie.gap ?? 0)}
                onTry={(gap) => tryOut(operations(change(index, { gap })))}
                onKeep={(gap) => void keepTried(operations(change(index, { gap })), "Ties")}
              />
              <button className="button -ml-3 py-1" onClick={() => put(ties.filter((_, i) => i !== index))}>
                Let go of it
              </button>
            </div>
          ))}
          {others.length > 0 && <GoesUnder thing={thing} others={others} close={close} />}
          {others.length === 0 ? (
            <p className="text-soft">There is nothing else on the page to tie it to.</p>
          ) : (
            <div className="flex flex-wrap gap-1">
              <button className="button -ml-3" onClick={() => (close(), takeUp({ kind: "tie" }))}>
                Tie an edge by dragging it
              </button>
              {free && (
                <button
                  className="button"
                  onClick={() =>
                    put([
                      ...ties,
                      { edge: free, to: others[others.length - 1].id, its: free === "top" ? "bottom" : free },
                    ])
                  }
                >
                  Add a tie
                </button>
              )}
            </div>
          )}
        </div>
      )}
    </Part>
  );
}

const WAYS = [
  ["below", "under"],
  ["above", "over"],
  ["left", "left of"],
  ["right", "right of"],
] as const;

/** One act for what takes three ties: under another, as wide, at a gap, and not pushed by it. */
function GoesUnder({ thing, others, close }: { thing: Thing; others: Thing[]; close: () => void }) {
  const nearest = [...others].reverse().find((other) => other.picture) ?? others[others.length - 1];
  const [to, setTo] = useState(nearest.id);
  return (
    <div className="space-y-2 border-b border-line pb-3">
      <label className="flex items-center gap-2 text-soft">
        Put it by
        <select
          className="field min-w-0 flex-1 py-1"
          aria-label="What it goes by"
          value={to}
          onChange={(e) => setTo(e.target.value)}
        >
          {others.map((other) => (
            <option key={other.id} value={other.id}>
              {labelOf(other)}
            </option>
          ))}
        </select>
      </label>
      <div className="grid grid-cols-4 gap-1" onMouseLeave={stopTrying}>
        {WAYS.map(([side, label]) => (
          <button
            key={side}
            className="button px-1 py-1"
            onMouseEnter={() => tryOut(goUnder(thing.id, to, side))}
            onClick={() => (close(), void keepTried(goUnder(thing.id, to, side), `Goes ${label}`))}
          >
            {label} it
          </button>
        ))}
      </div>
      <p className="text-xs text-soft">Under or over it takes its width and grows away from it.</p>
    </div>
  );
}

function Chosen({
  label,
  value,
  values,
  onChoose,
}: {
  label: string;
  value: Tie["edge"];
  values: readonly Tie["edge"][];
  onChoose: (edge: Tie["edge"]) => void;
}) {
  return (
    <select
      className="field py-1"
      aria-label={label}
      value={value}
      onChange={(e) => onChoose(e.target.value as Tie["edge"])}
    >
      {values.map((edge) => (
        <option key={edge} value={edge}>
          {edge === "baseline" ? "first baseline" : edge}
        </option>
      ))}
    </select>
  );
}
