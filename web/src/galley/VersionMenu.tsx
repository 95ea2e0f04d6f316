import { Dialog, DialogPanel, DialogTitle, Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Check, ChevronDown } from "lucide-react";
import { type FormEvent, useRef, useState } from "react";
import { act } from "../api/client";
import { LANGUAGES } from "../parts/languages";
import { edit } from "../state/sending";
import { useStore } from "../state/store";
import { say, askOver } from "../state/viewing";
import { askStates, chooseTranslation, stateSaid, useTranslating } from "../translating/translating";
import { base64 } from "../api/base64";
import { leftBehind, TEXT_FILES } from "../parts/texts";
import { versionSaid } from "../parts/versions";

/** The versions of all copies: which is shown, another added, a text brought as one. */
export function VersionMenu({ copy }: { copy: string | null }) {
  const copies = useStore((s) => s.document?.copies) ?? {};
  const language = useStore((s) => s.document?.language ?? "en");
  const showing = useStore((s) => s.document?.showing) ?? language;
  const [adding, setAdding] = useState<"empty" | "text" | null>(null);
  const [renaming, setRenaming] = useState(false);
  const all = [...new Set([language, ...Object.values(copies).flatMap((c) => Object.keys(c.versions))])];
  const holding = (version: string) => Object.values(copies).filter((c) => version in c.versions).length;
  const total = Object.keys(copies).length;
  const states = useTranslating((s) => s.states);
  if (!total) return null;
  return (
    <>
      <Menu>
        <MenuButton
          className="flex min-h-6 min-w-0 items-center gap-0.5 rounded-md px-1.5 py-0.5 text-xs font-normal tracking-normal text-slot-text normal-case hover:bg-inset"
          aria-label={`Version shown: ${versionSaid(showing)}`}
          onClick={() => void askStates()}
        >
          <span className="truncate">{versionSaid(showing)}</span> <ChevronDown size={13} className="shrink-0" />
        </MenuButton>
        <MenuItems anchor={{ to: "bottom start", gap: 6 }} className="card z-40 w-64 p-1.5">
          {all.map((version) => {
            const missing = total - holding(version);
            return (
              <MenuItem key={version}>
                <button
                  className="flex w-full items-center gap-2 rounded-md px-2.5 py-1.5 text-left data-focus:bg-slot-wash"
                  onClick={() =>
                    void edit(
                      version === language
                        ? [{ do: "cut", at: ["showing"] }]
                        : [{ do: "put", at: ["showing"], value: version }],
                      `Show ${versionSaid(version)}`,
                    )
                  }
                >
                  <Check size={14} className={version === showing ? "text-slot-text" : "opacity-0"} />
                  <span className="flex-1">{versionSaid(version)}</span>
                  <span className="text-right text-xs text-soft">
                    {stateSaid(states, version) ?? (missing > 0 ? `missing in ${missing}` : null)}
                  </span>
                </button>
              </MenuItem>
            );
          })}
          <div className="my-1 border-t border-line" />
          <MenuItem>
            <button
              className="block w-full rounded-md px-2.5 py-1.5 text-left data-focus:bg-slot-wash"
              onClick={() => setAdding("empty")}
            >
              Add a version
              <span className="block text-xs text-soft">A language or a draft, of every copy</span>
            </button>
          </MenuItem>
          <MenuItem disabled={!copy}>
            <button
              className="block w-full rounded-md px-2.5 py-1.5 text-left data-disabled:opacity-40 data-focus:bg-slot-wash"
              onClick={() => setAdding("text")}
            >
              Bring a text as a version
              <span className="block text-xs text-soft">Of this copy: TXT, Markdown, DOCX, ODT</span>
            </button>
          </MenuItem>
          <MenuItem>
            <button
              className="block w-full rounded-md px-2.5 py-1.5 text-left data-focus:bg-slot-wash"
              onClick={() => askOver("out")}
            >
              Send out to be translated
              <span className="block text-xs text-soft">XLIFF, a table, or the translation desk</span>
            </button>
          </MenuItem>
          <MenuItem>
            <button
              className="block w-full rounded-md px-2.5 py-1.5 text-left data-focus:bg-slot-wash"
              onClick={chooseTranslation}
            >
              A translation comes home
              <span className="block text-xs text-soft">What it changes is seen before it is taken</span>
            </button>
          </MenuItem>
          <div className="my-1 border-t border-line" />
          <MenuItem>
            <button
              className="block w-full rounded-md px-2.5 py-1.5 text-left data-focus:bg-slot-wash"
              onClick={() => setRenaming(true)}
            >
              Rename {versionSaid(showing)}
            </button>
          </MenuItem>
          {all.length > 1 && (
            <MenuItem>
              <button
                className="block w-full rounded-md px-2.5 py-1.5 text-left data-focus:bg-slot-wash"
                onClick={() => void edit(act("drop-version", { version: showing }), "Take a version away")}
              >
                Take {versionSaid(showing)} away
              </button>
            </MenuItem>
          )}
        </MenuItems>
      </Menu>
      {adding && <AddVersion taken={all} text={adding === "text" ? copy : null} onClose={() => setAdding(null)} />}
      {renaming && <RenameVersion version={showing} onClose={() => setRenaming(false)} />}
    </>
  );
}

function Sheet({
  title,
  onClose,
  onSubmit,
  children,
  done,
}: {
  title: string;
  onClose: () => void;
  onSubmit: () => void;
  children: React.ReactNode;
  done: string;
}) {
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onSubmit();
  };
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/25 p-6">
        <DialogPanel as="form" onSubmit={submit} className="card w-full max-w-sm space-y-3 p-6">
          <DialogTitle className="font-serif text-xl font-bold">{title}</DialogTitle>
          {children}
          <div className="flex gap-2 pt-1">
            <button className="button-main">{done}</button>
            <button type="button" className="button" onClick={onClose}>
              Leave it
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function AddVersion({ taken, text, onClose }: { taken: string[]; text: string | null; onClose: () => void }) {
  const [language, setLanguage] = useState(
    LANGUAGES.find(([tag]) => !taken.includes(tag) && tag === "de")?.[0] ??
      LANGUAGES.find(([tag]) => !taken.includes(tag))![0],
  );
  const [name, setName] = useState("");
  const file = useRef<HTMLInputElement>(null);
  const version = name.trim() || language;
  const again = taken.includes(version);
  const submit = async () => {
    if (!text) {
      onClose();
      return void edit(act("add-version", { version, language }), `Add ${versionSaid(version)}`);
    }
    const chosen = file.current?.files?.[0];
    if (!chosen) return say("Choose a text file first.", "fault");
    if (chosen.size > 20_000_000) return say(`“${chosen.name}” is larger than 20 MB.`, "fault");
    onClose();
    const content = await base64(chosen);
    const brought = act("bring-version", { copy: text, version, language, name: chosen.name, content });
    if (!(await edit(brought, `Bring ${versionSaid(version)}`))) return;
    const behind = await leftBehind(chosen.name, content);
    if (behind) say(`“${chosen.name}” is ${versionSaid(version)} now${behind}.`);
  };
  return (
    <Sheet
      title={text ? "Bring a text as a version" : "Add a version"}
      done={text ? "Bring it" : "Add it"}
      onClose={onClose}
      onSubmit={() => void submit()}
    >
      <label className="flex items-center gap-3">
        <span className="w-24 text-soft">Language</span>
        <select className="field flex-1" value={language} onChange={(e) => setLanguage(e.target.value)}>
          {LANGUAGES.map(([tag, label]) => (
            <option key={tag} value={tag}>
              {label}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-3">
        <span className="w-24 text-soft">Name</span>
        <input
          className="field flex-1"
          value={name}
          placeholder={versionSaid(language)}
          maxLength={80}
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      {text && (
        <input ref={file} type="file" aria-label="Text of the version" accept={TEXT_FILES} className="w-full text-sm" />
      )}
      <p className="text-xs text-soft">
        {again
          ? text
            ? `This copy’s ${versionSaid(version)} is replaced.`
            : `Copies that have ${versionSaid(version)} keep theirs; the others get one.`
          : text
            ? "Its paragraphs look as those in the same places of the version shown."
            : "It begins with the words that are shown now, to be written over. Every copy gets it."}
      </p>
    </Sheet>
  );
}

function RenameVersion({ version, onClose }: { version: string; onClose: () => void }) {
  const [name, setName] = useState(version);
  return (
    <Sheet
      title={`Rename ${versionSaid(version)}`}
      done="Rename"
      onClose={onClose}
      onSubmit={() => (
        onClose(),
        name.trim() && void edit(act("rename-version", { version, to: name.trim() }), "Rename a version")
      )}
    >
      <input
        className="field w-full"
        aria-label="Name of the version"
        autoFocus
        value={name}
        maxLength={80}
        onFocus={(e) => e.target.select()}
        onChange={(e) => setName(e.target.value)}
      />
    </Sheet>
  );
}
