import { act } from "../api/client";
import { hostOf, labelOf, type Thing, thingsOf } from "../state/document";
import { edit, keepTried, stopTrying, tryOut, useStore } from "../state/store";
import { shown } from "../state/units";
import { LengthField } from "./LengthField";
import { Part } from "./Part";

/** Where an object belongs: to the page, or in line in the copy of a frame. */
export function AnchorPart({ thing }: { thing: Thing }) {
  const open = useStore((s) => s.document);
  const scene = useStore((s) => s.scene);
  const anchor = scene?.objects[thing.id]?.anchor;
  if (!open || !scene) return null;
  const page = scene.objects[thing.id]?.page;
  const host = anchor ? hostOf(open, thing.id) : null;
  const frames = thingsOf(open).filter((t) => t.frame && t.id !== thing.id && t.frame.copy !== thing.frame?.copy && scene.objects[t.id]?.page === page && scene.nests[t.id]);
  if (!anchor && !frames.length) return null;
  const shift = (value: string) => [{ do: "put" as const, at: ["objects", thing.id, "anchor", "shift"], value }];
  const into = (frame: Thing, end: boolean) => act("anchor", { object: thing.id, frame: frame.id, at: end ? Array.from(scene.shapes[scene.nests[frame.id].shape].text).length : 0, version: scene.nests[frame.id].version });
  return (
    <>
      {"\u2060, "}
      <Part name="anchor" title="Where it belongs" said={!anchor ? "stands on the page" : host ? `stands in line in ${labelOf(host)}` : "waits for its words"}>
        {(close) => (
          <div className="space-y-3">
            {anchor && host && (
              <>
                <LengthField label="Raised from the baseline by" value={shown(anchor.shift)} onTry={(text) => tryOut(shift(text))} onKeep={(text) => void keepTried(shift(text), "Raise")} hint="Below the baseline with a minus. Drag it on the page to other words." />
              </>
            )}
            {anchor?.waits && <p className="text-coral-text">{host ? "Its words are left over, so it is not drawn." : "Its place in the copy is gone, so it is not drawn."}</p>}
            {frames.some((frame) => frame.id !== host?.id) && (
              <div onMouseLeave={stopTrying}>
                <h4 className="eyebrow mb-1">In line in</h4>
                {frames
                  .filter((frame) => frame.id !== host?.id)
                  .map((frame) => (
                    <div key={frame.id} className="flex items-center">
                      <span className="min-w-0 flex-1 truncate">{labelOf(frame)}</span>
                      {[false, true].map((end) => (
                        <button key={String(end)} className="button px-2 py-1" onMouseEnter={() => tryOut(into(frame, end))} onClick={() => (close(), void edit(into(frame, end), "Put in line"))}>
                          {end ? "after its words" : "before them"}
                        </button>
                      ))}
                    </div>
                  ))}
              </div>
            )}
            {anchor && (
              <button className="button -ml-3" onClick={() => (close(), void edit(act("release", { object: thing.id, version: host ? scene.nests[host.id]?.version : undefined }), "Let go"))}>
                Let it go to the page, where it stands
              </button>
            )}
          </div>
        )}
      </Part>
    </>
  );
}
