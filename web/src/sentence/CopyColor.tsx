import type { Schemas } from "../api/client";
import { selectedThing, useStore } from "../state/store";
import { Colors } from "./Paint";
import { Part } from "../parts/Part";

/** The colour of the copy itself, apart from the fill and stroke of its outline. */
export function CopyColorPart({
  picked,
  attempt,
  keep,
}: {
  picked: Schemas["RuleScene"][];
  attempt: (v: unknown) => void;
  keep: (v: unknown) => void;
}) {
  const of = useStore((s) => selectedThing(s)?.id);
  const same = picked.every((r) => r.colorName === picked[0].colorName);
  return (
    <Part
      name="color"
      title="Colour of the copy"
      said={
        <>
          {same && (
            <span
              className="mr-1 inline-block h-3 w-3 rounded-full border border-current/40 align-[-1px]"
              style={{ background: picked[0].color }}
            />
          )}
          {same ? picked[0].colorName : "several colours"}
        </>
      }
    >
      {() => (
        <Colors
          of={of}
          value={same ? picked[0].colorName : null}
          onChoose={(color, done) => (done ? keep(color) : attempt(color))}
        />
      )}
    </Part>
  );
}
