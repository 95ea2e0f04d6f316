import { useEffect, useMemo } from "react";
import { useShallow } from "zustand/react/shallow";
import { groupOf, type Thing } from "../state/document";
import { beginCopy } from "../state/choosing";
import { labelOf } from "../state/naming";
import { edit } from "../state/sending";
import { selectedThing, selection, shownScene, useStore } from "../state/store";
import { sayEveryRule, partLeft } from "../state/viewing";
import { OnRecipe } from "../recipes/RecipePart";
import { AroundClause } from "./AroundClause";
import { CopyClause } from "./CopyClause";
import { partly } from "./copyRules";
import { FrameClause } from "./FrameClause";
import { OutlinePart } from "./OutlinePart";
import { count, PageSaid } from "./PageSaid";
import { Verb, Part } from "../parts/Part";
import { PlacePart } from "./PlacePart";
import { Clause, Running } from "./Running";
import { WithinPart } from "./WithinPart";
import { FillPart, StrokePart } from "./Paint";
import { Differing } from "../parts/differing";
import { differing, framesChosen, thingsChosen } from "./several";
import { SeveralSaid } from "./SeveralSaid";

/** A frame's rules, written out as a sentence whose bold parts are the controls; it stands at the foot of the
 * window. */
export function RuleSentence() {
  useLeftParts();
  const thing = useStore(selectedThing);
  const several = useStore((s) => s.others.length);
  const onRecipe = useStore((s) => s.onRecipe);
  const chosenFrames = useFramesChosen();
  const chosen = useStore((s) => s.paragraphs);
  const scope = useScope(chosen);
  const grouped = useStore((s) => s.document && groupOf(s.document, selection(s)));
  const turn = useStore((s) => (s.selected ? shownScene(s)?.objects[s.selected]?.turn : 0));
  if (thing && several && chosenFrames.length > 1) {
    const [first, ...others] = chosenFrames;
    const key = first.id + others.length;
    return (
      <Differing.Provider value={differing(thingsChosen())}>
        <Running>
          <Clause
            head={
              grouped ? `This group of ${several + 1}` : `These ${count(several + 1, "object").replace(/^one /, "")}`
            }
          >
            <SeveralSaid />
          </Clause>
          <Clause head={`These ${count(chosenFrames.length, "frame").replace(/^one /, "")}`}>
            <FrameClause key={key} thing={first} frame={first.frame!} several />
          </Clause>
          <Clause head="Their copy">
            <Together /> <CopyClause key={key} thing={first} also={others.map((other) => other.id)} />
          </Clause>
          <Clause head="Around them" behind={<EveryRule />}>
            <AroundClause key={key} thing={first} several />
          </Clause>
        </Running>
      </Differing.Provider>
    );
  }
  if (thing && several)
    return (
      <Running>
        <Clause
          head={grouped ? `This group of ${several + 1}` : `These ${count(several + 1, "object").replace(/^one /, "")}`}
        >
          <SeveralSaid />
        </Clause>
        <Clause head="Their copy">
          <Together />{" "}
          <p className="text-soft">
            {grouped
              ? "Double-click one of them to choose it alone and read its rules."
              : "Choose one of them to read the rules of its copy."}
          </p>
        </Clause>
        <Clause head="Around them">
          <Differing.Provider value={differing(thingsChosen())}>
            <p>
              Their outlines have <FillPart id={thing.id} fill={thing.fill ?? null} /> and{" "}
              <StrokePart id={thing.id} stroke={thing.stroke ?? null} />. {labelOf(thing)} was chosen last; it is the
              one that is kept when they are combined.
            </p>
          </Differing.Provider>
        </Clause>
      </Running>
    );
  const said = (
    <Running most={thing ? undefined : 1}>
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
                {turn ? `, turned by ${turn}°` : ""}. It holds no copy.{" "}
                <Verb onDo={() => beginCopy()}>Give it copy</Verb> by typing or pasting in the galley.
              </p>
            )}
          </Clause>
          <Clause head={thing.frame ? `Its copy · ${scope}` : "Its copy"}>
            {thing.frame ? (
              <CopyClause key={thing.id} thing={thing} />
            ) : (
              <p className="text-soft">There is none{thing.picture ? ": a picture holds no copy" : " yet"}.</p>
            )}
          </Clause>
          <Clause head="Around it" behind={<EveryRule />}>
            <AroundClause key={thing.id} thing={thing} />
          </Clause>
        </>
      ) : (
        <PageSaid />
      )}
    </Running>
  );
  if (!onRecipe || thing?.recipe !== onRecipe) return said;
  return (
    <div>
      <OnRecipe name={onRecipe} />
      {said}
    </div>
  );
}

/** What a change of its copy changes: some words, its paragraph, those selected, or all of it. */
function useScope(chosen: [number, number] | null): string {
  return useStore((s) => {
    const nest = s.selected ? s.scene?.nests[s.selected] : undefined;
    const shape = nest && s.scene?.shapes[nest.shape];
    if (shape && s.stretches.length && partly(shape, s.stretches)) {
      const letters = Array.from(shape.text);
      const words = s.stretches.reduce(
        (sum, [from, to]) => sum + (letters.slice(from, to).join("").match(/\S+/g)?.length ?? 0),
        0,
      );
      return count(words, "word");
    }
    if (!chosen) return "all of it";
    const paragraphs = chosen[1] - chosen[0] + 1;
    return paragraphs === 1 ? "this paragraph" : count(paragraphs, "paragraph");
  });
}

/** The frames selected when there are several; the same list while nothing about them changes. */
function useFramesChosen(): Thing[] {
  const document = useStore((s) => s.document);
  const scene = useStore((s) => s.scene);
  const ids = useStore((s) => selection(s).join("\n"));
  return useMemo(() => (document && scene && ids ? framesChosen() : []), [document, scene, ids]);
}

/** How much copy several frames hold, and how much they have room for. */
function Together() {
  const [frames, words, room, over] = useStore(
    useShallow((s) => {
      const nests = selection(s).flatMap((id) => shownScene(s)?.nests[id] ?? []);
      const sum = (figure: "words" | "capacity" | "leftover") => nests.reduce((total, nest) => total + nest[figure], 0);
      return [nests.length, sum("words"), sum("capacity"), sum("leftover")];
    }),
  );
  if (frames < 2) return null;
  return (
    <p>
      stands in {count(frames, "frame")}: {count(words, "word")}, with room for about {room}
      {over > 0 && <b className="text-coral-text">; {over} left over</b>}.
    </p>
  );
}

function EveryRule() {
  const every = useStore((s) => s.everyRule);
  return (
    <button
      className="rounded-md px-1.5 font-sans text-xs whitespace-nowrap text-slot-text hover:bg-inset"
      aria-pressed={every}
      title="Rules that say nothing special are left out, unless you ask for all"
      onClick={() => sayEveryRule(!every)}
    >
      {every ? "only what is special" : "every rule"}
    </button>
  );
}

function PictureSaid({ id }: { id: string }) {
  const said = useStore(
    useShallow((s) => {
      const object = shownScene(s)?.objects[id];
      return object && { turn: object.turn, transparent: object.picture?.transparent };
    }),
  );
  const thing = useStore(selectedThing);
  if (!said || !thing) return null;
  const alt = thing.picture?.alt ?? "";
  return (
    <p>
      stands in <OutlinePart thing={thing} />, <PlacePart thing={thing} />, <WithinPart thing={thing} />
      {said.turn ? `, turned by ${said.turn}°` : ""}. To those who do not see it it is{" "}
      <Part name="alt" title="In words, for those who do not see it" said={alt ? `“${alt}”` : "not described"}>
        {(close) => (
          <textarea
            className="field w-full font-serif"
            rows={3}
            aria-label="What the picture shows"
            placeholder="What it shows, in a sentence"
            maxLength={2000}
            defaultValue={alt}
            onBlur={(event) => {
              const text = event.target.value.trim();
              if (text !== alt)
                void edit([{ do: "put", at: ["objects", id, "picture", "alt"], value: text }], "Describe the picture");
            }}
            onKeyDown={(event) => {
              if (event.key !== "Enter" || event.shiftKey) return;
              event.preventDefault();
              event.currentTarget.blur();
              close();
            }}
          />
        )}
      </Part>
      . {/* Where its contour is found otherwise, it is said of that. */}
      {(thing.contour?.from ?? "alpha") === "alpha" &&
        (said.transparent
          ? "It has transparency, so copy can run round its contour."
          : "It has no transparency: copy runs round its box, its outline, or its contour, found on its background or drawn by hand.")}
    </p>
  );
}

/** A part that was asked for and that nothing said took: after all parts were drawn. */
function useLeftParts() {
  const asked = useStore((s) => s.askedPart);
  const every = useStore((s) => s.everyRule);
  useEffect(() => {
    if (asked) partLeft();
  }, [asked, every]);
}
