import { askOver } from "../state/viewing";
import { type FormEvent, useEffect, useState } from "react";
import { LANGUAGES } from "../parts/languages";
import { useStore } from "../state/store";
import { versionSaid } from "../parts/versions";
import { askStates, sendOut, sendToDesk, useTranslating } from "./translating";

type Form = "xliff" | "csv" | "desk";
const FORMS: [Form, string, string][] = [
  ["xliff", "XLIFF 2.1", "for translation programs, with a picture of every frame"],
  ["csv", "A table", "CSV, a row a paragraph, for a spreadsheet"],
  ["desk", "The translation desk", "a stand-in that sends made-up words back, to try it all out"],
];
const NEW = "another …";

/** Send copy out to be translated: into which version, all of it or what is new, in which form. */
export function SendOut() {
  const copies = useStore((s) => s.document?.copies) ?? {};
  const own = useStore((s) => s.document?.language ?? "en");
  const showing = useStore((s) => s.document?.showing) ?? own;
  const states = useTranslating((s) => s.states);
  const versions = [...new Set(Object.values(copies).flatMap((c) => Object.keys(c.versions)))];
  const [source, setSource] = useState(versions.includes(own) ? own : versions[0]);
  const others = versions.filter((one) => one !== source);
  const [into, setInto] = useState(others.includes(showing) ? showing : (others[0] ?? NEW));
  const free = LANGUAGES.filter(([tag]) => !versions.includes(tag));
  const [tag, setTag] = useState(free.find(([one]) => one === "de")?.[0] ?? free[0][0]);
  const [what, setWhat] = useState<"all" | "new">("all");
  const [form, setForm] = useState<Form>("xliff");
  const [seconds, setSeconds] = useState("8");
  const [fails, setFails] = useState(false);
  useEffect(() => void askStates(), []);
  const target = others.includes(into) ? into : tag;
  const known = states?.versions.find((one) => one.version === target);
  const open = known ? known.new + known.stale : null;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    askOver(null);
    const order = { source, target, what };
    if (form === "desk") void sendToDesk(order, Math.min(Math.max(Number(seconds) || 0, 0), 120), fails);
    else void sendOut(form, order);
  };
  if (!versions.length)
    return (
      <div className="card w-full max-w-md p-6">
        <h2 className="font-serif text-xl font-bold">Send copy out to be translated</h2>
        <p className="mt-2">There is no copy in this document yet. Give an outline some words first.</p>
        <button className="button-main mt-4" onClick={() => askOver(null)}>
          Close
        </button>
      </div>
    );
  return (
    <form
      onSubmit={submit}
      aria-label="Send copy out"
      className="card flex max-h-full w-full max-w-md flex-col overflow-y-auto p-6"
    >
      <h2 className="font-serif text-xl font-bold">Send copy out to be translated</h2>
      <div className="mt-4 grid grid-cols-[5.5rem_1fr] items-center gap-x-3 gap-y-2">
        <label className="text-soft" htmlFor="out-from">
          From
        </label>
        <select id="out-from" className="field" value={source} onChange={(e) => setSource(e.target.value)}>
          {versions.map((one) => (
            <option key={one} value={one}>
              {versionSaid(one)}
            </option>
          ))}
        </select>
        <label className="text-soft" htmlFor="out-into">
          Into
        </label>
        <select
          id="out-into"
          className="field"
          value={others.includes(into) ? into : NEW}
          onChange={(e) => setInto(e.target.value)}
        >
          {others.map((one) => (
            <option key={one} value={one}>
              {versionSaid(one)}
            </option>
          ))}
          <option value={NEW}>another language …</option>
        </select>
        {!others.includes(into) && (
          <>
            <label className="text-soft" htmlFor="out-language">
              Language
            </label>
            <select id="out-language" className="field" value={tag} onChange={(e) => setTag(e.target.value)}>
              {free.map(([one, label]) => (
                <option key={one} value={one}>
                  {label}
                </option>
              ))}
            </select>
          </>
        )}
      </div>
      <fieldset className="mt-4">
        <legend className="eyebrow mb-1">What of it</legend>
        <Radio name="what" value="all" now={what} onChoose={setWhat} label="all of it" />
        <Radio
          name="what"
          value="new"
          now={what}
          onChoose={setWhat}
          disabled={open === 0}
          label="what is new or has changed since last time"
          hint={open === null ? undefined : open === 1 ? "1 paragraph" : `${open} paragraphs`}
        />
      </fieldset>
      <fieldset className="mt-4">
        <legend className="eyebrow mb-1">As</legend>
        {FORMS.map(([value, label, hint]) => (
          <Radio key={value} name="form" value={value} now={form} onChoose={setForm} label={label} hint={hint} />
        ))}
      </fieldset>
      {form === "desk" && (
        <div className="mt-2 ml-6 flex flex-wrap items-center gap-x-5 gap-y-1 text-soft">
          <label className="flex items-center gap-2">
            it takes
            <input
              className="field w-16 py-1 text-right"
              inputMode="numeric"
              value={seconds}
              onChange={(e) => setSeconds(e.target.value)}
            />
            seconds
          </label>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="size-4 accent-slot"
              checked={fails}
              onChange={(e) => setFails(e.target.checked)}
            />
            it gives up half-way
          </label>
        </div>
      )}
      <div className="mt-5 flex gap-2">
        <button className="button-main">{form === "desk" ? "Send it" : "Save the file"}</button>
        <button type="button" className="button" onClick={() => askOver(null)}>
          Leave it
        </button>
      </div>
    </form>
  );
}

function Radio<T extends string>(given: {
  name: string;
  value: T;
  now: T;
  label: string;
  hint?: string;
  disabled?: boolean;
  onChoose: (value: T) => void;
}) {
  return (
    <label className={`flex items-baseline gap-2 py-0.5 ${given.disabled ? "opacity-50" : ""}`}>
      <input
        type="radio"
        className="translate-y-0.5 accent-slot"
        name={given.name}
        checked={given.now === given.value}
        disabled={given.disabled}
        onChange={() => given.onChoose(given.value)}
      />
      <span>
        {given.label}
        {given.hint && <span className="text-sm text-soft"> · {given.hint}</span>}
      </span>
    </label>
  );
}
