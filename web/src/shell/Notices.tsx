import { X } from "lucide-react";
import { useEffect } from "react";
import { edit, useStore } from "../state/store";

/** What the application has to say, at the top of the bench. */
export function Notices({ onReload }: { onReload?: () => Promise<void> }) {
  const notice = useStore((s) => s.notice);
  const overtaken = useStore((s) => s.overtaken);
  useEffect(() => {
    if (!notice) return;
    const timer = setTimeout(() => useStore.setState({ notice: null }), notice.action ? 60000 : notice.kind === "fault" ? 12000 : 6000);
    return () => clearTimeout(timer);
  }, [notice]);
  if (overtaken && onReload)
    return (
      <div role="alertdialog" aria-label="Changed elsewhere" className="card fixed top-16 left-1/2 z-50 w-[440px] max-w-[90vw] -translate-x-1/2 p-4">
        <p className="font-bold">This document was changed in another window.</p>
        <p className="mt-1 text-soft">Your last change is not stored yet. The other window’s changes are kept either way.</p>
        <div className="mt-3 flex gap-2">
          <button
            className="button-main"
            onClick={async () => {
              const mine = overtaken;
              await onReload();
              if (mine.length) await edit(mine, "Change");
            }}
          >
            Put my change on top
          </button>
          <button className="button" onClick={() => void onReload()}>
            Leave my change out
          </button>
        </div>
      </div>
    );
  if (!notice) return null;
  const fault = notice.kind === "fault";
  return (
    <div role={fault ? "alert" : "status"} className={`fixed top-16 left-1/2 z-50 flex max-w-[80vw] -translate-x-1/2 items-center gap-3 rounded-xl px-4 py-2.5 shadow-lg ${fault ? "bg-coral-wash text-coral-text" : "bg-ink text-sheet"}`}>
      <span>{notice.text.replace(/^\$[^:]*: /, "")}</span>
      {notice.action && (
        <button
          className="font-bold whitespace-nowrap underline underline-offset-2"
          onClick={() => {
            notice.action!.run();
            useStore.setState({ notice: null });
          }}
        >
          {notice.action.label}
        </button>
      )}
      <button aria-label="Close" onClick={() => useStore.setState({ notice: null })}>
        <X size={16} />
      </button>
    </div>
  );
}
