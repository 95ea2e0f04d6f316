import { useEffect, useState } from "react";
import { post, type Schemas } from "../api/client";
import type { Thing } from "../state/document";
import { keepTried } from "../state/sending";
import { useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { Part } from "../parts/Part";

type Ending = Schemas["EndingOut"];

/** How far an ending may go: what, in which figure it is asked, and how many of those make one. */
const ALLOWED = [
  { part: "size", label: "type size, ± %", each: 100, start: 10 },
  { part: "leading", label: "leading, ± %", each: 100, start: 12 },
  { part: "tracking", label: "letters, ± 1/1000 em", each: 1000, start: 20 },
  { part: "word_space", label: "word spaces, − %", each: 100, start: 15 },
  { part: "padding", label: "padding, ± %", each: 100, start: 50 },
  { part: "outline", label: "outline, ± %", each: 100, start: 8 },
] as const;

/** Copyfitting in one act: three ways to make the copy end with the frame, each shown as it is pointed at, with its
 * cost. */
export function EndHerePart({ thing }: { thing: Thing }) {
  return (
    <Part name="end-here" title="End here" said="make it end here" width="w-[380px]">
      {(close) => <Endings thing={thing} close={close} />}
    </Part>
  );
}

function Endings({ thing, close }: { thing: Thing; close: () => void }) {
  const [allowed, setAllowed] = useState<Record<string, number>>(
    Object.fromEntries(ALLOWED.map(({ part, start }) => [part, start])),
  );
  const [answers, setAnswers] = useState<Ending[] | null>(null);
  const [said, setSaid] = useState("");
  const [limits, setLimits] = useState(false);
  const version = useStore((s) => s.scene?.nests[thing.id]?.version);
  const key = JSON.stringify(allowed);
  useEffect(() => {
    let gone = false;
    setAnswers(null);
    setSaid("");
    const wait = setTimeout(() => {
      const { id, revision } = useStore.getState();
      const shares = Object.fromEntries(ALLOWED.map(({ part, each }) => [part, allowed[part] / each]));
      post<Ending[]>(`/api/documents/${id}/endings`, {
        base: revision,
        object: thing.id,
        version,
        allowed: shares,
      }).then(
        (found) => !gone && setAnswers(found),
        (error: Error) => !gone && setSaid(error.message),
      );
    }, 250);
    return () => {
      gone = true;
      clearTimeout(wait);
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `key` stands for `allowed`
  }, [thing.id, version, key]);
  return (
    <div className="space-y-3">
      <p className="text-soft">The copy ends with the frame’s last line. Point at a way to see it on the page.</p>
      {said ? (
        <p className="text-coral-text" role="alert">
          {said[0].toUpperCase() + said.slice(1)}.
        </p>
      ) : !answers ? (
        <p className="text-soft" role="status">
          Working it out …
        </p>
      ) : (
        <ul className="-mx-2 space-y-0.5" onMouseLeave={stopTrying}>
          {answers.map((one) => (
            <li key={one.label}>
              <button
                className="block w-full rounded-lg px-2 py-1.5 text-left hover:bg-inset"
                onMouseEnter={() => tryOut(one.operations as Parameters<typeof tryOut>[0])}
                onFocus={() => tryOut(one.operations as Parameters<typeof tryOut>[0])}
                onClick={() => (close(), void keepTried(one.operations as Parameters<typeof tryOut>[0], "End here"))}
              >
                <b>{one.label}</b>
                <span className="block text-[13px]">{one.changes.join(", ")}</span>
                <span className="block text-xs text-soft tabular-nums">
                  {one.lines} lines{one.worst > 0 ? `, loosest +${Math.round(one.worst * 100)} %` : ""}
                  {one.hyphens ? `, ${one.hyphens} ${one.hyphens === 1 ? "hyphen" : "hyphens"}` : ""}
                  {one.rivers ? `, ${one.rivers} ${one.rivers === 1 ? "river" : "rivers"}` : ""}
                  {one.uneven >= 0.005 ? `, word spaces ± ${Math.round(one.uneven * 100)} %` : ""}; takes{" "}
                  {Math.round(one.distance * 100)} % of what is allowed
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
      <div className="border-t border-line pt-2">
        <button className="button -ml-3" aria-expanded={limits} onClick={() => setLimits(!limits)}>
          What it may change
        </button>
        {limits && (
          <div className="mt-1 grid grid-cols-2 gap-x-4 gap-y-1.5">
            {ALLOWED.map(({ part, label }) => (
              <label key={part} className="flex items-center gap-2 text-xs text-soft">
                <span className="flex-1">{label}</span>
                <input
                  type="number"
                  min={0}
                  max={100}
                  className="field w-16 py-1 text-right tabular-nums"
                  value={allowed[part]}
                  onChange={(e) =>
                    setAllowed({
                      ...allowed,
                      [part]: Math.max(
                        0,
                        Math.min(part === "padding" || part === "tracking" ? 100 : 50, Number(e.target.value)),
                      ),
                    })
                  }
                />
              </label>
            ))}
          </div>
        )}
      </div>
    </div>
  );
}
