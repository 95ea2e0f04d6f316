import { make } from "../state/choosing";
import { askOver, seeClean } from "../state/viewing";
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import {
  ChevronDown,
  Eye,
  Image,
  MessageCircleQuestion,
  Redo2,
  Search,
  Spline,
  Type,
  Undo2,
  UserRoundPlus,
} from "lucide-react";
import { type ReactNode, useRef, useState } from "react";
import { bringFile } from "../bench/place";
import { bringIntoView, showAll, zoomBy, zoomTo } from "../parts/view";
import { answer, api, type Schemas } from "../api/client";
import { faultsOf, useFindings } from "../findings/findings";
import { absentSaid } from "../state/fonts";
import { exportDocument } from "../state/jobs";
import { duplicateOpen, edit, mayChange, redo, undo } from "../state/sending";
import { useStore } from "../state/store";
import { whyHere } from "../bench/WhyHere";
import { chooseOutline, OUTLINES } from "./making";
import { Shelf } from "./Shelf";
import { Logo } from "../parts/Logo";

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
  const wrong = useFindings((s) => faultsOf(s.found).length);
  const revision = useStore((s) => s.revision);
  /** The revision at which it was said that faults are open: after that an export goes ahead. */
  const [warned, setWarned] = useState(-1);
  const drawing = tool.kind === "outline";
  const may = useStore((s) => s.may);
  return (
    <header className="flex h-11 items-center gap-1.5 border-b border-line bg-card pr-3 pl-4 whitespace-nowrap *:shrink-0 max-[1100px]:gap-0.5 max-[1100px]:pr-2 max-[1100px]:pl-2">
      <button
        className="flex items-center gap-2.5 rounded-lg pr-2"
        onClick={onLeave}
        aria-label="Nest Line: all documents"
        title="All documents"
      >
        <Logo />
        <span className="font-serif text-[19px] font-bold max-[1100px]:hidden">Nest Line</span>
      </button>
      <DocumentName />
      {may === "see" ? (
        <ReadOnly />
      ) : (
        <nav
          aria-label="Make"
          className="ml-2 flex gap-0.5 rounded-lg bg-inset p-1 max-[1100px]:ml-0 max-[1100px]:*:px-2"
        >
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
            onClick={() => make(tool.kind === "draw" ? { kind: "hand" } : { kind: "draw" })}
          >
            <Short icon={<Spline size={17} />}>Draw</Short>
          </button>
          <button
            className={`rounded-md px-3 py-1 ${tool.kind === "line" ? "bg-sheet font-bold shadow-sm" : "hover:bg-sheet/70"}`}
            title="A line of display type (N L)"
            onClick={() => make(tool.kind === "line" ? { kind: "hand" } : { kind: "line" })}
          >
            <Short icon={<Type size={17} />}>Type line</Short>
          </button>
          <button className="rounded-md px-3 py-1 hover:bg-sheet/70" onClick={() => file.current?.click()}>
            <Short icon={<Image size={17} />}>Picture</Short>
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
      )}
      <span className="flex w-4 flex-1 items-center justify-end gap-2" aria-live="polite">
        <Others />
        <Storing />
      </span>
      <button
        className="button flex items-center gap-1.5 px-2.5"
        title="Everything that can be done, by its own words and everyday ones (D)"
        onClick={() => askOver("do")}
      >
        <Search size={15} aria-hidden /> <span className="max-[1100px]:sr-only">Do …</span>
      </button>
      <button
        className="button px-2"
        disabled={!undoLabel}
        onClick={() => void undo()}
        aria-label="Undo"
        title={undoLabel ? `Undo: ${undoLabel} (Ctrl+Z)` : "Nothing to undo"}
      >
        <Undo2 size={17} />
      </button>
      <button
        className="button px-2"
        disabled={!redoLabel}
        onClick={() => void redo()}
        aria-label="Redo"
        title={redoLabel ? `Redo: ${redoLabel} (Ctrl+Shift+Z)` : "Nothing to redo"}
      >
        <Redo2 size={17} />
      </button>
      <Zoom />
      <button
        className={`button max-[1100px]:px-2 ${tool.kind === "why" ? "bg-slot-wash font-bold text-slot-text" : ""}`}
        aria-pressed={tool.kind === "why"}
        onClick={whyHere}
        title="Point at a line’s end, a gap or a baseline and see what put it there ( Y )"
      >
        <Short icon={<MessageCircleQuestion size={17} />}>Why here</Short>
      </button>
      <button
        className={`button max-[1100px]:px-2 ${clean ? "bg-slot-wash font-bold text-slot-text" : ""}`}
        aria-pressed={clean}
        onClick={() => seeClean()}
        title="How it will print ( . )"
      >
        <Short icon={<Eye size={17} />}>Clean view</Short>
      </button>
      {may === "own" && (
        <button className="button px-2" title="Share it with somebody, or with a team" onClick={() => askOver("share")}>
          <span className="sr-only">Share</span>
          <UserRoundPlus size={17} aria-hidden />
        </button>
      )}
      <Menu>
        <MenuButton className="button-main max-[1100px]:px-2.5">Export</MenuButton>
        <MenuItems anchor={{ to: "bottom end", gap: 8 }} className="card z-40 max-h-[80vh] w-80 overflow-y-auto p-1.5">
          {wrong > 0 && (
            <MenuItem>
              <button
                className="mb-1 block w-full rounded-md bg-coral-wash px-3 py-1.5 text-left text-sm text-coral-text data-focus:underline"
                onClick={() => useFindings.setState({ open: true })}
              >
                {wrong === 1 ? "One fault is open" : `${wrong} faults are open`}
                {warned === revision ? "; press again to export all the same" : ""}.{" "}
                <b>Look at {wrong === 1 ? "it" : "them"}</b>
              </button>
            </MenuItem>
          )}
          {absent && <p className="px-3 pt-1.5 pb-2 text-xs whitespace-normal text-coral-text">{absent}</p>}
          {EXPORTS.map(([kind, more, label, hint]) => (
            <MenuItem key={label}>
              <button
                className="block w-full rounded-md px-3 py-1.5 text-left data-focus:bg-slot-wash"
                onClick={(event) => {
                  if (wrong && warned !== revision) {
                    event.preventDefault();
                    return setWarned(revision);
                  }
                  void exportDocument(id!, { kind, page: page + 1, dpi: 150, letters: "outlines", ...more }, label);
                }}
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

/** A name that is drawn where there is little room; it is still read out. */
function Short({ icon, children }: { icon: ReactNode; children: string }) {
  return (
    <>
      <span className="hidden max-[1100px]:block" aria-hidden>
        {icon}
      </span>
      <span className="max-[1100px]:sr-only">{children}</span>
    </>
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
      <button className="button px-2 max-[1100px]:hidden" aria-label="Zoom out" onClick={() => zoomBy(1 / 1.25)}>
        −
      </button>
      <Menu>
        <MenuButton
          className="button w-16 px-0 text-center tabular-nums"
          aria-label={`${Math.round(scale * 100)} %, zoom`}
        >
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
      <button className="button px-2 max-[1100px]:hidden" aria-label="Zoom in" onClick={() => zoomBy(1.25)}>
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
      className="button max-w-52 min-w-8 shrink! truncate px-2 max-[700px]:hidden"
      title={`${title}: rename`}
      onClick={() => mayChange() && setDraft(title)}
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

/** In place of what makes things: the document is somebody else's, and to be seen. */
function ReadOnly() {
  const owner = useStore((s) => s.owner);
  return (
    <p className="ml-2 flex items-center gap-2 rounded-lg bg-inset px-3 py-1">
      <span>
        <b>Read only</b>, {owner}’s
      </span>
      <button className="button -mr-2 px-2 py-0 underline" onClick={() => void duplicateOpen()}>
        Duplicate
      </button>
    </p>
  );
}
