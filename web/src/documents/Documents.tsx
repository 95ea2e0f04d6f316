import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { answer, api, post, Refused, type Schemas } from "../api/client";
import { Library } from "../recipes/Library";
import { follow, type Job } from "../state/jobs";
import { leftOf } from "../state/kept";
import { sentence } from "../state/sentence";
import { say } from "../state/viewing";
import { Card } from "./Card";
import { ForgetDialog, Into, RenameDialog } from "./Dialogs";
import { NewDialog } from "./NewDialog";
import { ShareDialog } from "./ShareDialog";

type Item = Schemas["DocumentOut"];

/** How documents can be ordered. */
const ORDERS = {
  changed: (a: Item, b: Item) => b.changed.localeCompare(a.changed),
  title: (a: Item, b: Item) => a.title.localeCompare(b.title),
  size: (a: Item, b: Item) => b.width * b.height - a.width * a.height,
};

/** All documents, the last changed first. */
export function Documents({ onOpen }: { onOpen: (id: number) => void }) {
  const queries = useQueryClient();
  const [bin, setBin] = useState(false);
  const [wanted, setWanted] = useState("");
  const [order, setOrder] = useState<keyof typeof ORDERS>("changed");
  const [folder, setFolder] = useState("");
  const [others, setOthers] = useState(false);
  const [sharing, setSharing] = useState<Item | null>(null);
  const [chosen, setChosen] = useState<number[]>([]);
  const [emptying, setEmptying] = useState<number[] | null>(null);
  const list = useQuery({
    queryKey: ["documents", bin],
    queryFn: () => answer(api.GET("/api/documents", { params: { query: { deleted: bin } } })),
  });
  // Changes of this browser that are not stored yet, by document.
  const waiting = useQuery({ queryKey: ["waiting"], queryFn: leftOf, refetchInterval: 3000 }).data;
  const again = () => queries.invalidateQueries({ queryKey: ["documents"] });
  const [renaming, setRenaming] = useState<Item | null>(null);
  const [making, setMaking] = useState(false);
  const [recipes, setRecipes] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const refused = (error: Error) =>
    say(error instanceof Refused && error.path ? `${error.path}: ${error.message}` : error.message, "fault");
  const duplicate = (item: Item) =>
    void answer(
      api.POST("/api/documents/{document_id}/duplicate", { params: { path: { document_id: item.id } } }),
    ).then(again, refused);
  const bring = async (chosen: File) => {
    const form = new FormData();
    form.append("file", chosen);
    try {
      const made = await post<Item | Job>("/api/documents/import", form);
      if (!("state" in made)) return onOpen(made.id);
      const ended = await follow(made, `Bringing in ${chosen.name}`);
      if (ended.state === "failed") throw new Refused(ended.said, 400, ended.path || null);
      if (ended.state === "done" && ended.document) onOpen(ended.document);
    } catch (error) {
      refused(error as Error);
    }
  };
  const documents = useMemo(() => list.data?.documents ?? [], [list.data]);
  const shared = documents.filter((item) => item.owner).length;
  const letGo = (item: Item) =>
    void answer(api.DELETE("/api/documents/{document_id}/mine", { params: { path: { document_id: item.id } } })).then(
      (out) => {
        say(sentence(out.message));
        void again();
      },
      refused,
    );
  const folders = useMemo(
    () =>
      [
        ...new Set(
          documents
            .filter((item) => !item.owner)
            .map((item) => item.folder)
            .filter(Boolean),
        ),
      ].sort((a, b) => a.localeCompare(b)),
    [documents],
  );
  const items = useMemo(() => {
    const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
    return documents
      .filter(
        (item) =>
          (!folder || (item.folder === folder && !item.owner)) &&
          (!others || item.owner) &&
          words.every((w) => item.title.toLowerCase().includes(w)),
      )
      .sort(ORDERS[order]);
  }, [documents, wanted, order, folder, others]);
  const many = (ids: number[], what: Schemas["ManyIn"]["do"], into = "") =>
    void answer(api.POST("/api/documents/many", { body: { ids, do: what, folder: into } })).then(() => {
      setChosen([]);
      void again();
      const said =
        ids.length === 1
          ? `“${documents.find((d) => d.id === ids[0])?.title ?? "It"}” is`
          : `${ids.length} documents are`;
      if (what === "delete") say(`${said} deleted.`, "said", { label: "Undo", run: () => many(ids, "restore") });
      if (what === "restore") say(`${said} back.`);
      if (what === "forget") say(`${said} gone for good.`);
    }, refused);
  const choose = (item: Item, upTo: boolean) => {
    const at = items.indexOf(item);
    const last = items.findIndex((one) => one.id === chosen[chosen.length - 1]);
    if (upTo && last >= 0) {
      const between = items
        .slice(Math.min(at, last), Math.max(at, last) + 1)
        .filter((one) => !one.owner)
        .map((one) => one.id);
      return setChosen([...new Set([...chosen, ...between])]);
    }
    setChosen(chosen.includes(item.id) ? chosen.filter((id) => id !== item.id) : [...chosen, item.id]);
  };
  return (
    <>
      <main className="mx-auto max-w-6xl px-8 py-9">
        <div className="flex items-baseline gap-3">
          <h1 className="flex-1 font-serif text-[34px] leading-tight font-bold">Documents</h1>
          <button className="button" onClick={() => setRecipes(true)}>
            Recipes
          </button>
          <button className="button" onClick={() => file.current?.click()}>
            Bring in a document
          </button>
          <input
            ref={file}
            hidden
            type="file"
            accept=".json,.zip,application/json,application/zip"
            onChange={(event) => {
              if (event.target.files?.[0]) void bring(event.target.files[0]);
              event.target.value = "";
            }}
          />
          <button className="button-main" onClick={() => setMaking(true)}>
            New document
          </button>
        </div>
        {list.isError && <p className="mt-8 text-coral-text">{list.error.message}</p>}
        <div className="mt-6 flex flex-wrap items-center gap-3">
          <input
            className="field w-64"
            type="search"
            aria-label="Search the documents"
            placeholder="Search"
            value={wanted}
            onChange={(event) => setWanted(event.target.value)}
          />
          <select
            className="field"
            aria-label="Order"
            value={order}
            onChange={(event) => setOrder(event.target.value as keyof typeof ORDERS)}
          >
            <option value="changed">last changed first</option>
            <option value="title">by title</option>
            <option value="size">largest sheet first</option>
          </select>
          {shared > 0 && !bin && (
            <button
              className={`button px-2.5 py-1 ${others ? "bg-slot-wash font-bold text-slot-text" : ""}`}
              aria-pressed={others}
              onClick={() => {
                setOthers(!others);
                setFolder("");
              }}
            >
              Shared with you
            </button>
          )}
          {folders.length > 0 && !bin && (
            <nav aria-label="Folders" className="flex flex-wrap gap-1">
              {["", ...folders].map((one) => (
                <button
                  key={one}
                  className={`button px-2.5 py-1 ${one === folder ? "bg-slot-wash font-bold text-slot-text" : ""}`}
                  aria-pressed={one === folder}
                  onClick={() => {
                    setFolder(one);
                    setOthers(false);
                  }}
                >
                  {one || "All"}
                </button>
              ))}
            </nav>
          )}
          <span className="flex-1" />
          <button
            className={`button ${bin ? "bg-slot-wash font-bold text-slot-text" : ""}`}
            aria-pressed={bin}
            onClick={() => {
              setBin(!bin);
              setChosen([]);
              setFolder("");
            }}
          >
            Bin
          </button>
        </div>
        {(chosen.length > 0 || (bin && items.length > 0)) && (
          <div
            role="toolbar"
            aria-label="What is done with the chosen"
            className="sticky top-2 z-10 mt-4 flex flex-wrap items-center gap-2 rounded-xl bg-sheet px-4 py-2 shadow-md"
          >
            <span className="flex-1" role="status">
              {chosen.length === 0
                ? "Deleted documents stay here until the bin is emptied."
                : `${chosen.length} chosen`}
            </span>
            {bin ? (
              <>
                {chosen.length > 0 && (
                  <button className="button" onClick={() => many(chosen, "restore")}>
                    Bring back
                  </button>
                )}
                <button
                  className="button text-coral-text"
                  onClick={() => setEmptying(chosen.length ? chosen : items.map((item) => item.id))}
                >
                  {chosen.length ? "Delete for good …" : "Empty the bin …"}
                </button>
              </>
            ) : (
              <>
                <Into folders={folders} onInto={(into) => many(chosen, "folder", into)} />
                <button className="button" onClick={() => many(chosen, "delete")}>
                  Delete
                </button>
              </>
            )}
            {chosen.length > 0 && (
              <button className="button" onClick={() => setChosen([])}>
                Choose none
              </button>
            )}
          </div>
        )}
        {list.isSuccess && items.length === 0 && (
          <p className="mt-10 max-w-md font-serif text-lg leading-snug text-soft">
            {bin ? (
              "The bin is empty."
            ) : documents.length ? (
              "No document is called so."
            ) : (
              <>
                There is nothing here yet. Begin with a <b>new document</b>: draw an outline, type into it, and watch
                the copy nest.
              </>
            )}
          </p>
        )}
        <ul className="mt-6 grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-x-7 gap-y-9">
          {items.map((item) => (
            <Card
              key={item.id}
              item={item}
              waiting={waiting?.get(item.id) ?? 0}
              chosen={chosen.includes(item.id)}
              choosing={chosen.length > 0}
              onOpen={() => onOpen(item.id)}
              onChoose={(upTo) => choose(item, upTo)}
              onRename={() => setRenaming(item)}
              onDuplicate={() => duplicate(item)}
              onDelete={() => many([item.id], "delete")}
              onRestore={() => many([item.id], "restore")}
              onShare={() => setSharing(item)}
              onLetGo={() => letGo(item)}
            />
          ))}
        </ul>
      </main>
      <NewDialog
        open={making}
        folder={folder}
        onClose={() => setMaking(false)}
        onMade={(item) => onOpen(item.id)}
        onRefused={refused}
      />
      {emptying && (
        <ForgetDialog
          count={emptying.length}
          onForget={() => many(emptying, "forget")}
          onClose={() => setEmptying(null)}
        />
      )}
      {sharing && <ShareDialog id={sharing.id} title={sharing.title} onClose={() => setSharing(null)} />}
      <Library open={recipes} onClose={() => setRecipes(false)} />
      {renaming && (
        <RenameDialog
          item={renaming}
          onClose={() => setRenaming(null)}
          onDone={() => void again()}
          onRefused={refused}
        />
      )}
    </>
  );
}
