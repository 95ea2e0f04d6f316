import { CLEAR_BY_SIDE, DEFAULTS } from "../api/rules";
import { act, type Operation } from "../api/client";
import { type Thing, thingsOf, type Wrap } from "../state/document";
import { labelOf } from "../state/naming";
import { edit, keepTried } from "../state/sending";
import { selection, shownScene, useStore } from "../state/store";
import { tryOut } from "../state/trying";
import { say, saidEnough } from "../state/viewing";
import { trace } from "../state/tracing";
import { inUnit, oneOrFour, sidesShown } from "../state/units";
import { ContourPart } from "./ContourPart";
import { LengthField } from "./LengthField";
import { Choice, Part } from "../parts/Part";

/** Where copy may stand: the first of two questions. */
type Where = "across" | "both" | "left" | "right" | "widest" | "below" | "inside";
/** How near it comes: the second. */
type Near = "box" | "outline" | "contour";

const WHERE: { value: Where; label: string; said: string }[] = [
  { value: "both", label: "on both sides", said: "stands on both sides of it" },
  { value: "widest", label: "on the wider side", said: "stands on its wider side" },
  { value: "left", label: "on the left", said: "stands left of it" },
  { value: "right", label: "on the right", said: "stands right of it" },
  { value: "below", label: "no: on below it", said: "goes on below it" },
  { value: "inside", label: "only inside it", said: "stays inside it" },
  { value: "across", label: "it takes no notice", said: "runs across it" },
];
const NEAR: { value: Near; label: string; said: string }[] = [
  { value: "box", label: "a square", said: "a square about it" },
  { value: "outline", label: "its outline", said: "its outline" },
  { value: "contour", label: "its picture’s contour", said: "its picture’s contour" },
];

function whereOf(wrap: Wrap): Where {
  const by = wrap.by ?? DEFAULTS.wrap.by;
  return by === "none"
    ? "across"
    : wrap.inside
      ? "inside"
      : by === "below"
        ? "below"
        : (wrap.sides ?? DEFAULTS.wrap.sides);
}

/** How several objects push copy, in words. */
export function wrapSaid(wrap: Wrap | undefined): string {
  return WHERE.find((w) => w.value === whereOf(wrap ?? {}))!
    .said.replace("of it", "of them")
    .replace(" it", " them")
    .replace("its", "their");
}

/** How other copy runs: whether it may stand beside the object, and how near it comes. */
export function WrapParts({ thing }: { thing: Thing }) {
  const transparent = useStore((s) => shownScene(s)?.objects[thing.id]?.picture?.transparent);
  const em = useStore((s) => s.scene?.objects[thing.id]?.em ?? null);
  const open = useStore((s) => s.document);
  const unit = open?.unit ?? "mm";
  const picture = transparent !== undefined;
  const wrap: Wrap = thing.wrap ?? {};
  const by = wrap.by ?? DEFAULTS.wrap.by;
  const where = whereOf(wrap);
  const near: Near = by === "box" || by === "outline" || by === "contour" ? by : picture ? "contour" : "outline";
  const square = CLEAR_BY_SIDE.some((one) => one === by);
  const clearance = sidesShown(wrap.clearance);
  const operations = (value: Wrap): Operation[] => [
    { do: "put", at: ["objects", thing.id, "wrap"], value: { ...wrap, ...value } },
  ];
  const four = (text: string): Wrap["clearance"] => (square ? oneOrFour(text) : text);
  const put = (next: Partial<Wrap> & { by: Wrap["by"] }, label: string) => {
    const change = act("wrap", { objects: selection().includes(thing.id) ? selection() : [thing.id], ...next });
    if (next.by !== "contour" || by === "contour") return void edit(change, label);
    // A big picture takes a while to trace: that is shown.
    void trace(
      thing.id,
      thing.contour ?? {},
      ({ share }) => share > 0.2 && say(`Tracing the contour: ${Math.round(share * 100)} %`),
    ).then((fault) => (fault ? say(fault, "fault") : edit(change, label).then(() => saidEnough())));
  };
  const choose = (value: Where) => {
    if (value === "across") return put({ by: "none", inside: false }, "Across it");
    if (value === "below") return put({ by: "below", inside: false }, "On below it");
    if (value === "inside")
      return put({ by: near === "box" || near === "contour" ? near : "outline", inside: true }, "Inside it");
    put({ by: near, inside: false, sides: value }, "Beside it");
  };
  const host = em && open ? thingsOf(open).find((t) => t.id === em.of) : null;
  const contour = picture && by !== "none" && (
    <>
      {"\u2060, "}
      <ContourPart thing={thing} transparent={transparent} />
    </>
  );
  if (thing.anchor?.place === "in-line") return <>other copy takes no notice while it stands in a line{contour}. </>;
  return (
    <>
      other copy{" "}
      <Part
        name="wrap"
        title="May copy stand beside it?"
        said={WHERE.find((w) => w.value === where)!.said}
        width="w-[340px]"
      >
        {() => (
          <>
            <Choice
              columns={4}
              value={where}
              options={WHERE.map(({ value, label }) => ({
                value,
                label,
                drawing: <Lines where={value} near={near} />,
              }))}
              onChoose={choose}
            />
            {where !== "across" && where !== "below" && (
              <>
                <h3 className="mt-4 mb-3 font-bold">How near does it come?</h3>
                <Choice
                  columns={3}
                  value={near}
                  options={NEAR.filter((n) => n.value !== "contour" || picture).map(({ value, label }) => ({
                    value,
                    label,
                    drawing: <Lines where="both" near={value} />,
                  }))}
                  onChoose={(value) => put({ by: value }, "How near")}
                />
              </>
            )}
          </>
        )}
      </Part>
      {by !== "none" && (
        <>
          {"\u2060, "}
          <Part name="clearance" title="How far copy keeps away" said={clearance}>
            {() => (
              <>
                <LengthField
                  label="Copy keeps away by"
                  value={clearance}
                  onTry={(text) => tryOut(operations({ clearance: four(text) }))}
                  onKeep={(text) => void keepTried(operations({ clearance: four(text) }), "Clearance")}
                  hint={square ? "One figure, or four: top right bottom left." : "Half an em to an em is everyday."}
                />
                {em && (
                  <p className="mt-2 text-xs text-soft">
                    An em of {host ? `“${labelOf(host)}”` : "the copy that it pushes"}: {inUnit(em.points, unit)}.
                  </p>
                )}
              </>
            )}
          </Part>
          {by === "below" ? (
            " clear"
          ) : (
            <>
              {" "}
              {wrap.inside ? "within" : "from"} {NEAR.find((n) => n.value === near)!.said}
            </>
          )}
        </>
      )}
      {contour}.{" "}
    </>
  );
}

/** Lines of copy and a thing among them, drawn. */
function Lines({ where, near }: { where: Where; near: Near }) {
  const rows = [6, 12, 18, 24, 30];
  const half = (y: number) => {
    const d = Math.abs(y - 18);
    if (where === "below") return d < 10 ? 30 : 0;
    if (near === "box") return d < 10 ? 11 : 0;
    return d < 10 ? Math.sqrt(100 - d * d) * (near === "contour" ? 0.8 - 0.25 * Math.cos(d) : 1) + 1.5 : 0;
  };
  const shape =
    near === "box" ? (
      <rect x="19" y="10" width="18" height="16" />
    ) : near === "contour" ? (
      <path d="M28 9 33 15 37 18 32 21 28 27 24 21 19 18 23 15Z" />
    ) : (
      <ellipse cx="28" cy="18" rx="9.5" ry="9" />
    );
  return (
    <svg width="56" height="36" viewBox="0 0 56 36" aria-hidden>
      <g fill="var(--color-slot)" fillOpacity="0.25" stroke="var(--color-slot)" strokeWidth="1">
        {shape}
      </g>
      <g stroke="var(--color-ink)" strokeOpacity="0.6" strokeWidth="2">
        {rows.map((y) => {
          const cut = half(y);
          const [left, right] = [28 - cut, 28 + cut];
          if (where === "across" || (!cut && where !== "inside")) return <path key={y} d={`M4 ${y}H52`} />;
          if (where === "inside") return cut > 3 ? <path key={y} d={`M${left + 3} ${y}H${right - 3}`} /> : null;
          return (
            <g key={y}>
              {where !== "right" && where !== "below" && left > 6 && <path d={`M4 ${y}H${left}`} />}
              {where !== "left" && where !== "below" && where !== "widest" && right < 50 && (
                <path d={`M${right} ${y}H52`} />
              )}
            </g>
          );
        })}
      </g>
    </svg>
  );
}

/** Tie an object under another, over it or beside it, in one act. */
export function goUnder(object: string, to: string, side: "below" | "above" | "left" | "right"): Operation[] {
  return act("go-under", { object, to, side });
}
