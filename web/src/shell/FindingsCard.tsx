import { sentence } from "../state/sentence";
import { ChevronDown, ChevronUp, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { keysOf } from "./keys";
import { deed } from "./deeds";
import { useStore } from "../state/store";
import {
  about,
  bringBack,
  comesTo,
  countSaid,
  cure,
  hasOwnLimit,
  limitKind,
  type Finding,
  neverMind,
  openOnes,
  read,
  useFindings,
  walk,
} from "../findings/findings";

/** All that is wrong, by page and kind; one at a time is read, with what can be done about it. */
export function FindingsCard() {
  const { open, found, at } = useFindings();
  const several = useStore((s) => (s.document?.pages.length ?? 0) > 1);
  const clean = useStore((s) => s.clean);
  const [aside, setAside] = useState(false);
  const [kind, setKind] = useState("");
  if (!open || clean) return null;
  const all = openOnes(found);
  const set = found.filter((one) => one.neverMind);
  const some = aside ? set : all;
  const kinds = [...new Map(some.map((one) => [one.kind, one.title])).entries()];
  // A kind that is mended altogether leaves the list as it is without it.
  const only = kinds.some(([name]) => name === kind) ? kind : "";
  const shown = only ? some.filter((one) => one.kind === only) : some;
  const here = all.findIndex((one) => about(one) === at);
  const pages = [...new Set(shown.map((one) => one.page))];
  return (
    <aside aria-label="What is wrong" className="flex w-[272px] shrink-0 flex-col border-l border-line bg-card">
      <div className="flex items-center gap-1 border-b border-line py-2 pr-2 pl-4">
        <h2 className="eyebrow flex-1">{aside ? "Set aside" : "What is wrong"}</h2>
        {!aside && all.length > 1 && (
          <>
            <Small label={`The one before (${keysOf(deed("finding before"))})`} onClick={() => walk(-1)}>
              <ChevronUp size={16} aria-hidden />
            </Small>
            <Small label={`The next (${keysOf(deed("next finding"))})`} onClick={() => walk(1)}>
              <ChevronDown size={16} aria-hidden />
            </Small>
          </>
        )}
        <Small label="Close the list" onClick={() => (useFindings.setState({ open: false }), read(null))}>
          <X size={16} aria-hidden />
        </Small>
      </div>
      {kinds.length > 1 && (
        <select
          className="field mx-2 mt-2 min-h-7 px-1.5 py-0.5 text-sm"
          aria-label="Which kinds"
          value={only}
          onChange={(event) => setKind(event.target.value)}
        >
          <option value="">every kind ({some.length})</option>
          {kinds.map(([name, title]) => (
            <option key={name} value={name}>
              {title} ({some.filter((one) => one.kind === name).length})
            </option>
          ))}
        </select>
      )}
      <p role="status" className="sr-only">
        {here >= 0 && `${here + 1} of ${all.length}: ${sentence(all[here].message)}`}
      </p>
      <div className="min-h-0 flex-1 overflow-y-auto px-2 py-2 text-sm leading-snug">
        {shown.length === 0 && (
          <p className="px-2 py-2 text-soft">
            {aside ? "Nothing is set aside." : "Every line, word and object was looked at: nothing is wrong."}
          </p>
        )}
        {pages.map((page) => (
          <section key={page} aria-label={`Page ${page + 1}`}>
            {several && <h3 className="px-2 pt-1 text-xs text-soft">Page {page + 1}</h3>}
            <ul>
              {shown
                .filter((one) => one.page === page)
                .map((one) => (
                  <One key={about(one)} one={one} open={about(one) === at} />
                ))}
            </ul>
          </section>
        ))}
      </div>
      {(set.length > 0 || aside) && (
        <button className="border-t border-line px-4 py-2 text-left text-xs text-soft" onClick={() => setAside(!aside)}>
          {aside ? `Back to what is wrong${all.length ? `: ${countSaid(found)}` : ""}` : `${set.length} set aside`}
        </button>
      )}
    </aside>
  );
}

function Small({ label, onClick, children }: { label: string; onClick: () => void; children: React.ReactNode }) {
  return (
    <button className="grid size-6 place-items-center rounded-md" aria-label={label} title={label} onClick={onClick}>
      {children}
    </button>
  );
}

function One({ one, open }: { one: Finding; open: boolean }) {
  const line = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (open) line.current?.scrollIntoView({ block: "nearest" });
  }, [open]);
  return (
    <li ref={line} className={`rounded-md ${open ? "bg-slot-wash" : ""}`}>
      <button
        className="flex w-full items-baseline gap-2 rounded-md px-2 py-1.5 text-left"
        aria-expanded={open}
        onClick={() => read(open ? null : one)}
      >
        <span
          aria-label={one.fault ? "fault" : "note"}
          className={`mt-1 size-2 shrink-0 self-start rounded-full ${one.fault ? "bg-coral" : "border border-edge"}`}
        />
        <span className="min-w-0 [overflow-wrap:anywhere]">{sentence(one.message)}</span>
      </button>
      {open && <Mending one={one} />}
    </li>
  );
}

function Mending({ one }: { one: Finding }) {
  const cures = useFindings((s) => s.cures);
  const mending = cures?.filter((made) => made.mends) ?? [];
  return (
    <div className="px-2 pb-2 pl-6">
      {one.neverMind ? (
        <button className="button -ml-2 px-2" onClick={() => void bringBack(one)}>
          Bring it back
        </button>
      ) : (
        <>
          {cures === null && <p className="text-xs text-soft">Looking for what mends it …</p>}
          {cures && !mending.length && (
            <p className="text-xs text-soft">
              {cures.length
                ? `Tried, and no help: ${cures.map((made) => made.label).join(", ")}.`
                : "No act mends this: it is yours to settle."}
            </p>
          )}
          <ul className="space-y-0.5">
            {mending.map((made) => (
              <li key={made.label}>
                <button
                  className="block w-full rounded-md px-2 py-1 text-left hover:bg-card"
                  onClick={() => void cure(made)}
                >
                  <span className="font-bold text-slot-text">{made.label}</span>
                  <span className="block text-xs text-soft">{comesTo(made)}</span>
                </button>
              </li>
            ))}
          </ul>
          {one.limit !== null && <Limit one={one} />}
          <p className="mt-1.5 flex flex-wrap gap-x-3 text-xs">
            <button className="min-h-6 text-soft underline" onClick={() => void neverMind(one, false)}>
              Never mind this one
            </button>
            <button className="min-h-6 text-soft underline" onClick={() => void neverMind(one, true)}>
              Never mind this kind here
            </button>
          </p>
        </>
      )}
    </div>
  );
}

/** From which figure on this is found in the document. */
function Limit({ one }: { one: Finding }) {
  const [text, setText] = useState<string | null>(null);
  const own = useStore(() => hasOwnLimit(one.kind));
  const keep = () => {
    const figure = Number.parseFloat((text ?? "").replace(",", "."));
    if (text !== null && Number.isFinite(figure) && figure >= 0 && figure !== one.limit)
      void limitKind(one.kind, figure);
    setText(null);
  };
  return (
    <p className="mt-1.5 flex flex-wrap items-center gap-x-2 text-xs text-soft">
      <label className="flex items-center gap-2">
        Told from
        <input
          className="field w-14 px-1.5 py-0.5 text-right tabular-nums"
          aria-label={`Limit: ${one.title}`}
          inputMode="decimal"
          value={text ?? String(one.limit)}
          onFocus={(event) => event.target.select()}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          onBlur={keep}
        />
      </label>
      {one.unit}
      {own && (
        <button className="min-h-6 underline" onClick={() => void limitKind(one.kind, null)}>
          as usual
        </button>
      )}
    </p>
  );
}
