import { askOver } from "../state/viewing";
import { sentence } from "../state/sentence";
import { useState } from "react";
import { versionSaid } from "../parts/versions";
import { type Home, take, useTranslating } from "./translating";

/** What a translation that came home would change, paragraph by paragraph; nothing is changed before it is taken. */
export function Homecoming() {
  const home = useTranslating((s) => s.home);
  if (!home) return null;
  return <Looked key={home.file.name + home.found.changes.length} found={home.found} />;
}

const close = () => (askOver(null), useTranslating.setState({ home: null }));
const plural = (count: number, one: string, more = `${one}s`) => `${count} ${count === 1 ? one : more}`;

function Looked({ found }: { found: Home }) {
  const good = found.changes.filter((one) => !one.problems.length);
  const bad = found.changes.filter((one) => one.problems.length);
  const [left, setLeft] = useState<Set<string>>(new Set());
  const wanted = good.filter((one) => !left.has(one.id));
  const toggle = (id: string) =>
    setLeft((now) => {
      const next = new Set(now);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  const beside = [
    found.same && `${plural(found.same, "paragraph stands", "paragraphs stand")} there already`,
    found.empty && `${plural(found.empty, "paragraph came", "paragraphs came")} home without a translation`,
  ].filter(Boolean);
  return (
    <section aria-labelledby="home-title" className="card flex max-h-full w-full max-w-3xl flex-col p-6">
      <h2 id="home-title" className="font-serif text-xl font-bold">
        {versionSaid(found.version)} has come home
      </h2>
      <p className="mt-1 text-soft">
        {good.length ? `${plural(good.length, "paragraph changes", "paragraphs change")}` : "Nothing changes"}
        {bad.length > 0 && `, ${bad.length} cannot be taken`}
        {beside.length > 0 && `; ${beside.join(", ")}`}. Nothing is changed before you take it.
      </p>
      {found.told.length > 0 && (
        <div className="mt-3 rounded-lg bg-coral-wash px-3 py-2 text-sm">
          <h3 className="font-bold text-coral-text">What would be wrong then</h3>
          <ul className="mt-0.5 max-h-20 list-disc overflow-y-auto pl-5">
            {found.told.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </ul>
        </div>
      )}
      <div className="scroller mt-3 min-h-0 flex-1 border-y border-line" tabIndex={0} role="group" aria-label="Changes">
        {bad.length > 0 && (
          <ul aria-label="What cannot be taken">
            {bad.map((one) => (
              <li key={`${one.id} ${one.after}`} className="border-b border-line py-2 last:border-0">
                <Words label={one.label} before={one.source} after={one.after} />
                <p className="mt-1 text-sm text-coral-text">{sentence(one.problems.join("; "))}</p>
              </li>
            ))}
          </ul>
        )}
        <ul aria-label="What changes">
          {good.map((one) => (
            <li key={one.id} className="flex gap-3 border-b border-line py-2 last:border-0">
              <input
                type="checkbox"
                className="mt-1 size-4 shrink-0 accent-slot"
                aria-label={`Take “${one.after.slice(0, 40)}”`}
                checked={!left.has(one.id)}
                onChange={() => toggle(one.id)}
              />
              <div className="min-w-0 flex-1">
                <Words label={one.label} before={one.before || one.source} after={one.after} />
                {one.notes.length > 0 && <p className="mt-1 text-sm text-soft">{sentence(one.notes.join("; "))}</p>}
              </div>
            </li>
          ))}
        </ul>
      </div>
      <div className="mt-4 flex gap-2">
        <button
          className="button-main"
          disabled={!wanted.length}
          onClick={() => void take(wanted.map((one) => one.id))}
        >
          {wanted.length ? `Take ${plural(wanted.length, "paragraph")}` : "Take nothing"}
        </button>
        <button className="button" onClick={close}>
          Leave it
        </button>
      </div>
    </section>
  );
}

function Words({ label, before, after }: { label: string; before: string; after: string }) {
  return (
    <div className="grid gap-x-4 gap-y-0.5 font-serif leading-snug sm:grid-cols-2">
      <p className="col-span-full font-sans text-xs text-soft">{label}</p>
      <p className="break-words text-soft">{seen(before)}</p>
      <p className="break-words">{seen(after)}</p>
    </div>
  );
}

/** Signs that stand for what is no letter. */
const seen = (text: string) => text.replaceAll("\u2028", " ⏎ ").replaceAll("\ufffc", "▫") || "–";
