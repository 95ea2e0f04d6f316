import { DEFAULTS } from "../api/rules";
import { useEffect, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Operation, Schemas } from "../api/client";
import type { Frame, Thing } from "../state/document";
import { edit, keepTried } from "../state/sending";
import { shownScene, useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { inUnit, oneOrFour, shown, sidesShown } from "../state/units";
import { Tries } from "../tries/Tries";
import { ChainPart } from "./ChainPart";
import { EndHerePart } from "./EndHere";
import { GivePart } from "./GivePart";
import { LengthField } from "./LengthField";
import { OutlinePart } from "./OutlinePart";
import { PlacePart } from "./PlacePart";
import { Choice, Verb, Part, Rest } from "../parts/Part";
import { FitPart, LeftoverPart } from "./LeftoverPart";
import { HangPart, SitDrawing, StandPart } from "./HangParts";
import { ColumnsPart } from "./ColumnsPart";
import type { Rule } from "./rule";

/** *This frame*: padding, sit, hang, stand, band. */
export function FrameClause({ thing, frame, several = false }: { thing: Thing; frame: Frame; several?: boolean }) {
  const nest = useStore(
    useShallow((s) => {
      const all = shownScene(s)?.nests[thing.id];
      return (
        all && {
          leftover: all.leftover,
          exact: all.exact,
          residue: all.residue,
          proposal: all.proposal,
          factor: all.factor,
          size: all.size,
        }
      );
    }),
  );
  const operations = (rule: Rule, value: unknown): Operation[] => [
    { do: "put", at: ["objects", thing.id, "frame", rule], value },
  ];
  const put = (rule: Rule, label: string) => (value: unknown) => void edit(operations(rule, value), label);
  const attempt = (rule: Rule) => (value: unknown) => tryOut(operations(rule, value));
  const keep = (rule: Rule, label: string) => (value: unknown) => void keepTried(operations(rule, value), label);
  const sit = frame.sit ?? DEFAULTS.frame.sit;
  // By what is stored: while it is pointed at it is made already, and must not go away.
  const proposal = useStore((s) => s.scene?.nests[thing.id]?.proposal);
  const settled = nest && nest.leftover === 0 && sit !== "top" && !nest.exact;
  return (
    <p>
      {several ? (
        <>
          each <GivePart thing={thing} frame={frame} />
        </>
      ) : (
        <>
          is <OutlinePart thing={thing} />, <PlacePart thing={thing} />, <GivePart thing={thing} frame={frame} />
        </>
      )}
      {"\u2060, "}and keeps its copy{" "}
      <Part name="padding" title="Padding" said={sidesShown(frame.padding)}>
        {() => (
          <LengthField
            label="Room to the edge"
            value={sidesShown(frame.padding)}
            onTry={(text) => attempt("padding")(oneOrFour(text))}
            onKeep={(text) => keep("padding", "Padding")(oneOrFour(text))}
            hint="One figure, or four for the top, right, bottom and left, as in CSS: 12 8 12 24. Units and sums: 3mm, 1p6, 0.5em, 8 + 2mm"
          />
        )}
      </Part>{" "}
      from the edge, in{" "}
      <span className="whitespace-nowrap">
        <ColumnsPart thing={thing} frame={frame} attempt={attempt} keep={keep} put={put} />.
      </span>{" "}
      Lines sit{" "}
      <Part
        name="sit"
        title="Where lines sit"
        said={{ middle: "in the middle", top: "at the top", bottom: "at the bottom", leaded: "leaded out" }[sit]}
        width="w-80"
      >
        {() => (
          <>
            <Choice
              columns={4}
              value={sit}
              options={(["top", "middle", "bottom", "leaded"] as const).map((value) => ({
                value,
                label: value === "leaded" ? "leaded out" : value,
                drawing: <SitDrawing sit={value} />,
              }))}
              onChoose={put("sit", "Sit")}
            />
            {sit === "leaded" && (
              <div className="mt-3 space-y-3">
                <LengthField
                  label="Space between paragraphs, to"
                  value={shown(frame.leaded?.space ?? DEFAULTS.leaded.space)}
                  onTry={(space) => attempt("leaded")({ ...frame.leaded, space })}
                  onKeep={(space) => keep("leaded", "Leaded out")({ ...frame.leaded, space })}
                />
                <LengthField
                  label="Then the leading, to"
                  value={shown(frame.leaded?.leading ?? DEFAULTS.leaded.leading)}
                  onTry={(leading) => attempt("leaded")({ ...frame.leaded, leading })}
                  onKeep={(leading) => keep("leaded", "Leaded out")({ ...frame.leaded, leading })}
                  hint="Opened only as far as the height asks for."
                />
              </div>
            )}
            {settled && sit === "leaded" && (
              <p className="mt-3 text-soft">
                At these limits {inUnit(Math.abs(nest.residue))} of the height stay free.
              </p>
            )}
            {settled && sit !== "leaded" && (
              <p className="mt-3 text-soft">
                No exact {sit === "middle" ? "middle" : "bottom"} in this outline: {inUnit(Math.abs(nest.residue))}{" "}
                {nest.residue > 0 ? "lower" : "higher"} is nearest.
              </p>
            )}
            {nest && nest.leftover > 0 && sit !== "top" && (
              <p className="mt-3 text-soft">With words left over, lines sit at the top.</p>
            )}
            {sit === "middle" && (
              <div className="mt-3">
                <LengthField
                  label="Lifted by"
                  value={shown(frame.lift ?? DEFAULTS.frame.lift)}
                  onTry={attempt("lift")}
                  onKeep={keep("lift", "Lift")}
                  hint="A little above the middle often looks like the middle."
                />
              </div>
            )}
          </>
        )}
      </Part>
      {settled ? <span className="text-soft"> (nearest: {inUnit(Math.abs(nest.residue))} off)</span> : null}, hang from{" "}
      <HangPart
        thing={thing}
        frame={frame}
        attempt={attempt("hang")}
        keep={keep("hang", "Hang")}
        put={put("hang", "Hang")}
      />{" "}
      and stand on{" "}
      <StandPart
        thing={thing}
        frame={frame}
        attempt={attempt("stand")}
        keep={keep("stand", "Stand")}
        put={put("stand", "Stand")}
      />
      {proposal && !several && <Proposal offer={proposal} />}
      <Rest
        of="leftover"
        plain={
          (frame.leftover?.ends ?? DEFAULTS.leftover.ends) === "past-the-edge" &&
          !frame.leftover?.mark &&
          !nest?.leftover
        }
      >
        {"\u2060; "}what does not fit{" "}
        <LeftoverPart
          frame={frame}
          attempt={attempt("leftover")}
          keep={keep("leftover", "Leftover")}
          put={put("leftover", "Leftover")}
        />
      </Rest>
      <Rest of="fit" plain={!frame.fit_type && !nest?.leftover}>
        {"\u2060; "}its type{" "}
        <FitPart
          frame={frame}
          factor={nest?.factor ?? 1}
          size={nest?.size ?? 11}
          attempt={attempt("fit_type")}
          keep={keep("fit_type", "Fit the type")}
          put={put("fit_type", "Fit the type")}
        />
      </Rest>
      <Rest of="band" plain={frame.band !== "line-box"}>
        {"\u2060; "}each line needs the height of{" "}
        <Part
          name="band"
          title="The band each line needs"
          said={(frame.band ?? DEFAULTS.frame.band) === "letters" ? "its letters" : "its line box"}
        >
          {() => (
            <Choice
              value={frame.band ?? DEFAULTS.frame.band}
              options={[
                { value: "letters", label: "its letters", hint: "Copy comes as near to an edge as it looks." },
                {
                  value: "line-box",
                  label: "its line box",
                  hint: "As a browser sets it, leading included: for mockups.",
                },
              ]}
              onChoose={put("band", "Band")}
            />
          )}
        </Part>
      </Rest>
      {thing.turn ? (
        <>
          {"\u2060; "}turned by {thing.turn}°, its lines{" "}
          <Part
            name="setting"
            title="Lines of a turned outline"
            said={frame.setting === "turned" ? "turn with it" : "stay level"}
          >
            {() => (
              <Choice
                value={frame.setting ?? DEFAULTS.frame.setting}
                options={[
                  { value: "level", label: "stay level", hint: "The turned outline is filled with level lines." },
                  { value: "turned", label: "turn with it" },
                ]}
                onChoose={put("setting", "Setting")}
              />
            )}
          </Part>
        </>
      ) : null}
      . {several ? null : <ChainPart thing={thing} />} {several ? null : <Also thing={thing} />}
    </p>
  );
}

/** A change that the copy itself suggests; pointing at it shows it. */
function Proposal({ offer }: { offer: Schemas["OfferScene"] }) {
  const operations = offer.operations as unknown as Operation[];
  useEffect(() => stopTrying, []); // it may go while it is pointed at
  return (
    <>
      {" "}
      (
      <Verb
        data-part="capitals"
        title={offer.hint}
        onMouseEnter={() => tryOut(operations)}
        onMouseLeave={stopTrying}
        onDo={() => void keepTried(operations, "Capitals")}
      >
        {offer.label}
      </Verb>
      )
    </>
  );
}

/** What else can be done with one frame. */
function Also({ thing }: { thing: Thing }) {
  const [trying, setTrying] = useState(false);
  return (
    <>
      <Verb data-part="tries" onDo={() => setTrying(true)}>
        Try it several ways
      </Verb>
      {"\u2060, "}
      <EndHerePart thing={thing} /> or{" "}
      <Verb
        data-part="take-copy"
        onDo={() => void edit([{ do: "act", act: "take-copy", given: { object: thing.id } }], "Take copy out")}
      >
        take the copy out
      </Verb>
      .{trying && <Tries id={thing.id} onClose={() => setTrying(false)} />}
    </>
  );
}
