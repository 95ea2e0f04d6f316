import { saidEnough } from "../state/viewing";
import { X } from "lucide-react";
import { useEffect } from "react";
import { useStore } from "../state/store";

/** What the application has to say, at the top of the bench. */
export function Notices() {
  const notice = useStore((s) => s.notice);
  useEffect(() => {
    if (!notice) return;
    const timer = setTimeout(() => saidEnough(), notice.action ? 60000 : notice.kind === "fault" ? 12000 : 6000);
    return () => clearTimeout(timer);
  }, [notice]);
  if (!notice) return null;
  const fault = notice.kind === "fault";
  return (
    <div
      role={fault ? "alert" : "status"}
      className={`fixed top-16 left-1/2 z-50 flex max-w-[80vw] -translate-x-1/2 items-center gap-3 rounded-xl px-4 py-2.5 shadow-lg ${fault ? "bg-coral-wash text-coral-text" : "bg-ink text-sheet"}`}
    >
      <span>{notice.text.replace(/^\$[^:]*: /, "")}</span>
      {notice.action && (
        <button
          className="font-bold whitespace-nowrap underline underline-offset-2"
          onClick={() => {
            notice.action!.run();
            saidEnough();
          }}
        >
          {notice.action.label}
        </button>
      )}
      <button aria-label="Close" onClick={() => saidEnough()}>
        <X size={16} />
      </button>
    </div>
  );
}
