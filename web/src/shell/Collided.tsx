import { queueOf } from "../state/sending";
import { useStore } from "../state/store";
import type { Side } from "../state/queue";

/** What two windows changed at the same time, with what each made of it: one is chosen, the other stays in the
 * history. */
export function Collided() {
  const held = useStore((s) => s.collided);
  const id = useStore((s) => s.id);
  const choose = (side: Side) => id !== null && queueOf(id).choose(side);
  if (!held) return null;
  // It does not take the keys: who is typing goes on, and chooses when the sentence is finished.
  return (
    <aside
      role="alertdialog"
      aria-label="Two changes of the same"
      className="fixed inset-x-0 top-16 z-50 mx-auto w-[620px] max-w-[92vw]"
    >
      <div className="card p-6">
        <h2 className="font-serif text-xl font-bold">Two changes of the same</h2>
        <p className="mt-1 text-soft">
          This was changed in another window while you changed it here. All else that both of you did is kept.
        </p>
        <div className="mt-4 max-h-[46vh] space-y-4 overflow-y-auto">
          {held.collisions.map((one, index) => (
            <section key={index}>
              <h3 className="font-bold">{one.what[0].toUpperCase() + one.what.slice(1)}</h3>
              {one.why && (
                <p className="mt-1 text-sm text-coral-text">
                  They do not go together: {one.why.replace(/^\$[^:]*: /, "")}.
                </p>
              )}
              <dl className="mt-1.5 grid grid-cols-2 gap-3">
                {(
                  [
                    ["The other window’s", one.theirs],
                    ["Yours", one.mine],
                  ] as const
                ).map(([label, value]) => (
                  <div key={label} className="rounded-lg bg-inset px-3 py-2">
                    <dt className="eyebrow">{label}</dt>
                    <dd className="mt-1 font-serif text-[16px] leading-snug break-words whitespace-pre-wrap">
                      {value}
                    </dd>
                  </div>
                ))}
              </dl>
            </section>
          ))}
        </div>
        <p className="mt-4 text-sm text-soft">
          The one you do not choose stays in the history: Redo brings yours, Undo the other window’s.
        </p>
        <div className="mt-3 flex gap-2">
          <button className="button-main" onClick={() => choose("theirs")}>
            Keep the other window’s
          </button>
          <button className="button" onClick={() => choose("mine")}>
            Put mine in its place
          </button>
        </div>
      </div>
    </aside>
  );
}
