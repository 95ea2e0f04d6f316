import { DEFAULTS } from "../api/rules";
import { act, type Operation } from "../api/client";
import { hostOf, type Thing, thingsOf } from "../state/document";
import { labelOf } from "../state/naming";
import { edit, keepTried } from "../state/sending";
import { useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { shown } from "../state/units";
import { LengthField } from "./LengthField";
import { Figure } from "./Figure";
import { HangDrawing, type Hanging } from "./HangDrawing";
import { Choice, Verb, Part } from "../parts/Part";

type Place = "page" | "in-line" | "beside" | "centred";

const PLACES: { value: Place; label: string; hint: string }[] = [
  { value: "page", label: "to the page", hint: "It stays where it is put." },
  { value: "in-line", label: "in line", hint: "It stands in the copy like a letter." },
  { value: "beside", label: "beside its line", hint: "It stays as it is, and moves with its line." },
  { value: "centred", label: "in the middle of the frame", hint: "Both ways; copy runs round it." },
];
const SIDES = {
  left: "at the left",
  right: "at the right",
  fold: "towards the fold",
  edge: "away from the fold",
  start: "where lines begin",
  end: "where lines end",
} as const;
const ACROSS = { line: "its line", column: "its column", frame: "its frame", page: "the page" } as const;
const DOWN = { line: "the top of its line", frame: "the frame’s top", page: "the page’s top" } as const;

/** The side away from the fold, or towards it, that a side is on its page. */
function outer(side: "left" | "right", leftPage: boolean): "edge" | "fold" {
  return (side === "left") === leftPage ? "edge" : "fold";
}

/** Where an object belongs: to the page, or to words of a frame, in line with them, beside them, or in the frame's
 * middle. What goes along with it, the others of its group, goes there too. */
export function AnchorPart({ thing, along = [] }: { thing: Thing; along?: Thing[] }) {
  const open = useStore((s) => s.document);
  const scene = useStore((s) => s.scene);
  const anchor = scene?.objects[thing.id]?.anchor;
  if (!open || !scene) return null;
  const page = scene.objects[thing.id]?.page;
  const home = scene.anchors[thing.id]?.frame;
  const found = anchor ? hostOf(open, thing.id) : null;
  const host = found && home ? (thingsOf(open).find((t) => t.id === home) ?? found) : found;
  const all = [thing, ...along];
  const free = (t: Thing) => all.every((one) => t.id !== one.id && t.frame?.copy !== one.frame?.copy);
  const frames = thingsOf(open).filter(
    (t) => t.frame && free(t) && scene.nests[t.id] && (scene.objects[t.id]?.page === page || t.id === host?.id),
  );
  if (!anchor && !frames.length) return null;
  const place: Place = anchor ? anchor.place : "page";
  const put =
    (field: string) =>
    (value: unknown): Operation[] => [{ do: "put", at: ["objects", thing.id, "anchor", field], value }];
  const version = scene.nests[(host ?? frames[0])?.id]?.version;
  const into = (frame: Thing, where: Place) =>
    act("anchor", { object: thing.id, frame: frame.id, place: where, version: scene.nests[frame.id].version });
  const release = act("release", { object: thing.id, version });
  const fit = act("fit-in-line", { object: thing.id, version });
  const choose = (value: Place) => {
    if (value === "page") return anchor && void edit(release, "Let go");
    void edit(act("anchor", { object: thing.id, place: value, version }), PLACES.find((p) => p.value === value)!.label);
  };
  const said = !anchor
    ? "belongs to the page"
    : anchor.waits || !host
      ? "waits for its words"
      : place === "in-line"
        ? `stands in line in ${labelOf(host)}`
        : place === "centred"
          ? `stands in the middle of ${labelOf(host)}`
          : `hangs ${SIDES[anchor.side]} of ${anchor.across === "frame" ? labelOf(host) : ACROSS[anchor.across]}, with its line`;
  const facing = open.facing ?? false;
  const leftPage = scene.pages[page ?? 0]?.side === "left";
  const mirrored = anchor?.side === "fold" || anchor?.side === "edge";
  const turned = anchor?.side === "start" || anchor?.side === "end";
  const atLeft = scene.anchors[thing.id]?.left ?? true;
  const several = Object.keys(open.copies[host?.frame?.copy ?? ""]?.versions ?? {}).length > 1;
  const hanging: Hanging = {
    side: atLeft ? "left" : "right",
    across: anchor?.across ?? DEFAULTS.anchor.across,
    outside: anchor?.outside ?? false,
    down: anchor?.down ?? DEFAULTS.anchor.down,
  };
  /** The side where lines begin, or end, that a side is of its line. */
  const startsLeft = scene.anchors[thing.id]?.startsLeft ?? true;
  const begins = (side: "left" | "right") => ((side === "left") === startsLeft ? "start" : "end");
  const hang = (next: Hanging): Operation[] => [
    ...put("side")(mirrored ? outer(next.side, leftPage) : turned ? begins(next.side) : next.side),
    ...put("across")(next.across),
    ...put("down")(next.down),
    ...put("out")(next.outside),
    ...put("x")(positive(anchor?.x ?? DEFAULTS.anchor.x)),
  ];
  const boxes = all.map((one) => scene.objects[one.id].box);
  const width = Math.max(...boxes.map((b) => b[0] + b[2])) - Math.min(...boxes.map((b) => b[0]));
  const tooWide =
    anchor?.place === "in-line" && host && width > 0 ? measureOf(scene.nests[host.id]?.bounds) < width - 0.01 : false;
  return (
    <>
      {"\u2060, "}
      <Part name="anchor" title="Where it belongs" said={said} width="w-80">
        {() => (
          <div className="space-y-3">
            <Choice value={place} options={PLACES} onChoose={choose} />
            {anchor?.waits && (
              <p className="text-coral-text">
                {host
                  ? "Its words are left over, so it is not drawn."
                  : "Its place in the copy is gone, so it is not drawn."}
              </p>
            )}
            {place === "in-line" && host && (
              <LengthField
                label="Raised from the baseline by"
                value={shown(anchor!.shift)}
                onTry={(text) => tryOut(put("shift")(text))}
                onKeep={(text) => void keepTried(put("shift")(text), "Raise")}
                hint="Below the baseline with a minus. Drag it on the page to other words."
              />
            )}
            {tooWide && (
              <button
                className="button -ml-3"
                onMouseEnter={() => tryOut(fit)}
                onMouseLeave={stopTrying}
                onClick={() => void keepTried(fit, "Fit to the frame")}
              >
                It is wider than the frame: fit it
              </button>
            )}
            {place === "beside" && anchor && (
              <>
                <HangDrawing
                  value={hanging}
                  onTry={(next) => tryOut(hang(next))}
                  onKeep={(next) => void keepTried(hang(next), "Where it hangs")}
                />
                <p className="font-serif text-[15px] leading-relaxed">
                  It hangs{" "}
                  <Figure
                    label="Distance across"
                    value={shown(positive(anchor.x))}
                    onTry={(text) => tryOut(across(anchor, put, text))}
                    onKeep={(text) => void keepTried(across(anchor, put, text), "Distance")}
                  />{" "}
                  {anchor.outside ? "outside" : "within"} the {hanging.side} edge of {ACROSS[anchor.across]},{" "}
                  <Figure
                    label="Distance down"
                    value={shown(anchor.y)}
                    onTry={(text) => tryOut(put("y")(text))}
                    onKeep={(text) => void keepTried(put("y")(text), "Distance")}
                  />{" "}
                  below {DOWN[anchor.down]}
                  {(several || turned) && !mirrored ? (
                    <>
                      ,{" "}
                      <Verb onDo={() => void edit(put("side")(turned ? hanging.side : begins(hanging.side)), "Side")}>
                        {turned ? "on the other side where copy runs from the right" : "on this side in every language"}
                      </Verb>
                    </>
                  ) : null}
                  {(facing || mirrored) && !turned ? (
                    <>
                      ,{" "}
                      <Verb
                        onDo={() =>
                          void edit(put("side")(mirrored ? hanging.side : outer(hanging.side, leftPage)), "Side")
                        }
                      >
                        {mirrored ? "on the other side overleaf" : "on the same side of every page"}
                      </Verb>
                    </>
                  ) : null}
                  .
                </p>
              </>
            )}
            {place === "centred" && anchor && (
              <div className="space-y-2">
                <LengthField
                  label="Right of the middle"
                  value={shown(anchor.x)}
                  onTry={(text) => tryOut(put("x")(text))}
                  onKeep={(text) => void keepTried(put("x")(text), "Distance")}
                />
                <LengthField
                  label="Below the middle"
                  value={shown(anchor.y)}
                  onTry={(text) => tryOut(put("y")(text))}
                  onKeep={(text) => void keepTried(put("y")(text), "Distance")}
                />
              </div>
            )}
            {(place === "beside" || place === "centred") && !anchor?.waits && (
              <p className="text-xs text-soft">
                Drag its round mark in the copy to other words; drag the object to change its distance.
              </p>
            )}
            {frames.length > 1 && (
              <div onMouseLeave={stopTrying}>
                <h4 className="eyebrow mb-1">In the copy of</h4>
                <div className="scroller max-h-32">
                  {frames.map((frame) => (
                    <button
                      key={frame.id}
                      className={`button -ml-3 block w-full truncate text-left ${frame.id === host?.id ? "font-bold" : ""}`}
                      onMouseEnter={() => tryOut(into(frame, place === "page" ? "in-line" : place))}
                      onClick={() =>
                        void keepTried(into(frame, place === "page" ? "in-line" : place), "Move to other words")
                      }
                    >
                      {labelOf(frame)}
                    </button>
                  ))}
                </div>
              </div>
            )}
          </div>
        )}
      </Part>
    </>
  );
}

type Anchor = NonNullable<NonNullable<ReturnType<typeof useStore.getState>["scene"]>["objects"][string]["anchor"]>;

/** A distance across without its sign: which side of the edge is said by itself. */
function positive(x: number | string): number | string {
  return typeof x === "number" ? Math.abs(x) : x.replace(/^\s*[-−]/, "");
}

function across(anchor: Anchor, put: (field: string) => (value: unknown) => Operation[], text: string): Operation[] {
  return anchor.place === "beside" && anchor.out === null && anchor.outside
    ? [...put("out")(true), ...put("x")(text)]
    : put("x")(text);
}

function measureOf(bounds: readonly number[] | null | undefined): number {
  return bounds ? bounds[2] - bounds[0] : Infinity;
}
