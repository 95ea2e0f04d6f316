import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { ChevronDown } from "lucide-react";
import { useRef, useState } from "react";
import { bringFile } from "../bench/place";
import { bringIntoView, showAll, zoomBy, zoomTo } from "../bench/view";
import { answer, api, type Schemas } from "../api/client";
import { absentSaid } from "../state/fonts";
import { exportDocument } from "../state/jobs";
import { edit, redo, type InHand, undo, useStore } from "../state/store";
import { whyHere } from "../bench/WhyHere";
import { Shelf } from "./Shelf";
import { Logo } from "./Logo";

export const OUTLINES: { name: string; outline: Record<string, unknown>; path: string; key?: string }[] = [
  { name: "Rectangle", outline: { kind: "rectangle" }, path: "M3 5H21V19H3Z", key: "R" },
  {
    name: "Ellipse",
    outline: { kind: "ellipse" },
    path: "M12 4C17 4 21 7.6 21 12S17 20 12 20 3 16.4 3 12 7 4 12 4Z",
    key: "E",
  },
  { name: "Polygon", outline: { kind: "polygon", sides: 6 }, path: "M12 3L20 7.5V16.5L12 21L4 16.5V7.5Z", key: "G" },
  {
    name: "Star",
    outline: { kind: "star", points: 5, depth: 0.5 },
    path: "M12 3L14.6 9.2 21.3 9.8 16.2 14.2 17.8 20.7 12 17.3 6.2 20.7 7.8 14.2 2.7 9.8 9.4 9.2Z",
    key: "S",
  },
  {
    name: "Heart",
    outline: { kind: "heart" },
    path: "M12 7C13 4 16 3 18 4.4 21 6.4 21.6 10 19.5 13 17.6 15.8 14.5 17.6 12 21 9.5 17.6 6.4 15.8 4.5 13 2.4 10 3 6.4 6 4.4 8 3 11 4 12 7Z",
    key: "H",
  },
  {
    name: "Leaf",
    outline: { kind: "leaf" },
    path: "M12 3C16 6 20 10 20 14.5 20 18.5 16 20 12 21 8 20 4 18.5 4 14.5 4 10 8 6 12 3Z",
    key: "F",
  },
  { name: "Kite", outline: { kind: "kite" }, path: "M12 2.5L20 9.5 12 21.5 4 9.5Z", key: "K" },
  {
    name: "Speech bubble",
    outline: { kind: "bubble" },
    path: "M7 4H17C19.5 4 21 5.5 21 8V12C21 14.5 19.5 16 17 16H11L6.5 21 7.5 16H7C4.5 16 3 14.5 3 12V8C3 5.5 4.5 4 7 4Z",
    key: "B",
  },
  { name: "Arch", outline: { kind: "arch" }, path: "M4 21V11C4 6.5 7.5 3 12 3S20 6.5 20 11V21Z", key: "A" },
  {
    name: "Drop",
    outline: { kind: "drop" },
    path: "M12 2.5C13 7 19 10 19 15.2 19 19 16 21.5 12 21.5S5 19 5 15.2C5 10 11 7 12 2.5Z",
    key: "O",
  },
  { name: "Flag", outline: { kind: "flag" }, path: "M3 6H21L18 12 21 18H3Z", key: "V" },
  {
    name: "Ticket",
    outline: { kind: "ticket" },
    path: "M3 6H21V9.8A2.2 2.2 0 0 0 21 14.2V18H3V14.2A2.2 2.2 0 0 0 3 9.8Z",
    key: "T",
  },
  {
    name: "Cloud",
    outline: { kind: "cloud" },
    path: "M7 18C4 18 2.5 16 3.2 13.8 2 11 4.2 8.6 6.8 9 7.6 6 11.4 5 13.6 7 16.6 5.4 19.6 7.6 19 10.4 21.6 11.4 22 15 19.6 16.2 19 18.4 16.6 18.8 15 17.6 13.4 19.4 10 19.4 9 17.8Z",
    key: "C",
  },
  {
    name: "Ring",
    outline: { kind: "ring" },
    path: "M12 3A9 9 0 1 1 12 21A9 9 0 1 1 12 3ZM12 8A4 4 0 1 0 12 16A4 4 0 1 0 12 8Z",
    key: "I",
  },
  {
    name: "Burst",
    outline: { kind: "star", points: 16, depth: 0.2 },
    path: "M12 2.5L13.5 5 16 3.5 16.6 6.4 19.6 6 19 9 21.5 10.3 19.8 12.5 21.3 15 18.6 16 18.8 19 15.9 18.7 14.7 21.4 12.4 19.6 10 21.5 8.8 18.8 5.8 19.2 6 16.2 3.2 15.2 4.9 12.7 2.8 10.5 5.5 9.3 4.8 6.4 7.8 6.7 8.3 3.7 10.7 5Z",
    key: "U",
  },
];

export function chooseOutline(name: string) {
  const found = OUTLINES.find((o) => o.name === name)!;
  useStore.setState({
    tool: { kind: "outline", outline: found.outline, name: found.name } as InHand,
    selected: null,
    others: [],
  });
}

export function askForPicture() {
  document.getElementById("picture-file")?.click();
}

export function TopBar({ onLeave }: { onLeave: () => void }) {
  const tool = useStore((s) => s.tool);
  const id = useStore((s) => s.id);
  const clean = useStore((s) => s.clean);
  const undoLabel = useStore((s) => s.undoLabel);
  const redoLabel = useStore((s) => s.redoLabel);
  const file = useRef<HTMLInputElement>(null);
  const page = useStore((s) => s.page);
  const several = useStore((s) => (s.document?.pages.length ?? 1) > 1);
  const absent = useStore((s) => absentSaid(s.scene));
  const drawing = tool.kind === "outline";
  return (
    <header className="flex h-11 items-center gap-1.5 border-b border-line bg-card pr-3 pl-4 overflow-x-auto whitespace-nowrap *:shrink-0 max-[900px]:gap-0.5 max-[900px]:pr-2 max-[900px]:pl-2">
      <button
        className="flex items-center gap-2.5 rounded-lg pr-2"
        onClick={onLeave}
        aria-label="All documents"
        title="All documents"
      >
        <Logo />
        <span className="font-serif text-[19px] font-bold max-[1000px]:hidden">Nest Line</span>
      </button>
      <DocumentName />
      <nav aria-label="Make" className="ml-2 flex gap-0.5 rounded-lg bg-inset p-1 max-[900px]:ml-0 max-[900px]:*:px-2">
        <Menu>
          <MenuButton
            className={`flex items-center gap-1 rounded-md px-3 py-1 ${drawing ? "bg-sheet font-bold shadow-sm" : "hover:bg-sheet/70"}`}
          >
            {tool.kind === "outline" ? tool.name : "Outline"} <ChevronDown size={14} />
          </MenuButton>
          <MenuItems anchor={{ to: "bottom start", gap: 8 }} className="card z-40 grid w-64 grid-cols-2 gap-1 p-2">
            {OUTLINES.map((o) => (
              <MenuItem key={o.name}>
                <button
                  className="flex items-center gap-2.5 rounded-md px-2 py-1.5 text-left data-focus:bg-slot-wash"
                  onClick={() => chooseOutline(o.name)}
                >
                  <svg
                    width="24"
                    height="24"
                    viewBox="0 0 24 24"
                    fill="none"
                    stroke="currentColor"
                    strokeWidth="1.6"
                    strokeLinejoin="round"
                    aria-hidden
                  >
                    <path d={o.path} />
                  </svg>
                  {o.name}
                </button>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
        <button
          className={`rounded-md px-3 py-1 ${tool.kind === "draw" ? "bg-sheet font-bold shadow-sm" : "hover:bg-sheet/70"}`}
          title="Draw an outline freely (N D)"
          onClick={() =>
            useStore.setState({
              tool: tool.kind === "draw" ? { kind: "hand" } : { kind: "draw" },
              draft: null,
              selected: null,
              others: [],
            })
          }
        >
          Draw
        </button>
        <button
          className={`rounded-md px-3 py-1 ${tool.kind === "line" ? "bg-sheet font-bold shadow-sm" : "hover:bg-sheet/70"}`}
          title="A line of display type (N L)"
          onClick={() =>
            useStore.setState({
              tool: tool.kind === "line" ? { kind: "hand" } : { kind: "line" },
              selected: null,
              others: [],
            })
          }
        >
          Type line
        </button>
        <button className="rounded-md px-3 py-1 hover:bg-sheet/70" onClick={() => file.current?.click()}>
          Picture
        </button>
        <Shelf />
        <input
          id="picture-file"
          ref={file}
          type="file"
          hidden
          accept="image/png,image/jpeg,image/webp,image/svg+xml"
          onChange={(event) => {
            for (const one of event.target.files ?? []) void bringFile(one);
            event.target.value = "";
          }}
        />
      </nav>
      <span className="flex w-4 flex-1 items-center justify-end gap-2" aria-live="polite">
        <Others />
        <Storing />
      </span>
      <button
        className="button px-2"
        disabled={!undoLabel}
        onClick={() => void undo()}
        title={undoLabel ? `Undo: ${undoLabel} (Ctrl+Z)` : "Nothing to undo"}
      >
        Undo
      </button>
      <button
        className="button px-2"
        disabled={!redoLabel}
        onClick={() => void redo()}
        title={redoLabel ? `Redo: ${redoLabel} (Ctrl+Shift+Z)` : "Nothing to redo"}
      >
        Redo
      </button>
      <Zoom />
      <button
        className={`button max-[900px]:hidden ${tool.kind === "why" ? "bg-slot-wash font-bold text-slot-text" : ""}`}
        aria-pressed={tool.kind === "why"}
        onClick={whyHere}
        title="Point at a line’s end, a gap or a baseline and see what put it there ( Y )"
      >
        Why here
      </button>
      <button
        className={`button ${clean ? "bg-slot-wash font-bold text-slot-text" : ""}`}
        aria-pressed={clean}
        onClick={() => useStore.setState({ clean: !clean })}
        title="How it will print ( . )"
      >
        Clean view
      </button>
      <Menu>
        <MenuButton className="button-main">Export</MenuButton>
        <MenuItems anchor={{ to: "bottom end", gap: 8 }} className="card z-40 max-h-[80vh] w-80 overflow-y-auto p-1.5">
          {absent && <p className="px-3 pt-1.5 pb-2 text-xs whitespace-normal text-coral-text">{absent}</p>}
          {EXPORTS.map(([kind, more, label, hint]) => (
            <MenuItem key={label}>
              <button
                className="block w-full rounded-md px-3 py-1.5 text-left data-focus:bg-slot-wash"
                onClick={() =>
                  void exportDocument(id!, { kind, page: page + 1, dpi: 150, letters: "outlines", ...more }, label)
                }
              >
                {label}
                <span className="block text-xs text-soft">{hint(several ? `page ${page + 1}` : "the page")}</span>
              </button>
            </MenuItem>
          ))}
          <MadeBefore id={id!} />
        </MenuItems>
      </Menu>
    </header>
  );
}

/** Files that took long to make and are kept for a week, of this document. */
function MadeBefore({ id }: { id: number }) {
  const jobs = useQuery({ queryKey: ["jobs"], queryFn: () => answer(api.GET("/api/jobs")), staleTime: 0 }).data ?? [];
  const made = jobs.filter((job) => job.document === id && job.url).slice(0, 5);
  return made.map((job) => (
    <MenuItem key={job.id}>
      <a className="block rounded-md px-3 py-1.5 data-focus:bg-slot-wash" href={job.url!} download={job.name}>
        {job.name}
        <span className="block text-xs text-soft">
          Made{" "}
          {new Date(job.made).toLocaleString([], {
            day: "numeric",
            month: "long",
            hour: "2-digit",
            minute: "2-digit",
            hour12: false,
          })}
          , kept for a week
        </span>
      </a>
    </MenuItem>
  ));
}

/** The other windows that the document is open in; pressed, what is chosen there is brought into view. */
function Others() {
  const windows = useStore((s) => s.windows);
  const away = useStore((s) => s.away !== null);
  if (!windows.length || away) return null; // what waits is said first
  const page = (n: number) => `page ${n + 1}`;
  return (
    <button
      className="button flex items-center gap-1.5 px-2 text-xs"
      title={`Open in ${windows.length === 1 ? "another window" : "other windows"}: ${windows.map((w) => `${w.who}, ${page(w.page)}`).join("; ")}. Press to see what is chosen there.`}
      onClick={() => windows[0].chosen[0] && bringIntoView(windows[0].chosen[0])}
    >
      <span aria-hidden className="size-2 rounded-full bg-slot" />
      {windows.length === 1 ? `${windows[0].who}, ${page(windows[0].page)}` : `${windows.length} other windows`}
    </button>
  );
}

/** Whether changes are on their way to be stored. */
function Storing() {
  const saving = useStore((s) => s.saving);
  const away = useStore((s) => s.away);
  if (away) {
    const since = new Date(away.since).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });
    const waiting = `${away.waiting} ${away.waiting === 1 ? "change" : "changes"}`;
    return (
      <span
        className="truncate rounded-full bg-coral-wash px-2.5 py-0.5 text-xs font-bold text-coral-text"
        title={
          away.out
            ? "You are signed out. Sign in again: what you did goes on its way by itself."
            : "The server does not answer. What you did is kept in this browser and goes on its way as soon as it does. The page is shown as it was stored last."
        }
      >
        {away.out
          ? `Signed out: ${waiting} to store`
          : `${waiting} ${away.waiting === 1 ? "waits" : "wait"} since ${since}`}
      </span>
    );
  }
  return (
    saving && (
      <span className="size-2 rounded-full bg-slot" title="Storing …">
        <span className="sr-only">Storing …</span>
      </span>
    )
  );
}

function Zoom() {
  const scale = useStore((s) => s.view.scale);
  return (
    <div className="flex items-center" role="group" aria-label="Zoom">
      <button className="button px-2 max-[900px]:hidden" aria-label="Zoom out" onClick={() => zoomBy(1 / 1.25)}>
        −
      </button>
      <Menu>
        <MenuButton className="button w-16 px-0 text-center tabular-nums" aria-label="Zoom">
          {Math.round(scale * 100)} %
        </MenuButton>
        <MenuItems anchor={{ to: "bottom", gap: 8 }} className="card z-40 w-36 p-1.5">
          <MenuItem>
            <button className="block w-full rounded-md px-3 py-1.5 text-left data-focus:bg-slot-wash" onClick={showAll}>
              Whole page
            </button>
          </MenuItem>
          {[0.5, 1, 2, 4].map((wanted) => (
            <MenuItem key={wanted}>
              <button
                className="block w-full rounded-md px-3 py-1.5 text-left tabular-nums data-focus:bg-slot-wash"
                onClick={() => zoomTo(wanted)}
              >
                {wanted * 100} %
              </button>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
      <button className="button px-2 max-[900px]:hidden" aria-label="Zoom in" onClick={() => zoomBy(1.25)}>
        +
      </button>
    </div>
  );
}

/** What a document can be handed over as: of one page or of all, and how that is said. */
type Wanted = Schemas["ExportIn"];
const EXPORTS: [Wanted["kind"], Partial<Wanted>, string, (page: string) => string][] = [
  ["pdf", {}, "PDF for print", () => "Every page: real text, embedded fonts, trim and bleed"],
  ["png", { dpi: 300 }, "PNG, 300 dots an inch", (page) => `Of ${page}, for print`],
  ["png", { dpi: 96 }, "PNG, a dot a pixel", (page) => `Of ${page}, for screens; 192 is twice as sharp`],
  ["png", { dpi: 192 }, "PNG, two dots a pixel", (page) => `Of ${page}, for sharp screens`],
  ["webp", { dpi: 192 }, "WebP, two dots a pixel", (page) => `Of ${page}, small, for the web`],
  ["svg", { letters: "outlines" }, "SVG, letters as outlines", (page) => `Of ${page}; looks the same everywhere`],
  ["svg", { letters: "text" }, "SVG, letters as text", (page) => `Of ${page}; its fonts travel with it`],
  ["json", {}, "Document, JSON", () => "The open format, without its pictures"],
  ["zip", {}, "Document with pictures, zip", () => "To keep, or to bring in elsewhere"],
];

function DocumentName() {
  const title = useStore((s) => s.document?.title ?? "");
  const [draft, setDraft] = useState<string | null>(null);
  const keep = () => {
    const wanted = draft?.trim();
    setDraft(null);
    if (wanted && wanted !== title) void edit([{ do: "put", at: ["title"], value: wanted.slice(0, 200) }], "Rename");
  };
  return draft === null ? (
    <button
      className="button max-w-52 min-w-16 shrink! truncate px-2"
      title={`${title}: rename`}
      onClick={() => setDraft(title)}
    >
      {title || "Untitled"}
    </button>
  ) : (
    <input
      className="field w-52 shrink! py-1"
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
