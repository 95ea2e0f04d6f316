import { Dialog, DialogPanel, DialogTitle, Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Ellipsis } from "lucide-react";
import { type FormEvent, useRef, useState } from "react";
import { answer, api, post, Refused, type Schemas } from "../api/client";
import { Library } from "../recipes/Library";
import { Logo } from "../shell/Logo";
import { follow, type Job } from "../state/jobs";
import { leftOf } from "../state/kept";
import { say } from "../state/store";

type Item = Schemas["DocumentOut"];

const SHEETS: { name: string; hint: string; body: Partial<Schemas["NewDocument"]> }[] = [
  { name: "A3 poster", hint: "297 × 420 mm", body: { width: "297mm", height: "420mm", bleed: "3mm", unit: "mm" } },
  { name: "A4 sheet", hint: "210 × 297 mm", body: { width: "210mm", height: "297mm", bleed: "3mm", unit: "mm" } },
  { name: "A5 flyer", hint: "148 × 210 mm", body: { width: "148mm", height: "210mm", bleed: "3mm", unit: "mm" } },
  { name: "US Letter", hint: "8.5 × 11 in", body: { width: "8.5in", height: "11in", bleed: "0.125in", unit: "in" } },
  { name: "Phone screen", hint: "390 × 844 px", body: { width: "390px", height: "844px", bleed: "0px", unit: "px" } },
];

/** All documents, the last changed first. */
export function Documents({
  onOpen,
  onSignOut,
  name,
}: {
  onOpen: (id: number) => void;
  onSignOut: () => void;
  name: string;
}) {
  const queries = useQueryClient();
  const list = useQuery({ queryKey: ["documents"], queryFn: () => answer(api.GET("/api/documents")) });
  // Changes of this browser that are not stored yet, by document.
  const waiting = useQuery({ queryKey: ["waiting"], queryFn: leftOf, refetchInterval: 3000 }).data;
  const again = () => queries.invalidateQueries({ queryKey: ["documents"] });
  const [renaming, setRenaming] = useState<Item | null>(null);
  const [making, setMaking] = useState(false);
  const [recipes, setRecipes] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const refused = (error: Error) =>
    say(error instanceof Refused && error.path ? `${error.path}: ${error.message}` : error.message, "fault");
  const remove = useMutation({
    mutationFn: (item: Item) =>
      answer(api.DELETE("/api/documents/{document_id}", { params: { path: { document_id: item.id } } })),
    onSuccess: (_, item) => {
      void again();
      say(`“${item.title}” is deleted.`, "said", {
        label: "Undo",
        run: () =>
          void answer(
            api.POST("/api/documents/{document_id}/restore", { params: { path: { document_id: item.id } } }),
          ).then(again, refused),
      });
    },
    onError: refused,
  });
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
  const items = list.data?.documents ?? [];
  return (
    <div className="min-h-full">
      <header className="flex h-12 items-center gap-2.5 border-b border-line bg-card px-4">
        <Logo />
        <span className="flex-1 font-serif text-[19px] font-bold">Nest Line</span>
        <span className="text-soft">{name}</span>
        <button
          className="button"
          title="Sign out on every other machine and in every other browser; here you stay signed in"
          onClick={() =>
            void answer(api.DELETE("/api/session/elsewhere")).then(
              () => say("You are signed out everywhere else."),
              (error: Error) => say(error.message, "fault"),
            )
          }
        >
          End other sessions
        </button>
        <button className="button" onClick={onSignOut}>
          Sign out
        </button>
      </header>
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
        {list.isSuccess && items.length === 0 && (
          <p className="mt-10 max-w-md font-serif text-lg leading-snug text-soft">
            There is nothing here yet. Begin with a <b>new document</b>: draw an outline, type into it, and watch the
            copy nest.
          </p>
        )}
        <ul className="mt-7 grid grid-cols-[repeat(auto-fill,minmax(220px,1fr))] gap-x-7 gap-y-9">
          {items.map((item) => (
            <li key={item.id} className="group min-w-0">
              <button
                className="grid h-64 w-full place-items-center rounded-xl bg-inset/70 p-5 transition-colors duration-100 hover:bg-inset"
                onClick={() => onOpen(item.id)}
                aria-label={`Open ${item.title}`}
              >
                <img
                  src={item.picture}
                  alt=""
                  className="max-h-full max-w-full bg-white shadow-md"
                  style={{ aspectRatio: `${item.width} / ${item.height}`, maxHeight: "214px" }}
                />
              </button>
              <div className="mt-2 flex items-start gap-1">
                <div className="min-w-0 flex-1">
                  <h2 className="truncate font-bold" title={item.title}>
                    {item.title}
                  </h2>
                  <p className="text-xs text-soft">
                    {item.pages === 1 ? "One page" : `${item.pages} pages`}, changed {ago(item.changed)}
                  </p>
                  {waiting?.get(item.id) && (
                    <p className="text-xs font-bold text-coral-text">
                      {waiting.get(item.id) === 1 ? "One change waits" : `${waiting.get(item.id)} changes wait`} here;
                      open it to store {waiting.get(item.id) === 1 ? "it" : "them"}
                    </p>
                  )}
                </div>
                <Menu>
                  <MenuButton
                    className="rounded-md p-1.5 text-soft hover:bg-inset"
                    aria-label={`More for ${item.title}`}
                  >
                    <Ellipsis size={16} />
                  </MenuButton>
                  <MenuItems anchor={{ to: "bottom end", gap: 4 }} className="card z-40 w-36 p-1.5">
                    <MenuItem>
                      <button
                        className="block w-full rounded-md px-3 py-1.5 text-left data-focus:bg-slot-wash"
                        onClick={() => setRenaming(item)}
                      >
                        Rename
                      </button>
                    </MenuItem>
                    <MenuItem>
                      <button
                        className="block w-full rounded-md px-3 py-1.5 text-left data-focus:bg-slot-wash"
                        onClick={() => remove.mutate(item)}
                      >
                        Delete
                      </button>
                    </MenuItem>
                  </MenuItems>
                </Menu>
              </div>
            </li>
          ))}
        </ul>
      </main>
      <NewDialog
        open={making}
        onClose={() => setMaking(false)}
        onMade={(item) => onOpen(item.id)}
        onRefused={refused}
      />
      <Library open={recipes} onClose={() => setRecipes(false)} />
      {renaming && (
        <RenameDialog
          item={renaming}
          onClose={() => setRenaming(null)}
          onDone={() => void again()}
          onRefused={refused}
        />
      )}
    </div>
  );
}

function NewDialog({
  open,
  onClose,
  onMade,
  onRefused,
}: {
  open: boolean;
  onClose: () => void;
  onMade: (item: Item) => void;
  onRefused: (e: Error) => void;
}) {
  const [title, setTitle] = useState("");
  const make = useMutation({
    mutationFn: (body: Partial<Schemas["NewDocument"]>) =>
      answer(
        api.POST("/api/documents", {
          body: { title, width: "210mm", height: "297mm", bleed: "3mm", unit: "mm", ...body },
        }),
      ),
    onSuccess: onMade,
    onError: onRefused,
  });
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/25 p-6">
        <DialogPanel className="card w-full max-w-lg p-7">
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
          <p className="mt-5 mb-2 font-bold">On which sheet?</p>
          <div className="grid grid-cols-2 gap-2">
            {SHEETS.map((sheet) => (
              <button
                key={sheet.name}
                className="rounded-lg border border-line px-4 py-2.5 text-left hover:border-slot hover:bg-slot-wash"
                disabled={make.isPending}
                onClick={() => make.mutate(sheet.body)}
              >
                <span className="font-bold">{sheet.name}</span>
                <span className="block text-xs text-soft">{sheet.hint}</span>
              </button>
            ))}
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function RenameDialog({
  item,
  onClose,
  onDone,
  onRefused,
}: {
  item: Item;
  onClose: () => void;
  onDone: () => void;
  onRefused: (e: Error) => void;
}) {
  const [title, setTitle] = useState(item.title);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onClose();
    void answer(
      api.PATCH("/api/documents/{document_id}", { params: { path: { document_id: item.id } }, body: { title } }),
    ).then(onDone, onRefused);
  };
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/25 p-6">
        <DialogPanel as="form" onSubmit={submit} className="card w-full max-w-sm p-7">
          <DialogTitle className="font-serif text-2xl font-bold">Rename</DialogTitle>
          <input
            className="field mt-4 w-full"
            aria-label="Title"
            value={title}
            maxLength={200}
            autoFocus
            onFocus={(e) => e.target.select()}
            onChange={(e) => setTitle(e.target.value)}
          />
          <div className="mt-4 flex gap-2">
            <button className="button-main">Rename</button>
            <button type="button" className="button" onClick={onClose}>
              Leave it
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
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
