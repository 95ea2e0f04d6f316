import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { SHORTCUTS } from "./shortcuts";

export function Help({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/25 p-6">
        <DialogPanel className="card max-h-full w-full max-w-3xl overflow-y-auto p-7">
          <DialogTitle className="font-serif text-2xl font-bold">The keyboard</DialogTitle>
          <div className="mt-4 grid grid-cols-2 gap-x-10 gap-y-5 sm:grid-cols-4">
            {SHORTCUTS.map(([head, keys]) => (
              <div key={head}>
                <h3 className="eyebrow mb-2">{head}</h3>
                <dl className="space-y-1.5">
                  {keys.map(([key, what]) => (
                    <div key={key}>
                      <dt className="font-bold">{key}</dt>
                      <dd className="text-soft">{what}</dd>
                    </div>
                  ))}
                </dl>
              </div>
            ))}
          </div>
          <button className="button-main mt-6" onClick={onClose}>
            Close
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
