import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDown } from "lucide-react";
import { useRef, useState } from "react";
import { placePicture } from "../bench/place";
import { showAll, zoomBy, zoomTo } from "../bench/Bench";
import { edit, redo, type InHand, undo, useStore } from "../state/store";
import { Logo } from "./Logo";

export const OUTLINES: { name: string; outline: Record<string, unknown>; path: string; key?: string }[] = [
  { name: "Rectangle", outline: { kind: "rectangle" }, path: "M3 5H21V19H3Z", key: "R" },
  { name: "Ellipse", outline: { kind: "ellipse" }, path: "M12 4C17 4 21 7.6 21 12S17 20 12 20 3 16.4 3 12 7 4 12 4Z", key: "E" },
  { name: "Polygon", outline: { kind: "polygon", sides: 6 }, path: "M12 3L20 7.5V16.5L12 21L4 16.5V7.5Z", key: "G" },
  { name: "Star", outline: { kind: "star", points: 5, depth: 0.5 }, path: "M12 3L14.6 9.2 21.3 9.8 16.2 14.2 17.8 20.7 12 17.3 6.2 20.7 7.8 14.2 2.7 9.8 9.4 9.2Z", key: "S" },
  { name: "Heart", outline: { kind: "heart" }, path: "M12 7C13 4 16 3 18 4.4 21 6.4 21.6 10 19.5 13 17.6 15.8 14.5 17.6 12 21 9.5 17.6 6.4 15.8 4.5 13 2.4 10 3 6.4 6 4.4 8 3 11 4 12 7Z", key: "H" },
  { name: "Leaf", outline: { kind: "leaf" }, path: "M12 3C16 6 20 10 20 14.5 20 18.5 16 20 12 21 8 20 4 18.5 4 14.5 4 10 8 6 12 3Z", key: "F" },
  { name: "Kite", outline: { kind: "kite" }, path: "M12 2.5L20 9.5 12 21.5 4 9.5Z", key: "K" },
];

export function chooseOutline(name: string) {
  const found = OUTLINES.find((o) => o.name === name)!;
  useStore.setState({ tool: { kind: "outline", outline: found.outline, name: found.name } as InHand, selected: null });
}

export function askForPicture() {
  document.getElementById("picture-file")?.click();
}

export function TopBar({ onLeave }: { onLeave: () => void }) {
  const state = useStore();
  const file = useRef<HTMLInputElement>(null);
  const drawing = state.tool.kind === "outline";
  return (
    <header className="flex h-12 items-center gap-2 border-b border-line bg-card pr-3 pl-4">
      <button className="flex items-center gap-2.5 rounded-lg pr-2" onClick={onLeave} aria-label="All documents" title="All documents">
        <Logo />
        <span className="font-serif text-[19px] font-bold">Nest Line</span>
      </button>
      <DocumentName />
      <nav aria-label="Make" className="ml-2 flex gap-0.5 rounded-lg bg-inset p-1">
        <Menu>
          <MenuButton className={`flex items-center gap-1 rounded-md px-3 py-1 ${drawing ? "bg-sheet font-bold shadow-sm" : "hover:bg-sheet/70"}`}>
            {drawing ? (state.tool as { name: string }).name : "Outline"} <ChevronDown size={14} />
          </MenuButton>
          <MenuItems anchor={{ to: "bottom start", gap: 8 }} className="card z-40 grid w-64 grid-cols-2 gap-1 p-2">
            {OUTLINES.map((o) => (
              <MenuItem key={o.name}>
                <button className="flex items-center gap-2.5 rounded-md px-2 py-1.5 text-left data-focus:bg-slot-wash" onClick={() => chooseOutline(o.name)}>
                  <svg width="24" height="24" viewBox="0 0 24 24" fill="none" stroke="currentColor" strokeWidth="1.6" strokeLinejoin="round" aria-hidden>
                    <path d={o.path} />
                  </svg>
                  {o.name}
                </button>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
        <button className="rounded-md px-3 py-1 hover:bg-sheet/70" onClick={() => file.current?.click()}>
          Picture
        </button>
        <input
          id="picture-file"
          ref={file}
          type="file"
          hidden
          accept="image/png,image/jpeg,image/webp"
          onChange={(event) => {
            for (const one of event.target.files ?? []) void placePicture(one);
            event.target.value = "";
          }}
        />
      </nav>
      <span className="min-w-3 flex-1 truncate text-right text-xs text-soft" aria-live="polite">
        {state.saving ? "Storing …" : ""}
      </span>
      <button className="button px-2" disabled={!state.undoLabel} onClick={() => void undo()} title={state.undoLabel ? `Undo: ${state.undoLabel} (Ctrl+Z)` : "Nothing to undo"}>
        Undo
      </button>
      <button className="button px-2" disabled={!state.redoLabel} onClick={() => void redo()} title={state.redoLabel ? `Redo: ${state.redoLabel} (Ctrl+Shift+Z)` : "Nothing to redo"}>
        Redo
      </button>
      <div className="flex items-center" role="group" aria-label="Zoom">
        <button className="button px-2" aria-label="Zoom out" onClick={() => zoomBy(1 / 1.25)}>
          −
        </button>
        <Menu>
          <MenuButton className="button w-16 px-0 text-center tabular-nums" aria-label="Zoom">
            {Math.round(state.view.scale * 100)} %
          </MenuButton>
          <MenuItems anchor={{ to: "bottom", gap: 8 }} className="card z-40 w-36 p-1.5">
            <MenuItem>
              <button className="block w-full rounded-md px-3 py-1.5 text-left data-focus:bg-slot-wash" onClick={showAll}>
                Whole page
              </button>
            </MenuItem>
            {[0.5, 1, 2, 4].map((scale) => (
              <MenuItem key={scale}>
                <button className="block w-full rounded-md px-3 py-1.5 text-left tabular-nums data-focus:bg-slot-wash" onClick={() => zoomTo(scale)}>
                  {scale * 100} %
                </button>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
        <button className="button px-2" aria-label="Zoom in" onClick={() => zoomBy(1.25)}>
          +
        </button>
      </div>
      <button className={`button ${state.clean ? "bg-slot-wash font-bold text-slot-text" : ""}`} aria-pressed={state.clean} onClick={() => useStore.setState({ clean: !state.clean })} title="How it will print ( . )">
        Clean view
      </button>
      <Menu>
        <MenuButton className="button-main">Export</MenuButton>
        <MenuItems anchor={{ to: "bottom end", gap: 8 }} className="card z-40 w-72 p-1.5">
          {EXPORTS.map(([kind, label, hint]) => (
            <MenuItem key={kind}>
              <a className="block rounded-md px-3 py-1.5 data-focus:bg-slot-wash" href={`/api/documents/${state.id}/${kind}`} download>
                {label}
                <span className="block text-xs text-soft">{hint}</span>
              </a>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
    </header>
  );
}

const EXPORTS = [
  ["pdf", "PDF for print", "Real text, embedded fonts, trim and bleed"],
  ["json", "Document, JSON", "The open format, without its pictures"],
  ["zip", "Document with pictures, zip", "To keep, or to bring in elsewhere"],
] as const;

function DocumentName() {
  const title = useStore((s) => s.document?.title ?? "");
  const [draft, setDraft] = useState<string | null>(null);
  const keep = () => {
    const wanted = draft?.trim();
    setDraft(null);
    if (wanted && wanted !== title) void edit([{ do: "put", at: ["title"], value: wanted.slice(0, 200) }], "Rename");
  };
  return draft === null ? (
    <button className="button max-w-52 truncate px-2" title={`${title}: rename`} onClick={() => setDraft(title)}>
      {title || "Untitled"}
    </button>
  ) : (
    <input
      className="field w-52 py-1"
      aria-label="Title"
      value={draft}
      autoFocus
      maxLength={200}
      onFocus={(e) => e.target.select()}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === "Enter") keep();
        if (e.key === "Escape") setDraft(null);
      }}
    />
  );
}
