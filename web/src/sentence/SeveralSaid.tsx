import { useEffect, useState } from "react";
import { combine, group, remove, ungroup, unlocked } from "../bench/arrange";
import { act } from "../api/client";
import { groupOf, leaderOf, type Thing, thingsOf } from "../state/document";
import { select } from "../state/choosing";
import { labelOf } from "../state/naming";
import { edit } from "../state/sending";
import { selection, useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { usePoints } from "../state/lengths";
import { inItsUnit } from "../state/units";
import { AnchorPart } from "./AnchorPart";
import { CombinedDrawing } from "./CombinedDrawing";
import { Choice, Verb, Part } from "../parts/Part";

const EDGES = [
  { value: "left", label: "left edges" },
  { value: "centre", label: "middles across" },
  { value: "right", label: "right edges" },
  { value: "top", label: "top edges" },
  { value: "middle", label: "middles down" },
  { value: "bottom", label: "bottom edges" },
] as const;

const WAYS = [
  { value: "union", label: "joined into one" },
  { value: "difference", label: "cut out of the one chosen last" },
  { value: "difference-other", label: "with the one chosen last cut out" },
  { value: "intersection", label: "only where they overlap" },
  { value: "symmetric-difference", label: "without where they overlap" },
] as const;

/** *These objects*: what can be done with several at once. */
export function SeveralSaid() {
  const ids = useStore((s) => selection(s).join("\n")).split("\n");
  const open = useStore((s) => s.document);
  const [to, setTo] = useState<"objects" | "page" | "margins">("objects");
  const things = open ? thingsOf(open).filter((t) => ids.includes(t.id)) : [];
  const frames = things.filter((t) => t.frame);
  const free = () => unlocked();
  const align = (edge: string) => act("align", { objects: free(), edge, to });
  const photo = things.find((thing) => thing.picture);
  const bare = things.find((t) => !t.frame && !t.picture);
  const grouped = open ? groupOf(open, ids) : null;
  const leads = useStore((s) => s.scene && leaderOf(s.scene, selection(s)));
  const leader = things.find((t) => t.id === leads);
  return (
    <>
      <p>
        {grouped ? (
          <>
            is called <GroupName group={grouped} />
            {leader && <AnchorPart key={leader.id} thing={leader} along={things.filter((t) => t !== leader)} />}, moves
            and turns as one, and can be{" "}
            <Verb data-part="ungroup" onDo={ungroup}>
              taken apart
            </Verb>
            {"\u2060, "}
          </>
        ) : (
          <>
            can be{" "}
            <Verb data-part="group" onDo={() => void group()}>
              grouped
            </Verb>
            {"\u2060, "}
          </>
        )}
        <Part name="align-objects" title="Bring level" said="brought level">
          {() => (
            <>
              <Choice
                columns={3}
                value={to}
                options={[
                  { value: "objects", label: "with each other" },
                  { value: "page", label: "on the page" },
                  { value: "margins", label: "in its margins" },
                ]}
                onChoose={setTo}
              />
              <div className="mt-3 grid grid-cols-3 gap-1">
                {EDGES.map(({ value, label }) => (
                  <button
                    key={value}
                    className="button px-1 text-xs"
                    onMouseEnter={() => tryOut(align(value))}
                    onMouseLeave={stopTrying}
                    onClick={() => void edit(align(value), "Bring level")}
                  >
                    {label}
                  </button>
                ))}
              </div>
            </>
          )}
        </Part>
        {"\u2060, "}
        <Part name="distribute" title="Equal gaps" said="spaced evenly">
          {() => <Gaps />}
        </Part>
        {"\u2060, "}
        <Part name="combine" title="Combine outlines" said="combined" width="w-80">
          {(close) => (
            <div className="space-y-0.5" onMouseLeave={stopTrying}>
              {WAYS.map(({ value, label }) => {
                const order = selection();
                const [how, base] = value === "difference-other" ? ["difference", order[1]] : [value, order[0]];
                return (
                  <button
                    key={value}
                    className="flex w-full items-center gap-3 rounded-md px-2.5 py-1.5 text-left hover:bg-inset"
                    onMouseEnter={() => tryOut(act("combine", { objects: order, how, base }))}
                    onFocus={() => tryOut(act("combine", { objects: order, how, base }))}
                    onClick={() => {
                      close();
                      if (value === "difference-other") select(base, true);
                      if (value === "difference-other") select(base, true);
                      void combine(how);
                    }}
                  >
                    <CombinedDrawing ids={[base, ...order.filter((id) => id !== base)]} how={how} />
                    {label}
                  </button>
                );
              })}
              <p className="px-2.5 pt-2 text-xs text-soft">
                Point at one to see it on the page. Copy stays with the outline that has it.
              </p>
            </div>
          )}
        </Part>
        {"\u2060, "}
        <Part name="stack" title="Before and behind" said="stacked">
          {() => (
            <div className="grid grid-cols-2 gap-1">
              {(["front", "forward", "backward", "back"] as const).map((where) => (
                <button
                  key={where}
                  className="button"
                  onClick={() => void edit(act("stack", { objects: selection(), to: where }), "Stack")}
                >
                  {{ front: "before all", forward: "one before", backward: "one behind", back: "behind all" }[where]}
                </button>
              ))}
            </div>
          )}
        </Part>{" "}
        or <Verb onDo={() => remove(free())}>deleted</Verb>.
      </p>
      {photo && bare && things.length === 2 && (
        <p className="mt-1.5">
          <Verb
            onDo={() =>
              void edit(act("into-outline", { picture: photo.id, outline: bare.id }), "Put picture into outline").then(
                (done) => done && select(bare.id),
              )
            }
          >
            Put the picture into the outline
          </Verb>
          {"\u2060, "}which it fills.
        </p>
      )}
      {frames.length === 1 && bare && things.length === 2 && (
        <p className="mt-1.5">
          <Verb
            onDo={() =>
              void edit(act("join", { type: frames[0].id, outline: bare.id }), "Put copy into the outline").then(
                (done) => done && select(bare.id),
              )
            }
          >
            Put the copy into the outline
          </Verb>
          {"\u2060, "}with its rules.
        </p>
      )}
    </>
  );
}

function GroupName({ group }: { group: Thing }) {
  return (
    <Part name="group-name" title="Name of the group" said={labelOf(group)}>
      {(close) => (
        <input
          className="field w-full"
          aria-label="Name of the group"
          defaultValue={group.name ?? ""}
          maxLength={200}
          onKeyDown={(e) => e.key === "Enter" && (e.currentTarget.blur(), close())}
          onBlur={(e) =>
            e.target.value !== (group.name ?? "") &&
            void edit([{ do: "put", at: ["objects", group.id, "name"], value: e.target.value }], "Rename")
          }
        />
      )}
    </Part>
  );
}

function Gaps() {
  const [gap, setGap] = useState("");
  const unit = useStore((s) => s.document?.unit ?? "mm");
  const points = usePoints(gap.trim() ? inItsUnit(gap.trim(), `0 ${unit}`) : 0, 0);
  const given = (axis: string) => ({
    objects: unlocked(),
    axis,
    ...(gap.trim() && points !== null ? { gap: points } : {}),
  });
  useEffect(() => stopTrying, []);
  return (
    <>
      <label className="flex items-center gap-3 text-soft">
        <span className="flex-1">Gap</span>
        <input
          className="field w-28 text-right"
          inputMode="decimal"
          placeholder="as they are"
          value={gap}
          onChange={(e) => setGap(e.target.value)}
        />
      </label>
      <div className="mt-3 grid grid-cols-2 gap-1">
        {(["across", "down"] as const).map((axis) => (
          <button
            key={axis}
            className="button"
            onMouseEnter={() => tryOut(act("distribute", given(axis)))}
            onMouseLeave={stopTrying}
            onClick={() => void edit(act("distribute", given(axis)), "Equal gaps")}
          >
            {axis}
          </button>
        ))}
      </div>
    </>
  );
}
