import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useEffect, useState } from "react";
import { answer, api, type Schemas } from "../api/client";
import { Library } from "lucide-react";
import { placeFromShelf, SHELF } from "../bench/place";

type ShelfPicture = Schemas["ShelfPicture"];

/** The small library of made-up pictures: search it, drag one onto the page. */
export function Shelf() {
  const [dragged, setDragged] = useState(false);
  return (
    <Popover>
      <PopoverButton className="rounded-md px-3 py-1 hover:bg-sheet/70 data-open:bg-sheet data-open:font-bold data-open:shadow-sm">
        <span className="hidden max-[1100px]:block" aria-hidden>
          <Library size={17} />
        </span>
        <span className="max-[1100px]:sr-only">Shelf</span>
      </PopoverButton>
      {/* While a picture is dragged out of it, the shelf makes way for the page below. */}
      <PopoverPanel
        anchor={{ to: "bottom start", gap: 8 }}
        className={`card z-40 flex max-h-[70vh] w-[340px] flex-col p-3 ${dragged ? "pointer-events-none opacity-0!" : ""}`}
      >
        {({ close }) => <Pictures close={close} onDrag={setDragged} />}
      </PopoverPanel>
    </Popover>
  );
}

function Pictures({ close, onDrag }: { close: () => void; onDrag: (on: boolean) => void }) {
  const [search, setSearch] = useState("");
  const [found, setFound] = useState<ShelfPicture[] | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  useEffect(() => {
    let current = true;
    const wait = setTimeout(() => {
      answer(api.GET("/api/shelf", { params: { query: { search } } }))
        .then((pictures) => current && (setFound(pictures), setFault(null)))
        .catch((error: Error) => current && setFault(error.message));
    }, 120);
    return () => {
      current = false;
      clearTimeout(wait);
    };
  }, [search]);
  return (
    <>
      <input
        className="field w-full"
        type="search"
        aria-label="Search the shelf"
        placeholder="Search: kite, sky, red …"
        value={search}
        autoFocus
        onChange={(event) => setSearch(event.target.value)}
      />
      <p className="mt-2 text-xs text-soft">Drag one onto the page, or press it to put it in the middle.</p>
      {fault && <p className="mt-2 text-coral-text">{fault}</p>}
      {found?.length === 0 && (
        <p className="mt-4 mb-2 text-soft">
          Nothing on the shelf answers to “{search}”.{" "}
          <button className="underline" onClick={() => setSearch("")}>
            Show all
          </button>
        </p>
      )}
      <ul className="mt-2 grid min-h-0 grid-cols-3 gap-2 overflow-y-auto">
        {found?.map((picture) => (
          <li key={picture.file}>
            <button
              className="flex w-full flex-col items-center rounded-lg p-1.5 text-center text-xs hover:bg-slot-wash"
              draggable
              onDragStart={(event) => {
                event.dataTransfer.setData(SHELF, picture.file);
                event.dataTransfer.effectAllowed = "copy";
                setTimeout(() => onDrag(true)); // a source that goes away at once ends the drag
              }}
              onDragEnd={(event) => {
                onDrag(false);
                if (event.dataTransfer.dropEffect !== "none") close();
              }}
              onClick={() => (close(), void placeFromShelf(picture.file))}
            >
              <span
                className={`block h-20 w-full overflow-hidden rounded-md ${picture.transparent ? "bg-bench p-1.5" : ""}`}
              >
                <img src={picture.url} alt="" className="h-full w-full object-contain" draggable={false} />
              </span>
              <span className="mt-1 leading-tight">
                {picture.title}
                {picture.team && <span className="text-soft"> · {picture.team}</span>}
              </span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
