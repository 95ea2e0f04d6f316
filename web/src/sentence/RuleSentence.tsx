import type { ReactNode } from "react";
import { groupOf, labelOf } from "../state/document";
import { selectedThing, selection, shownScene, useStore } from "../state/store";
import { AroundClause } from "./AroundClause";
import { CopyClause } from "./CopyClause";
import { FrameClause } from "./FrameClause";
import { OutlinePart } from "./OutlinePart";
import { count, PageSaid } from "./PageSaid";
import { PlacePart } from "./PlacePart";
import { WithinPart } from "./WithinPart";
import { SeveralSaid } from "./SeveralSaid";

const SHEET = "grid h-full divide-x divide-line border-t border-line bg-card font-serif text-[16px] leading-[1.5] [font-feature-settings:'onum']";

/** A frame's rules, written out as a sentence whose bold parts are the controls; it stands at the foot of the window. */
export function RuleSentence() {
  const thing = useStore(selectedThing);
  const several = useStore((s) => s.others.length);
  const chosen = useStore((s) => s.paragraphs);
  const grouped = useStore((s) => s.document && groupOf(s.document, selection(s)));
  const object = useStore((s) => (s.selected ? shownScene(s)?.objects[s.selected] : undefined));
  if (thing && several)
    return (
      <section aria-label="Rules" className={`${SHEET} grid-cols-[1.25fr_1fr_1fr]`}>
        <Clause head={grouped ? `This group of ${several + 1}` : `These ${count(several + 1, "object").replace(/^one /, "")}`}>
          <SeveralSaid />
        </Clause>
        <Clause head="Their copy">
          <Together />
          <p className="text-soft">{grouped ? "Double-click one of them to choose it alone and read its rules." : "Choose one of them to read the rules of its copy."}</p>
        </Clause>
        <Clause head="Around them">
          <p>{labelOf(thing)} was chosen last; it is the one that is kept when they are combined.</p>
        </Clause>
      </section>
    );
  return (
    <section aria-label="Rules" className={`${SHEET} grid-cols-[1.25fr_1fr_1fr]`}>
      {thing ? (
        <>
          <Clause head={thing.frame ? "This frame" : thing.picture ? "This picture" : "This outline"}>
            {thing.frame ? (
              <FrameClause key={thing.id} thing={thing} frame={thing.frame} />
            ) : thing.picture ? (
              <PictureSaid id={thing.id} />
            ) : (
              <p>
                is <OutlinePart thing={thing} />, <PlacePart thing={thing} />
                {object?.turn ? `, turned by ${object.turn}°` : ""}. It holds no copy. <button className="part" onClick={() => useStore.setState({ galley: true, focusGalley: useStore.getState().focusGalley + 1 })}>Give it copy</button> by typing or pasting in the galley.
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
        <PageSaid Clause={Clause} />
      )}
    </section>
  );
}

/** How much copy several frames hold, and how much they have room for. */
function Together() {
  const scene = useStore((s) => shownScene(s));
  const ids = useStore((s) => selection(s).join("\n")).split("\n");
  const nests = ids.flatMap((id) => scene?.nests[id] ?? []);
  if (nests.length < 2) return null;
  const sum = (figure: "words" | "capacity" | "leftover") => nests.reduce((total, nest) => total + nest[figure], 0);
  const over = sum("leftover");
  return (
    <p className="mb-1.5">
      stands in {count(nests.length, "frame")}: {count(sum("words"), "word")}, with room for about {sum("capacity")}
      {over > 0 && <b className="text-coral-text">; {over} left over</b>}.
    </p>
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
  const thing = useStore(selectedThing);
  if (!object || !thing) return null;
  return (
    <p>
      stands in <OutlinePart thing={thing} />, <PlacePart thing={thing} />, <WithinPart thing={thing} />
      {object.turn ? `, turned by ${object.turn}°` : ""}. {object.picture?.transparent ? "It has transparency, so copy can run round its contour." : "It has no transparency: copy runs round its box or outline."}
    </p>
  );
}
