import { drawContour, editPointsOf, takeUp } from "../state/choosing";
import { sentence } from "../state/sentence";
import { DEFAULTS } from "../api/rules";
import { useRef, useState } from "react";
import { act, type Operation, post, Refused, type Schemas } from "../api/client";
import { type Thing, thingsOf } from "../state/document";
import { labelOf } from "../state/naming";
import { edit, keepTried } from "../state/sending";
import { shownScene, useStore } from "../state/store";
import { tryOut } from "../state/trying";
import { say } from "../state/viewing";
import { type Tracing, trace } from "../state/tracing";
import { Choice, Part } from "../parts/Part";
import { Slider } from "./Slider";

type From = "alpha" | "plain" | "busy" | "mask" | "path";
const counted = (points: number) => `${points.toLocaleString("en")} ${points === 1 ? "point" : "points"}`;
const SAID: Record<From, string> = {
  alpha: "by its transparency",
  plain: "on its plain background",
  busy: "on its busy background",
  mask: "by a mask",
  path: "by hand",
};

/** How the contour of an object's picture is found, how smooth it is, and what of it is drawn by hand. */
export function ContourPart({ thing, transparent }: { thing: Thing; transparent: boolean }) {
  const contour = thing.contour ?? {};
  const from: From = contour.from ?? (transparent ? "alpha" : "plain");
  const found = useStore((s) => shownScene(s)?.objects[thing.id]?.contour ?? null);
  const open = useStore((s) => s.document);
  const page = useStore((s) => s.scene?.objects[thing.id]?.page);
  const scene = useStore((s) => s.scene);
  const [tracing, setTracing] = useState<Tracing | null>(null);
  const [asking, setAsking] = useState(false);
  const mask = useRef<HTMLInputElement>(null);
  const svg = useRef<HTMLInputElement>(null);
  const operations = (value: object): Operation[] => [
    { do: "put", at: ["objects", thing.id, "contour"], value: { ...contour, ...value } },
  ];
  const threshold = (share: number) => operations({ threshold: share / 100 });
  const smooth = (share: number) => operations({ smoothness: share / 100 });

  /** Trace first, with how far it has come, then take it up. */
  const find = async (value: Record<string, unknown>, label: string) => {
    const settings = { ...contour, ...value };
    const fault = await trace(thing.id, settings, setTracing);
    setTracing(null);
    if (fault === "left") return;
    if (fault) return say(fault, "fault");
    await edit(operations(value), label);
  };
  const choose = (value: From) => {
    if (value === "mask") return contour.mask ? void find({ from: "mask" }, "Contour") : mask.current?.click();
    if (value === "path")
      return contour.d
        ? void edit(operations({ from: "path" }), "Contour by hand")
        : void edit(act("contour-by-hand", { object: thing.id }), "Contour by hand").then((made) => made && points());
    void find({ from: value }, "Contour");
  };
  const points = () => editPointsOf("contour");
  const again = () =>
    void edit(act("contour-by-hand", { object: thing.id }), "Contour by hand").then((made) => made && points());
  const others =
    open && scene
      ? thingsOf(open).filter(
          (t) =>
            !t.picture &&
            scene.objects[t.id]?.page === page &&
            meet(scene.objects[t.id].box, scene.objects[thing.id].box),
        )
      : [];
  const options: { value: From; label: string; hint?: string }[] = [
    ...(transparent ? [{ value: "alpha" as const, label: "by its transparency" }] : []),
    { value: "plain", label: "on its plain background", hint: "What differs from the colour of its border." },
    { value: "busy", label: "on its busy background", hint: "What stands out; mark it where that is unsure." },
    {
      value: "mask",
      label: "by a mask",
      hint: contour.mask ? "The light part of the mask picture." : "Another picture: its light part is the subject.",
    },
    {
      value: "path",
      label: "by hand",
      hint: contour.d ? "As it was drawn." : "From what is found now, its points moved.",
    },
  ];
  const faint =
    from === "alpha" ? "At least so opaque" : from === "mask" ? "At least so light" : "Faint parts left out";
  const clipped = thing.picture?.clip === "contour";
  const doubtful = found?.unsure ? ", doubtful" : "";
  const said = found?.fault
    ? "its contour not found"
    : found
      ? `its contour found ${SAID[from]}, ${counted(found.points)}${doubtful}${contour.holes ? ", holes kept" : ""}`
      : "its contour not looked for";
  return (
    <>
      <Part
        name="contour"
        title="How the contour is found"
        said={from === "path" && !found?.fault ? `its contour drawn by hand, ${counted(found?.points ?? 0)}` : said}
        width="w-96"
      >
        {(close) => (
          <div className="space-y-3">
            <Choice value={from} options={options} onChoose={choose} />
            {tracing && (
              <div className="flex items-center gap-3" role="status">
                <div className="h-1.5 min-w-0 flex-1 overflow-hidden rounded-full bg-inset">
                  <div className="h-full rounded-full bg-slot" style={{ width: `${tracing.share * 100}%` }} />
                </div>
                <span className="text-xs text-soft tabular-nums">{Math.round(tracing.share * 100)} %</span>
                <button className="button px-2 py-0.5" onClick={tracing.stop}>
                  Stop
                </button>
              </div>
            )}
            {found?.fault && <p className="text-coral-text">{sentence(found.fault)}</p>}
            {found && !found.fault && found.confidence !== null && (
              <p className={found.unsure ? "text-coral-text" : "text-soft"}>
                {found.unsure
                  ? `It is doubtful (${Math.round(found.confidence * 100)} % sure): ${from === "busy" ? "mark the subject" : "find it on a busy background, or mark it"}, or draw it by hand.`
                  : `It is ${Math.round(found.confidence * 100)} % sure of the subject.`}
              </p>
            )}
            {from === "busy" && (
              <div className="flex flex-wrap gap-1">
                {(
                  [
                    ["box", "A rectangle round it"],
                    ["keep", "Strokes on it"],
                    ["drop", "Strokes beside it"],
                  ] as const
                ).map(([what, label]) => (
                  <button
                    key={what}
                    className="button px-2 py-1"
                    onClick={() => (close(), takeUp({ kind: "subject", what }))}
                  >
                    {label}
                  </button>
                ))}
                {contour.subject && (
                  <button className="button px-2 py-1" onClick={() => void find({ subject: null }, "Marks taken away")}>
                    No marks
                  </button>
                )}
              </div>
            )}
            {from !== "path" && (
              <>
                <div className="flex items-center gap-3 text-soft">
                  <span className="flex-1">{faint}</span>
                  <Slider
                    label={faint}
                    unit="%"
                    className="w-24"
                    min={5}
                    max={95}
                    value={Math.round((contour.threshold ?? DEFAULTS.contour.threshold) * 100)}
                    onTry={(share) => from !== "busy" && tryOut(threshold(share))}
                    onKeep={(share) =>
                      from === "busy"
                        ? void find({ threshold: share / 100 }, "Threshold")
                        : void keepTried(threshold(share), "Threshold")
                    }
                  />
                </div>
                <div className="flex items-center gap-3 text-soft">
                  <span className="flex-1">How smooth</span>
                  <Slider
                    label="How smooth"
                    unit="%"
                    className="w-24"
                    min={0}
                    max={100}
                    value={Math.round((contour.smoothness ?? DEFAULTS.contour.smoothness) * 100)}
                    onTry={(share) => tryOut(smooth(share))}
                    onKeep={(share) => void keepTried(smooth(share), "Smoothness")}
                  />
                </div>
                <p className="text-right text-xs text-soft tabular-nums">{counted(found?.points ?? 0)}</p>
                <label className="flex items-center gap-3 text-soft">
                  <span className="flex-1">At most so many points a ring</span>
                  <input
                    key={contour.points ?? "any"}
                    className="field w-20 py-1 text-right tabular-nums"
                    inputMode="numeric"
                    placeholder="any"
                    defaultValue={contour.points ?? ""}
                    onBlur={(event) => {
                      const count = event.target.value.trim() ? Math.round(Number(event.target.value)) : null;
                      if (count !== (contour.points ?? null) && (count === null || count >= 3))
                        void edit(operations({ points: count }), "Points of the contour");
                      else event.target.value = contour.points ? String(contour.points) : "";
                    }}
                    onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
                  />
                </label>
              </>
            )}
            <label className="flex items-center gap-2 text-soft">
              <input
                type="checkbox"
                className="accent-slot"
                checked={contour.holes ?? DEFAULTS.contour.holes}
                onChange={(e) => void find({ holes: e.target.checked }, "Holes")}
              />{" "}
              copy may stand in its holes
            </label>
            <label className="flex items-center gap-2 text-soft">
              <input
                type="checkbox"
                className="accent-slot"
                checked={clipped}
                onChange={(e) =>
                  void edit(
                    [
                      {
                        do: "put",
                        at: ["objects", thing.id, "picture", "clip"],
                        value: e.target.checked ? "contour" : "outline",
                      },
                    ],
                    "Painted inside its contour",
                  )
                }
              />{" "}
              painted inside its contour only
            </label>
            <div className="space-y-0.5 border-t border-line pt-2">
              {from === "path" ? (
                <button className="button -ml-3 block" onClick={() => (close(), points())}>
                  Move its points
                </button>
              ) : contour.d ? (
                asking ? (
                  <p className="rounded-lg bg-inset px-3 py-2">
                    There is a contour drawn by hand. Should this one take its place?{" "}
                    <button className="button px-2 py-0.5" onClick={() => (close(), again())}>
                      Take its place
                    </button>{" "}
                    <button className="button px-2 py-0.5" onClick={() => setAsking(false)}>
                      Keep it
                    </button>
                  </p>
                ) : (
                  <button className="button -ml-3 block" onClick={() => setAsking(true)}>
                    Edit the points of this one …
                  </button>
                )
              ) : (
                <button className="button -ml-3 block" onClick={() => (close(), again())}>
                  Edit its points by hand
                </button>
              )}
              <button className="button -ml-3 block" onClick={() => (close(), drawContour(thing.id))}>
                Draw it round the subject
              </button>
              <button className="button -ml-3 block" onClick={() => svg.current?.click()}>
                Take it from an SVG file
              </button>
              <button className="button -ml-3 block" onClick={() => mask.current?.click()}>
                {contour.mask ? "Choose another mask picture" : "Choose a mask picture"}
              </button>
              {others.map((other) => (
                <button
                  key={other.id}
                  className="button -ml-3 block w-full truncate text-left"
                  onClick={() =>
                    void edit(
                      act("contour-from-outline", { object: thing.id, outline: other.id }),
                      "Contour from an outline",
                    )
                  }
                >
                  Take the outline of {labelOf(other)}
                </button>
              ))}
            </div>
          </div>
        )}
      </Part>
      {/* Outside the popover, so that it lives while a file is chosen. */}
      <input
        ref={mask}
        type="file"
        hidden
        accept="image/png,image/jpeg,image/webp"
        aria-label="Mask picture"
        onChange={(event) =>
          void brought(event.target).then((file) =>
            file ? find({ from: "mask", mask: file }, "Contour by a mask") : undefined,
          )
        }
      />
      <input
        ref={svg}
        type="file"
        hidden
        accept=".svg,image/svg+xml"
        aria-label="SVG file of the contour"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file)
            void file
              .text()
              .then((text) => edit(act("contour-from-svg", { object: thing.id, svg: text }), "Contour from SVG"));
        }}
      />
    </>
  );
}

/** A mask picture kept with the user's pictures. */
async function brought(input: HTMLInputElement): Promise<string | null> {
  const file = input.files?.[0];
  input.value = "";
  if (!file) return null;
  const form = new FormData();
  form.append("file", file);
  try {
    return (await post<Schemas["PictureOut"]>(`/api/pictures?document=${useStore.getState().id}`, form)).file;
  } catch (error) {
    say(error instanceof Refused ? `“${file.name}”: ${error.message}` : String(error), "fault");
    return null;
  }
}

function meet(a: readonly number[], b: readonly number[]): boolean {
  return a[0] < b[0] + b[2] && b[0] < a[0] + a[2] && a[1] < b[1] + b[3] && b[1] < a[1] + a[3];
}
