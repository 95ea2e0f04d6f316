import type { ReactNode } from "react";
import { labelOf, thingsOf } from "../state/document";
import { selectedThing, shownScene, useStore } from "../state/store";
import { inUnit } from "../state/units";
import { AroundClause } from "./AroundClause";
import { CopyClause } from "./CopyClause";
import { FrameClause } from "./FrameClause";

/** A frame's rules, written out as a sentence whose bold parts are the controls; it stands at the foot of the window. */
export function RuleSentence() {
  const thing = useStore(selectedThing);
  const chosen = useStore((s) => s.paragraphs);
  return (
    <section aria-label="Rules" className="grid h-full grid-cols-[1.25fr_1fr_1fr] divide-x divide-line border-t border-line bg-card font-serif text-[16px] leading-[1.5] [font-feature-settings:'onum']">
      {thing ? (
        <>
          <Clause head={thing.frame ? "This frame" : thing.picture ? "This picture" : "This outline"}>
            {thing.frame ? (
              <FrameClause key={thing.id} thing={thing} frame={thing.frame} />
            ) : thing.picture ? (
              <PictureSaid id={thing.id} />
            ) : (
              <p>
                holds no copy. <button className="part" onClick={() => useStore.setState({ galley: true, focusGalley: useStore.getState().focusGalley + 1 })}>Give it copy</button> by typing or pasting in the galley.
              </p>
            )}
          </Clause>
          <Clause head={chosen && thing.frame ? `Its copy · ${chosen[1] - chosen[0] + 1} selected` : "Its copy"}>
            {thing.frame ? <CopyClause key={thing.id} thing={thing} /> : <p className="text-soft">There is none{thing.picture ? ": a picture holds no copy" : " yet"}.</p>}
          </Clause>
          <Clause head="Around it">
            <AroundClause key={thing.id} thing={thing} />
          </Clause>
        </>
      ) : (
        <PageSaid />
      )}
    </section>
  );
}

function Clause({ head, children }: { head: string; children: ReactNode }) {
  return (
    <div className="min-w-0 overflow-y-auto px-6 py-3">
      <h2 className="eyebrow mb-1.5 font-sans">{head}</h2>
      {children}
    </div>
  );
}

function PictureSaid({ id }: { id: string }) {
  const object = useStore((s) => shownScene(s)?.objects[id]);
  const unit = useStore((s) => s.document?.unit ?? "mm");
  const thing = useStore(selectedThing);
  if (!object || !thing) return null;
  return (
    <p>
      is “{labelOf(thing)}”, {inUnit(object.box[2], unit)} wide and {inUnit(object.box[3], unit)} high
      {object.turn ? `, turned by ${object.turn}°` : ""}. {object.picture?.transparent ? "It has transparency, so copy can run round its contour." : "It has no transparency: copy runs round its box or outline."}
    </p>
  );
}

/** With nothing selected the sentence speaks of the page. */
function PageSaid() {
  const scene = useStore((s) => s.scene);
  const open = useStore((s) => s.document);
  if (!scene || !open) return null;
  const unit = open.unit ?? "mm";
  const page = scene.pages[0];
  const things = thingsOf(open);
  const nests = Object.values(scene.nests);
  const over = nests.reduce((sum, n) => sum + n.leftover, 0);
  return (
    <>
      <Clause head="This page">
        <p>
          is {inUnit(page.width, unit)} wide and {inUnit(page.height, unit)} high, with {page.bleed ? `${inUnit(page.bleed, unit)} of bleed` : "no bleed"}.
        </p>
      </Clause>
      <Clause head="Its copy">
        <p>
          stands in {count(nests.length, "frame")}
          {nests.length ? (over ? <>; <b className="text-coral-text">{count(over, "word")} {over === 1 ? "is" : "are"} left over</b></> : "; nothing is left over") : ""}.
        </p>
      </Clause>
      <Clause head="On it">
        <p>
          {things.length ? `are ${count(things.length, "object")}. Choose one to read its rules here.` : "is nothing yet. Draw an outline, type into it, and its rules are written here."}
        </p>
      </Clause>
    </>
  );
}

function count(n: number, word: string): string {
  const small = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"];
  return `${small[n] ?? n} ${word}${n === 1 ? "" : "s"}`;
}
