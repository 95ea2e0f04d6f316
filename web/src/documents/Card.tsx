import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Ellipsis } from "lucide-react";
import type { Schemas } from "../api/client";

type Item = Schemas["DocumentOut"];

/** A document in the list: its first page small, what it is called, and what can be done with it. */
export function Card({
  item,
  waiting,
  chosen,
  choosing,
  onOpen,
  onChoose,
  onRename,
  onDuplicate,
  onDelete,
  onRestore,
  onShare,
  onLetGo,
}: {
  item: Item;
  /** Changes of this browser that are not stored yet. */
  waiting: number;
  chosen: boolean;
  /** Whether any is chosen: then each shows that it can be. */
  choosing: boolean;
  onOpen: () => void;
  onChoose: (upTo: boolean) => void;
  onRename: () => void;
  onDuplicate: () => void;
  onDelete: () => void;
  onRestore: () => void;
  onShare: () => void;
  onLetGo: () => void;
}) {
  const bin = item.deleted !== null;
  return (
    <li className="group relative min-w-0">
      {item.may === "own" && (
        <input
          type="checkbox"
          className={`absolute top-3 left-3 z-[1] size-6 accent-slot group-focus-within:opacity-100 group-hover:opacity-100 ${choosing ? "" : "opacity-0"}`}
          aria-label={`Choose ${item.title}`}
          checked={chosen}
          onChange={() => undefined}
          onClick={(event) => onChoose(event.shiftKey)}
        />
      )}
      {bin ? (
        <div className="grid h-64 w-full place-items-center rounded-xl bg-inset/70 p-5">
          <Sheet item={item} />
        </div>
      ) : (
        <a
          className={`grid h-64 w-full place-items-center rounded-xl p-5 transition-colors duration-100 ${chosen ? "bg-slot-wash" : "bg-inset/70 hover:bg-inset"}`}
          href={`/d/${item.id}`}
          aria-label={`Open ${item.title}`}
          onClick={(event) => {
            if (event.ctrlKey || event.metaKey || event.shiftKey || event.altKey || event.button) return;
            event.preventDefault();
            onOpen();
          }}
        >
          <img
            src={item.picture}
            alt=""
            loading="lazy"
            decoding="async"
            className="max-h-full max-w-full bg-white shadow-md"
            style={{ aspectRatio: `${item.width} / ${item.height}`, maxHeight: "214px" }}
          />
        </a>
      )}
      <div className="mt-2 flex items-start gap-1">
        <div className="min-w-0 flex-1">
          <h2 className="truncate font-bold" title={item.title}>
            {item.title}
          </h2>
          <p className="text-xs text-soft">
            {item.folder && item.may === "own" && <b className="font-bold">{item.folder} · </b>}
            {item.owner && (
              <b className="font-bold">
                {item.owner}’s{item.may === "see" && ", to see"} ·{" "}
              </b>
            )}
            {item.shared && "shared · "}
            {item.pages === 1 ? "One page" : `${item.pages} pages`},{" "}
            {item.deleted ? `deleted ${ago(item.deleted)}` : `changed ${ago(item.changed)}`}
          </p>
          {waiting > 0 && (
            <p className="text-xs font-bold text-coral-text">
              {waiting === 1 ? "One change waits" : `${waiting} changes wait`} here; open it to store{" "}
              {waiting === 1 ? "it" : "them"}
            </p>
          )}
        </div>
        {bin ? (
          <button className="button px-2 py-0.5 text-xs" onClick={onRestore}>
            Bring back
          </button>
        ) : (
          <Menu>
            <MenuButton className="rounded-md p-1.5 text-soft hover:bg-inset" aria-label={`More for ${item.title}`}>
              <Ellipsis size={16} />
            </MenuButton>
            <MenuItems anchor={{ to: "bottom end", gap: 4 }} className="card z-40 w-44 p-1.5">
              {(
                [
                  ["Share …", onShare, item.may === "own"],
                  ["Rename", onRename, item.may !== "see"],
                  ["Duplicate", onDuplicate, true],
                  ["Choose it", () => onChoose(false), item.may === "own"],
                  ["Delete", onDelete, item.may === "own"],
                  ["Let go of it", onLetGo, item.may !== "own"],
                ] as const
              )
                .filter(([, , can]) => can)
                .map(([name, run]) => (
                  <MenuItem key={name}>
                    <button
                      className="block w-full rounded-md px-3 py-1.5 text-left data-focus:bg-slot-wash"
                      onClick={run}
                    >
                      {name}
                    </button>
                  </MenuItem>
                ))}
            </MenuItems>
          </Menu>
        )}
      </div>
    </li>
  );
}

/** A sheet without what is on it. */
function Sheet({ item }: { item: Item }) {
  return (
    <span
      className="block bg-white shadow-md"
      style={{
        aspectRatio: `${item.width} / ${item.height}`,
        height: `min(214px, ${(180 * item.height) / item.width}px)`,
      }}
    />
  );
}

function ago(when: string): string {
  const minutes = Math.round((Date.now() - Date.parse(when)) / 60000);
  const words = new Intl.RelativeTimeFormat("en", { numeric: "auto" });
  if (minutes < 1) return "just now";
  if (minutes < 60) return words.format(-minutes, "minute");
  if (minutes < 60 * 24) return words.format(-Math.round(minutes / 60), "hour");
  return words.format(-Math.round(minutes / 1440), "day");
}
