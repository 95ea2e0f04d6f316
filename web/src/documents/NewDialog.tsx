import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useMutation } from "@tanstack/react-query";
import { type DragEvent, useState } from "react";
import { answer, api, type Schemas } from "../api/client";
import { Sheets } from "../sentence/SheetButtons";
import { SHEETS } from "../sentence/readySheets";

type Item = Schemas["DocumentOut"];
type Unit = NonNullable<Schemas["NewDocument"]["unit"]>;

/** The sheets that are begun with most. */
const FIRST: { name: string; hint: string; body: Sheet }[] = [
  { name: "A3 poster", hint: "297 × 420 mm", body: { width: "297mm", height: "420mm", unit: "mm" } },
  { name: "A4 sheet", hint: "210 × 297 mm", body: { width: "210mm", height: "297mm", unit: "mm" } },
  { name: "A5 flyer", hint: "148 × 210 mm", body: { width: "148mm", height: "210mm", unit: "mm" } },
  { name: "US Letter", hint: "8.5 × 11 in", body: { width: "8.5in", height: "11in", unit: "in" } },
  { name: "Phone screen", hint: "390 × 844 px", body: { width: "390px", height: "844px", unit: "px" } },
];

interface Sheet {
  width: string;
  height: string;
  unit: Unit;
}

const sheetOf = (width: string, height: string): Sheet => ({
  width,
  height,
  unit: (/[a-z]+$/.exec(width)?.[0] ?? "mm") as Unit,
});

/** A new document: on a ready sheet in one press, or on one of its own size; with copy on it at once where some is
 * given. */
export function NewDialog({
  open,
  folder,
  onClose,
  onMade,
  onRefused,
}: {
  open: boolean;
  folder: string;
  onClose: () => void;
  onMade: (item: Item) => void;
  onRefused: (e: Error) => void;
}) {
  const [title, setTitle] = useState("");
  const [words, setWords] = useState("");
  const [facing, setFacing] = useState(false);
  const [own, setOwn] = useState({ width: "200", height: "200", unit: "mm" as Unit });
  const make = useMutation({
    mutationFn: (sheet: Sheet) =>
      answer(api.POST("/api/documents", { body: { title, words, facing, folder, ...sheet } })),
    onSuccess: onMade,
    onError: onRefused,
  });
  const drop = (event: DragEvent) => {
    const [file] = event.dataTransfer.files;
    if (!file) return;
    event.preventDefault();
    if (!/^text\/|\.(txt|md)$/i.test(`${file.type} ${file.name}`))
      return onRefused(new Error("Plain text can be dropped here; bring other files on the page itself."));
    void file.text().then(setWords);
  };
  const withUnit = (text: string) => (/[a-z"]\s*$/i.test(text) ? text : `${text}${own.unit}`);
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/25 p-6">
        <DialogPanel className="card max-h-full w-full max-w-2xl overflow-y-auto p-7">
          <DialogTitle className="font-serif text-2xl font-bold">New document</DialogTitle>
          <label className="mt-4 mb-1 block font-bold" htmlFor="title">
            Title
          </label>
          <input
            id="title"
            className="field w-full"
            value={title}
            placeholder="Untitled"
            maxLength={200}
            onChange={(e) => setTitle(e.target.value)}
          />
          <label className="mt-4 mb-1 block font-bold" htmlFor="words">
            Copy <span className="font-normal text-soft">that stands on it at once; typed, pasted or dropped here</span>
          </label>
          <textarea
            id="words"
            className="field block w-full font-serif"
            rows={2}
            value={words}
            onChange={(e) => setWords(e.target.value)}
            onDragOver={(e) => e.preventDefault()}
            onDrop={drop}
          />
          <label className="mt-3 flex items-center gap-2">
            <input
              type="checkbox"
              className="size-4 accent-slot"
              checked={facing}
              onChange={(e) => setFacing(e.target.checked)}
            />
            pages lie open in pairs
          </label>
          <h3 className="mt-5 mb-2 font-bold">On which sheet?</h3>
          <div className="grid grid-cols-2 gap-2 sm:grid-cols-3">
            {FIRST.map((sheet) => (
              <button
                key={sheet.name}
                className="rounded-lg border border-edge px-4 py-2 text-left hover:border-slot hover:bg-slot-wash"
                disabled={make.isPending}
                onClick={() => make.mutate(sheet.body)}
              >
                <span className="font-bold">{sheet.name}</span>
                <span className="block text-xs text-soft">{sheet.hint}</span>
              </button>
            ))}
          </div>
          <form
            className="mt-3 flex flex-wrap items-center gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              const sheet = sheetOf(withUnit(own.width), withUnit(own.height));
              make.mutate({ ...sheet, unit: own.unit });
            }}
          >
            <span className="font-bold">Its own size</span>
            <input
              className="field w-24 text-right tabular-nums"
              aria-label="Width"
              value={own.width}
              onChange={(e) => setOwn({ ...own, width: e.target.value })}
            />
            <span aria-hidden>×</span>
            <input
              className="field w-24 text-right tabular-nums"
              aria-label="Height"
              value={own.height}
              onChange={(e) => setOwn({ ...own, height: e.target.value })}
            />
            <select
              className="field"
              aria-label="Unit"
              value={own.unit}
              onChange={(e) => setOwn({ ...own, unit: e.target.value as Unit })}
            >
              {["mm", "cm", "in", "pt", "pc", "px"].map((unit) => (
                <option key={unit}>{unit}</option>
              ))}
            </select>
            <button className="button-main" disabled={make.isPending}>
              Begin
            </button>
          </form>
          <div className="mt-4 space-y-2">
            {SHEETS.map(([head, sheets]) => (
              <div key={head} className="flex items-baseline gap-3">
                <h4 className="eyebrow w-32 shrink-0">{head}</h4>
                <Sheets
                  sheets={sheets}
                  disabled={make.isPending}
                  onChoose={(_, width, height) => make.mutate(sheetOf(width, height))}
                />
              </div>
            ))}
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
