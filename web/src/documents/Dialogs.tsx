import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { type FormEvent, useState } from "react";
import { answer, api, type Schemas } from "../api/client";

type Item = Schemas["DocumentOut"];

/** Asks once more before documents are gone for good. */
export function ForgetDialog({
  count,
  onForget,
  onClose,
}: {
  count: number;
  onForget: () => void;
  onClose: () => void;
}) {
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/25 p-6">
        <DialogPanel className="card w-full max-w-sm p-7">
          <DialogTitle className="font-serif text-2xl font-bold">Delete for good?</DialogTitle>
          <p className="mt-2">
            {count === 1 ? "One document is" : `${count} documents are`} gone then, and cannot be brought back.
          </p>
          <div className="mt-5 flex gap-2">
            <button
              className="button-main"
              onClick={() => {
                onForget();
                onClose();
              }}
            >
              Delete for good
            </button>
            <button className="button" onClick={onClose}>
              Keep {count === 1 ? "it" : "them"}
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

/** Into which folder: one that is there, or a new one. */
export function Into({ folders, onInto }: { folders: string[]; onInto: (folder: string) => void }) {
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onInto((new FormData(event.currentTarget).get("folder") as string | null) ?? "");
      }}
    >
      <input
        className="field w-40 py-1"
        name="folder"
        aria-label="Folder"
        placeholder="a folder’s name"
        list="folders"
        maxLength={100}
      />
      <datalist id="folders">
        {folders.map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
      <button className="button" title="Without a name they are taken out of their folder">
        Put into it
      </button>
    </form>
  );
}

/** Another title for a document. */
export function RenameDialog({
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
