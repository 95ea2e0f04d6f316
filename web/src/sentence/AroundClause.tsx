import type { Thing } from "../state/document";
import { edit } from "../state/sending";
import { useStore } from "../state/store";
import { RecipePart, RecipesOfSeveral } from "../recipes/RecipePart";
import { FillPart, StrokePart } from "./Paint";
import { AnchorPart } from "./AnchorPart";
import { Choice, Part, Rest } from "../parts/Part";
import { TiesPart } from "./TiesPart";
import { WrapParts } from "./WrapParts";

/** *Around it*: how the object pushes other copy away; its fill and stroke. */
export function AroundClause({ thing, several = false }: { thing: Thing; several?: boolean }) {
  const place = useStore((s) => {
    const order = s.scene?.pages.find((p) => p.order.includes(thing.id))?.order ?? [];
    const at = order.length - 1 - order.indexOf(thing.id);
    return order.length < 2
      ? "alone"
      : at === 0
        ? "before all"
        : at === order.length - 1
          ? "behind all"
          : `behind ${at}`;
  });
  return (
    <p>
      <WrapParts thing={thing} />
      {thing.frame && (
        <Rest of="pushed" plain={thing.frame.pushed !== false}>
          Wraps of others{" "}
          <Part
            name="pushed"
            title="Wraps of other objects"
            said={thing.frame.pushed === false ? "do not push its copy" : "push its copy"}
          >
            {() => (
              <Choice
                value={thing.frame!.pushed === false ? "no" : "yes"}
                options={[
                  { value: "yes", label: "push its copy" },
                  { value: "no", label: "do not push its copy" },
                ]}
                onChoose={(value) =>
                  void edit(
                    [{ do: "put", at: ["objects", thing.id, "frame", "pushed"], value: value === "yes" }],
                    "Wraps of others",
                  )
                }
              />
            )}
          </Part>
          .{" "}
        </Rest>
      )}
      The outline has <FillPart id={thing.id} fill={thing.fill ?? null} /> and{" "}
      <StrokePart id={thing.id} stroke={thing.stroke ?? null} />
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
                onChoose={(value) =>
                  void edit(
                    [
                      value === "yes"
                        ? { do: "cut", at: ["objects", thing.id, "paint"] }
                        : { do: "put", at: ["objects", thing.id, "paint"], value: false },
                    ],
                    value === "yes" ? "Painted" : "Paint off",
                  )
                }
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
              {"\u2060, "}
              <RecipePart thing={thing} />
            </>
          ) : null}
          {"\u2060, "}and lies{" "}
          <Part name="stack" title="Before and behind" said={place}>
            {() => (
              <div className="grid grid-cols-2 gap-1">
                {(["front", "forward", "backward", "back"] as const).map((where) => (
                  <button
                    key={where}
                    className="button"
                    onClick={() =>
                      void edit([{ do: "act", act: "stack", given: { objects: [thing.id], to: where } }], "Stack")
                    }
                  >
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
