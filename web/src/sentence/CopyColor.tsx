import { useShallow } from "zustand/react/shallow";
import { DEFAULTS } from "../api/rules";
import type { Schemas } from "../api/client";
import { selectedThing, useStore } from "../state/store";
import { Colors } from "./Paint";
import { Part } from "./Part";

/** What lies behind the copy of what is chosen: its own outline's fill where that is opaque, else the page. */
function useBehind(): { said: string; color: string } {
  return useStore(
    useShallow((s) => {
      const named: Record<string, string> = { ink: "#1a1a1a", paper: "#ffffff", ...s.document?.colors };
      const thing = selectedThing(s);
      const fill = thing?.fill;
      const plain =
        fill &&
        (fill.opacity ?? DEFAULTS.fill.opacity) === 1 &&
        (fill.tint ?? DEFAULTS.fill.tint) === 100 &&
        thing?.paint !== false;
      const page = s.document?.pages[s.page]?.background;
      const color = (plain && fill.color) || page || "paper";
      return { said: color === "paper" ? "the sheet" : color, color: named[color] ?? color };
    }),
  );
}

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
  const behind = useBehind();
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
          on={behind}
          value={same ? picked[0].colorName : null}
          onChoose={(color, done) => (done ? keep(color) : attempt(color))}
        />
      )}
    </Part>
  );
}
