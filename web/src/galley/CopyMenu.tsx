import { Dialog, DialogPanel, DialogTitle, Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import type { Editor } from "@tiptap/react";
import { ChevronDown } from "lucide-react";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { act, post, type Schemas } from "../api/client";
import type { Thing } from "../state/document";
import { bringText, TEXT_FILES } from "../parts/texts";
import { edit } from "../state/sending";
import { shownScene, useStore } from "../state/store";
import type { Spelling } from "./spelling";

/** What else can be done with the copy: bring, dummy copy, find and replace, outlines. */
export function CopyMenu({
  thing,
  version,
  spelling,
  editor,
}: {
  thing: Thing;
  version: string;
  spelling: Spelling;
  editor: Editor | null;
}) {
  const page = useStore((s) => s.scene?.objects[thing.id]?.page ?? 0);
  const file = useRef<HTMLInputElement>(null);
  const plain = useRef(false);
  const [finding, setFinding] = useState(false);
  const [outlining, setOutlining] = useState(false);
  const [reading, setReading] = useState(false);
  const ask = (asPlain: boolean) => {
    plain.current = asPlain;
    file.current?.click();
  };
  return (
    <>
      <Menu>
        <MenuButton
          className="flex items-center gap-0.5 rounded-md px-1.5 py-1 text-xs text-soft hover:bg-inset"
          aria-label="More for this copy"
        >
          More <ChevronDown size={13} />
        </MenuButton>
        <MenuItems anchor={{ to: "bottom end", gap: 6 }} className="card z-40 w-64 p-1.5">
          <Item onClick={() => ask(false)} hint="TXT, Markdown, DOCX, ODT, with its formatting">
            Bring text from a file
          </Item>
          <Item onClick={() => ask(true)} hint="The words alone">
            Bring plain text from a file
          </Item>
          <Item
            onClick={() => void edit(act("dummy-copy", { object: thing.id, version }), "Dummy copy")}
            hint="Made-up prose to the frame’s end"
          >
            Dummy copy
          </Item>
          <Item onClick={() => setFinding(true)} hint="In all copy of the document">
            Find and replace
          </Item>
          {thing.frame && (
            <Item
              onClick={() =>
                editor
                  ?.chain()
                  .focus()
                  .insertContent({
                    type: "number",
                    attrs: { field: "page", of: null, shown: String(page + 1), look: {} },
                  })
                  .run()
              }
              hint="Of the page it stands on, always right"
            >
              Page number
            </Item>
          )}
          {thing.frame && (
            <Item
              onClick={() => setReading(true)}
              hint={
                !spelling.known
                  ? "There is no dictionary for its language"
                  : spelling.unknown.length
                    ? `${spelling.unknown.length} ${spelling.unknown.length === 1 ? "word is" : "words are"} not in the dictionary`
                    : "Every word is in the dictionary"
              }
            >
              Spelling
            </Item>
          )}
          {thing.frame && (
            <Item onClick={() => setOutlining(true)} hint="For good, as a printer may ask">
              Turn into outlines
            </Item>
          )}
        </MenuItems>
      </Menu>
      <input
        ref={file}
        type="file"
        hidden
        accept={TEXT_FILES}
        aria-label="Text file"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen) void bringText(chosen, thing.id, version, plain.current);
          event.target.value = "";
        }}
      />
      {finding && <FindAndReplace onClose={() => setFinding(false)} />}
      {reading && <SpellingBox spelling={spelling} onClose={() => setReading(false)} />}
      {outlining && <ToOutlines thing={thing} version={version} onClose={() => setOutlining(false)} />}
    </>
  );
}

function Item({ onClick, hint, children }: { onClick: () => void; hint: string; children: ReactNode }) {
  return (
    <MenuItem>
      <button className="block w-full rounded-md px-3 py-1.5 text-left data-focus:bg-slot-wash" onClick={onClick}>
        {children}
        <span className="block text-xs text-soft">{hint}</span>
      </button>
    </MenuItem>
  );
}

function Box({ title, onClose, children }: { title: string; onClose: () => void; children: ReactNode }) {
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/25 p-6">
        <DialogPanel className="card w-full max-w-md p-6">
          <DialogTitle className="font-serif text-xl font-bold">{title}</DialogTitle>
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function FindAndReplace({ onClose }: { onClose: () => void }) {
  const open = useStore((s) => s.document);
  const [find, setFind] = useState("");
  const [replace, setReplace] = useState("");
  const [capitals, setCapitals] = useState(false);
  const [words, setWords] = useState(false);
  const [said, setSaid] = useState("");
  const count = open && find ? places(open.copies, find, capitals, words) : 0;
  const go = async () => {
    if (await edit(act("replace", { find, replace, capitals, words }), "Replace"))
      setSaid(`Replaced in ${count} ${count === 1 ? "place" : "places"}. Undo brings the words back.`);
  };
  return (
    <Box title="Find and replace" onClose={onClose}>
      <form
        className="mt-4 space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (count) void go();
        }}
      >
        <label className="flex items-center gap-3">
          <span className="w-28 text-soft">Find</span>
          <input
            className="field flex-1"
            autoFocus
            value={find}
            onChange={(e) => (setFind(e.target.value), setSaid(""))}
          />
        </label>
        <label className="flex items-center gap-3">
          <span className="w-28 text-soft">Replace with</span>
          <input className="field flex-1" value={replace} onChange={(e) => setReplace(e.target.value)} />
        </label>
        <div className="flex gap-5 pl-31 text-soft">
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-slot"
              checked={words}
              onChange={(e) => setWords(e.target.checked)}
            />{" "}
            whole words
          </label>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-slot"
              checked={capitals}
              onChange={(e) => setCapitals(e.target.checked)}
            />{" "}
            capitals as typed
          </label>
        </div>
        <p className="min-h-5 text-soft" aria-live="polite">
          {said || (find ? (count ? `In ${count} ${count === 1 ? "place" : "places"}.` : "Nowhere in the copy.") : "")}
        </p>
        <div className="flex gap-2">
          <button className="button-main" disabled={!count}>
            Replace all
          </button>
          <button type="button" className="button" onClick={onClose}>
            Close
          </button>
        </div>
      </form>
    </Box>
  );
}

/** How often words stand in the copy: counted for the eye; the server does the replacing. */
function places(
  copies: NonNullable<ReturnType<typeof useStore.getState>["document"]>["copies"],
  find: string,
  capitals: boolean,
  words: boolean,
): number {
  const escaped = find.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
  const pattern = new RegExp(
    words ? `(?<![\\p{L}\\p{N}_])${escaped}(?![\\p{L}\\p{N}_])` : escaped,
    capitals ? "gu" : "giu",
  );
  let count = 0;
  for (const copy of Object.values(copies))
    for (const version of Object.values(copy.versions))
      for (const p of version.paragraphs)
        count += (
          (p.runs ?? [])
            .map((r) => r.text)
            .join("")
            .match(pattern) ?? []
        ).length;
  return count;
}

function SpellingBox({ spelling, onClose }: { spelling: Spelling; onClose: () => void }) {
  const words = useStore((s) => s.document?.words ?? NONE);
  return (
    <Box title="Spelling" onClose={onClose}>
      {!spelling.known ? (
        <p className="mt-3">
          There is no dictionary for this copy’s language. Its language is set in the sentence below the bench.
        </p>
      ) : spelling.unknown.length === 0 ? (
        <p className="mt-3">Every word is in the dictionary.</p>
      ) : (
        <ul className="mt-3 max-h-80 space-y-3 overflow-y-auto">
          {spelling.unknown.map((word) => (
            <UnknownWord key={word} word={word} language={spelling.language} words={words} />
          ))}
        </ul>
      )}
      <div className="mt-5 flex items-center gap-2">
        <button className="button-main" onClick={onClose}>
          Done
        </button>
        {words.length > 0 && (
          <button className="button" onClick={() => void edit([{ do: "cut", at: ["words"] }], "Mark words again")}>
            Mark {words.length === 1 ? `“${words[0]}”` : `${words.length} words`} again
          </button>
        )}
      </div>
    </Box>
  );
}

function UnknownWord({ word, language, words }: { word: string; language: string; words: string[] }) {
  const [better, setBetter] = useState<string[] | null>(null);
  useEffect(() => {
    let gone = false;
    void post<Schemas["BetterOut"]>("/api/spelling/better", { language, word })
      .then((said) => !gone && setBetter(said.better))
      .catch(() => !gone && setBetter([]));
    return () => void (gone = true);
  }, [word, language]);
  const replace = (by: string) =>
    void edit(act("replace", { find: word, replace: by, capitals: true, words: true }), "Spelling");
  return (
    <li>
      <div className="flex items-baseline gap-3">
        <b className="min-w-0 flex-1 truncate font-serif text-[16px] text-coral-text">{word}</b>
        <button
          className="button py-0.5 text-xs"
          onClick={() => void edit([{ do: "put", at: ["words"], value: [...words, word] }], "Leave a word")}
        >
          Leave it
        </button>
      </div>
      <div className="flex flex-wrap gap-1">
        {better === null ? (
          <span className="text-xs text-soft">Looking …</span>
        ) : better.length === 0 ? (
          <span className="text-xs text-soft">Nothing close to it is known.</span>
        ) : null}
        {better?.map((by) => (
          <button key={by} className="button px-2 py-0.5 text-slot-text" onClick={() => replace(by)}>
            {by}
          </button>
        ))}
      </div>
    </li>
  );
}

const NONE: string[] = [];

function ToOutlines({ thing, version, onClose }: { thing: Thing; version: string; onClose: () => void }) {
  const nest = useStore((s) => shownScene(s)?.nests[thing.id]);
  const shape = useStore((s) => (nest ? s.scene?.shapes[nest.shape] : undefined));
  const over = nest && shape && nest.leftover ? Array.from(shape.text).slice(nest.leftoverStart).join("") : "";
  return (
    <Box title="Turn the copy into outlines?" onClose={onClose}>
      <p className="mt-3">
        Its letters become shapes. They can no longer be read, edited or re-nested; undo brings the copy back.
      </p>
      {over && (
        <p className="mt-3 rounded-lg bg-coral-wash px-3 py-2 text-coral-text">
          {nest!.leftover} {nest!.leftover === 1 ? "word is" : "words are"} left over and would run past the edge: “
          {over.length > 160 ? `${over.slice(0, 157)}…` : over}”
        </p>
      )}
      <p className="mt-3 text-soft">
        If only the paint is in the way, take the fill and the stroke off instead: the copy stays live.
      </p>
      <div className="mt-5 flex gap-2">
        <button
          className="button-main"
          onClick={() => (
            onClose(),
            void edit(act("copy-to-outlines", { object: thing.id, version }), "Turn into outlines")
          )}
        >
          Turn into outlines
        </button>
        <button className="button" onClick={onClose}>
          Keep the copy
        </button>
      </div>
    </Box>
  );
}
