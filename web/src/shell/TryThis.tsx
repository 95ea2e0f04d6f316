import { Check, X } from "lucide-react";
import { useEffect, useState } from "react";
import { useFindings } from "../findings/findings";
import { useStore } from "../state/store";
import { deed } from "./deeds";
import { keysOf } from "./keys";

type Now = ReturnType<typeof useStore.getState>;

/** First steps, and by what it is noticed that they were taken. */
const STEPS: { id: string; text: () => string; taken: (now: Now, before: Now) => boolean }[] = [
  {
    id: "move",
    text: () => "Choose the large kite and drag the flying one across it: the copy follows.",
    taken: (now, before) => now.undoLabel === "Move" && now.revision !== before.revision,
  },
  {
    id: "padding",
    text: () => "Choose it, then press its padding in the sentence below and drag the figure.",
    taken: (now) => now.undoLabel === "Padding",
  },
  {
    id: "type",
    text: () => "Type in the galley on the left: every keystroke nests.",
    taken: (now) => now.undoLabel === "Type",
  },
  {
    id: "look",
    text: () => `Press ${keysOf(deed("clean"))} for the page as it will print.`,
    taken: (now) => now.clean,
  },
  {
    id: "do",
    text: () => `Press ${keysOf(deed("do"))}: everything else is found there.`,
    taken: (now) => now.asks === "do",
  },
];

const TAKEN = "steps-taken";

/** A short list for the first use, on the demo's poster, that notices what was done; once closed it stays closed. */
export function TryThis() {
  const poster = useStore((s) => s.document?.title?.startsWith("Quarrowby Kite Day") ?? false);
  const clean = useStore((s) => s.clean);
  const [open, setOpen] = useState(() => localStorage.getItem("tried-this") !== "yes");
  const [taken, setTaken] = useState<string[]>(() => JSON.parse(localStorage.getItem(TAKEN) ?? "[]") as string[]);
  const shown = poster && open;
  useEffect(() => {
    if (!shown) return;
    return useStore.subscribe((now, before) => {
      for (const { id, taken } of STEPS)
        if (taken(now, before))
          setTaken((all) => {
            if (all.includes(id)) return all;
            const next = [...all, id];
            localStorage.setItem(TAKEN, JSON.stringify(next));
            return next;
          });
    });
  }, [shown]);
  const wrong = useFindings((s) => s.open);
  if (!shown || clean || wrong) return null;
  const close = () => {
    localStorage.setItem("tried-this", "yes");
    setOpen(false);
  };
  return (
    <aside
      className="card absolute top-3 right-3 max-h-[calc(100%-24px)] w-[184px] overflow-y-auto p-3.5 text-[13px] leading-snug max-[900px]:hidden"
      aria-label="Try this"
    >
      <div className="flex items-center">
        <h2 className="eyebrow flex-1">Try this</h2>
        <button className="grid size-6 place-items-center" aria-label="Close the list" onClick={close}>
          <X size={16} />
        </button>
      </div>
      <ol className="mt-1.5 space-y-1.5 text-soft">
        {STEPS.map(({ id, text }, index) => (
          <li key={id} className="flex gap-1.5">
            <span className="w-4 shrink-0 tabular-nums">
              {taken.includes(id) ? (
                <Check size={15} className="mt-px text-slot-text" aria-label="done" />
              ) : (
                `${index + 1}.`
              )}
            </span>
            <span className={taken.includes(id) ? "text-slot-text" : ""}>{text()}</span>
          </li>
        ))}
      </ol>
      {taken.length === STEPS.length && (
        <p className="mt-2">
          All done.{" "}
          <button className="min-h-6 font-bold text-slot-text underline" onClick={close}>
            Close the list
          </button>
        </p>
      )}
    </aside>
  );
}
