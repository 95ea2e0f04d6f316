import type { Operation } from "../api/client";
import type { Thing, Wrap } from "../state/document";
import { edit, keepTried, say, shownScene, tryOut, useStore } from "../state/store";
import { trace } from "../state/tracing";
import { oneOrFour, sidesShown } from "../state/units";
import { LengthField } from "./LengthField";
import { RecipePart, RecipesOfSeveral } from "../recipes/RecipePart";
import { FillPart, StrokePart } from "./Paint";
import { AnchorPart } from "./AnchorPart";
import { ContourPart } from "./ContourPart";
import { Choice, Part, Rest } from "./Part";
import { TiesPart } from "./TiesPart";

const SIDES = { both: "on both sides", left: "on the left only", right: "on the right only", widest: "on the wider side" } as const;

/** *Around it*: how the object pushes other copy away; its fill and stroke. */
export function AroundClause({ thing, several = false }: { thing: Thing; several?: boolean }) {
  const place = useStore((s) => {
    const order = s.scene?.pages.find((p) => p.order.includes(thing.id))?.order ?? [];
    const at = order.length - 1 - order.indexOf(thing.id);
    return order.length < 2 ? "alone" : at === 0 ? "before all" : at === order.length - 1 ? "behind all" : `behind ${at}`;
  });
  const transparent = useStore((s) => shownScene(s)?.objects[thing.id]?.picture?.transparent);
  const picture = transparent !== undefined;
  const wrap: Wrap = thing.wrap ?? {};
  const by = wrap.by ?? "none";
  const clearance = sidesShown(wrap.clearance);
  const operations = (value: Wrap): Operation[] => [{ do: "put", at: ["objects", thing.id, "wrap"], value: { ...wrap, ...value } }];
  const four = (text: string): Wrap["clearance"] => (by === "box" || by === "below" ? oneOrFour(text) : text);
  const options: { value: NonNullable<Wrap["by"]> | "inside"; label: string; hint: string }[] = [
    { value: "none", label: "as if it were not there", hint: "Copy runs across it." },
    { value: "box", label: "round its box", hint: "Square, each side with its own clearance." },
    { value: "outline", label: "round its outline", hint: "As close as the outline allows." },
    ...(picture ? [{ value: "contour" as const, label: "round its picture’s contour", hint: transparent ? "Where the picture is not transparent." : "Found on its background, or drawn by hand." }] : []),
    { value: "below", label: "on below it", hint: "Nothing stands beside it in its column." },
    { value: "inside", label: "only inside its outline", hint: "Copy of frames that it meets stays within it." },
  ];
  const ways = { none: "as if it were not there", box: "round its box", outline: "round its outline", contour: "round its picture’s contour", below: "on below it" } as const;
  const inside = { box: "only inside its box", outline: "only inside its outline", contour: "only inside its picture’s contour" } as const;
  const said = wrap.inside && by in inside ? inside[by as keyof typeof inside] : ways[by];
  const choose = (value: (typeof options)[number]["value"]) => {
    const next: Wrap = value === "inside" ? { by: by === "contour" || by === "box" ? by : "outline", inside: true } : { by: value, inside: false };
    const square = next.by === "box" || next.by === "below";
    const change = operations({ ...next, ...(square || !Array.isArray(wrap.clearance) ? {} : { clearance: wrap.clearance[0] }), ...(by === "none" && wrap.clearance === undefined ? { clearance: 9 } : {}) });
    if (next.by !== "contour" || by === "contour") return void edit(change, "Wrap");
    // A big picture takes a while to trace: that is shown.
    void trace(thing.id, thing.contour ?? {}, ({ share }) => share > 0.2 && say(`Tracing the contour: ${Math.round(share * 100)} %`)).then((fault) => (fault ? say(fault, "fault") : edit(change, "Wrap").then(() => useStore.setState({ notice: null }))));
  };
  return (
    <p>
      other copy runs{" "}
      <Part name="wrap" title="How other copy runs" said={said}>
        {() => <Choice value={wrap.inside ? "inside" : by} options={options} onChoose={choose} />}
      </Part>
      {by !== "none" && (
        <>
          {"\u2060, "}
          <Part name="clearance" title="Clearance" said={<>{clearance} clear</>}>
            {() => (
              <LengthField
                label="Distance copy keeps"
                value={clearance}
                onTry={(text) => tryOut(operations({ clearance: four(text) }))}
                onKeep={(text) => void keepTried(operations({ clearance: four(text) }), "Clearance")}
                hint={by === "box" || by === "below" ? "One figure, or four: top right bottom left." : "Half an em to an em is everyday."}
              />
            )}
          </Part>
          {by !== "below" && !wrap.inside && (
            <>
              {"\u2060, "}
              <Part name="sides" title="Where copy may stand" said={SIDES[wrap.sides ?? "both"]}>
                {() => <Choice value={wrap.sides ?? "both"} options={Object.entries(SIDES).map(([value, label]) => ({ value: value as keyof typeof SIDES, label }))} onChoose={(sides) => void edit(operations({ sides }), "Sides")} />}
              </Part>
            </>
          )}
          {by === "contour" && picture && (
            <>
              {"\u2060, "}
              <ContourPart thing={thing} transparent={transparent} />
            </>
          )}
        </>
      )}
      .{" "}
      {thing.frame && (
        <Rest of="pushed" plain={thing.frame.pushed !== false}>
          Wraps of others{" "}
          <Part name="pushed" title="Wraps of other objects" said={thing.frame.pushed === false ? "do not push its copy" : "push its copy"}>
            {() => (
              <Choice
                value={thing.frame!.pushed === false ? "no" : "yes"}
                options={[
                  { value: "yes", label: "push its copy" },
                  { value: "no", label: "do not push its copy" },
                ]}
                onChoose={(value) => void edit([{ do: "put", at: ["objects", thing.id, "frame", "pushed"], value: value === "yes" }], "Wraps of others")}
              />
            )}
          </Part>
          .{" "}
        </Rest>
      )}
      The outline has <FillPart id={thing.id} fill={thing.fill ?? null} /> and <StrokePart id={thing.id} stroke={thing.stroke ?? null} />
      {(thing.fill || thing.stroke) && (
        <Rest of="paint" plain={thing.paint !== false}>
          {"\u2060, "}
          <Part name="paint" title="Its paint" said={thing.paint === false ? "not painted" : "painted"}>
            {() => (
              <Choice
                value={thing.paint === false ? "no" : "yes"}
                options={[
                  { value: "yes", label: "painted" },
                  { value: "no", label: "not painted", hint: "Fill and stroke are not drawn; copy and wrap go on." },
                ]}
                onChoose={(value) => void edit([value === "yes" ? { do: "cut", at: ["objects", thing.id, "paint"] } : { do: "put", at: ["objects", thing.id, "paint"], value: false }], value === "yes" ? "Painted" : "Paint off")}
              />
            )}
          </Part>
        </Rest>
      )}
      {several ? (
        <>
          . They <RecipesOfSeveral />.
        </>
      ) : (
        <>
      . It is <TiesPart thing={thing} />
      <AnchorPart thing={thing} />
      {thing.frame ? (
        <>
          {"\u2060, "}<RecipePart thing={thing} />
        </>
      ) : null}
      {"\u2060, "}and lies{" "}
      <Part name="stack" title="Before and behind" said={place}>
        {() => (
          <div className="grid grid-cols-2 gap-1">
            {(["front", "forward", "backward", "back"] as const).map((where) => (
              <button key={where} className="button" onClick={() => void edit([{ do: "act", act: "stack", given: { objects: [thing.id], to: where } }], "Stack")}>
                {{ front: "before all", forward: "one before", backward: "one behind", back: "behind all" }[where]}
              </button>
            ))}
          </div>
        )}
      </Part>
      .
        </>
      )}
    </p>
  );
}
