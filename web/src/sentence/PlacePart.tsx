import { act, type Plain } from "../api/client";
import { gives } from "../bench/hand";
import type { Thing } from "../state/document";
import { edit, keepTried, shownScene, tryOut, useStore } from "../state/store";
import { inUnit, trim } from "../state/units";
import { LengthField } from "./LengthField";
import { Part } from "./Part";

const PIVOTS: [number, number][] = [[0, 0], [1, 0], [0.5, 0.5], [0, 1], [1, 1]];

/** Where the object is, how large and how turned, in exact figures. */
export function PlacePart({ thing }: { thing: Thing }) {
  const size = useStore((s) => {
    const box = shownScene(s)?.objects[thing.id]?.box;
    return box && `${inUnit(box[2], s.document?.unit ?? "mm")} by ${inUnit(box[3], s.document?.unit ?? "mm")}`;
  });
  const unit = useStore((s) => s.document?.unit ?? "mm");
  const step = useStore((s) => s.turnStep);
  const stored = useStore((s) => s.scene?.objects[thing.id]);
  if (!size || !stored) return null;
  const put = (field: string, value: unknown): Plain[] => [{ do: "put", at: ["objects", thing.id, field], value }];
  const place = (name: string, value: string) => (gives(thing.id) ? act("place", { object: thing.id, field: name, value }) : put(name, value));
  const field = (name: "x" | "y" | "width" | "height", label: string, value: number) => (
    <LengthField label={label} value={inUnit(value, unit)} onTry={(text) => tryOut(place(name, text))} onKeep={(text) => void keepTried(place(name, text), label)} />
  );
  const turnTo = (text: string) => Number.parseFloat(text.replace(",", ".").replace("°", ""));
  return (
    <Part name="place" title="Place, size and turn" said={size}>
      {() => (
        <div className="space-y-2.5">
          {field("x", "From the left", stored.box[0])}
          {field("y", "From the top", stored.box[1])}
          {field("width", "Width", stored.box[2])}
          {field("height", "Height", stored.box[3])}
          <div className="flex items-center gap-3">
            <label htmlFor="turn-by" className="flex-1 text-soft">
              Turned by, in degrees
            </label>
            <input
              id="turn-by"
              key={stored.turn}
              className="field w-28 text-right tabular-nums"
              defaultValue={trim(stored.turn)}
              onChange={(e) => Number.isFinite(turnTo(e.target.value)) && tryOut(put("turn", turnTo(e.target.value)))}
              onBlur={(e) => Number.isFinite(turnTo(e.target.value)) && turnTo(e.target.value) !== stored.turn && void keepTried(put("turn", turnTo(e.target.value)), "Turn")}
              onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
            />
          </div>
          <div className="flex items-center gap-3">
            <label htmlFor="turn-step" className="flex-1 text-soft">
              Shift turns in steps of
            </label>
            <input id="turn-step" type="number" min={1} max={180} className="field w-28 text-right tabular-nums" value={step} onChange={(e) => useStore.setState({ turnStep: Math.min(180, Math.max(1, Number(e.target.value) || 15)) })} />
          </div>
          <div>
            <p className="mb-1.5 text-soft">It turns about</p>
            <svg
              width="92"
              height="64"
              viewBox="-8 -8 108 80"
              role="radiogroup"
              aria-label="It turns about"
              className="cursor-crosshair touch-none"
              onPointerDown={(e) => {
                if ((e.target as Element).tagName === "circle") return;
                e.currentTarget.setPointerCapture(e.pointerId);
                tryOut(pivotTo(thing.id, stored, placeIn(e)));
              }}
              onPointerMove={(e) => e.currentTarget.hasPointerCapture(e.pointerId) && tryOut(pivotTo(thing.id, stored, placeIn(e)))}
              onPointerUp={(e) => e.currentTarget.hasPointerCapture(e.pointerId) && void keepTried(pivotTo(thing.id, stored, placeIn(e)), "Pivot")}
            >
              <rect x="0" y="0" width="92" height="64" rx="3" fill="none" stroke="var(--color-line)" strokeWidth="2" />
              {PIVOTS.map(([fx, fy]) => {
                const on = stored.pivot[0] === fx && stored.pivot[1] === fy;
                return (
                  <circle
                    key={`${fx} ${fy}`}
                    role="radio"
                    aria-checked={on}
                    aria-label={fx === 0.5 ? "its middle" : `${fy ? "lower" : "upper"} ${fx ? "right" : "left"} corner`}
                    tabIndex={0}
                    cx={fx * 92}
                    cy={fy * 64}
                    r={on ? 7 : 5.5}
                    fill={on ? "var(--color-slot)" : "var(--color-sheet)"}
                    stroke="var(--color-slot)"
                    strokeWidth="2"
                    className="cursor-pointer"
                    onClick={() => void edit(pivotTo(thing.id, stored, [fx, fy]), "Pivot")}
                    onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && void edit(pivotTo(thing.id, stored, [fx, fy]), "Pivot")}
                  />
                );
              })}
              {!PIVOTS.some(([fx, fy]) => stored.pivot[0] === fx && stored.pivot[1] === fy) && <circle cx={stored.pivot[0] * 92} cy={stored.pivot[1] * 64} r="6" fill="var(--color-slot)" pointerEvents="none" />}
            </svg>
            <p className="mt-1 text-xs text-soft">A corner, the middle, or any place: click or drag in the box. Turned, its pivot can be dragged on the page.</p>
          </div>
        </div>
      )}
    </Part>
  );
}

/** Where in the drawing of the box the pointer is, in fractions of it. */
function placeIn(event: { clientX: number; clientY: number; currentTarget: Element }): [number, number] {
  const box = event.currentTarget.getBoundingClientRect();
  const [x, y] = [((event.clientX - box.left) / box.width) * 108 - 8, ((event.clientY - box.top) / box.height) * 80 - 8];
  const share = (v: number) => Math.round(Math.min(1.08, Math.max(-0.08, v)) * 200) / 200;
  return [share(x / 92), share(y / 64)];
}

/** Another pivot; a turned object stays where it is on the page. */
export function pivotTo(id: string, object: { matrix: readonly number[]; box: readonly number[] }, pivot: [number, number]): Plain[] {
  const [a, b, c, d, e, f] = object.matrix;
  const [w, h] = [object.box[2], object.box[3]];
  const own = [pivot[0] * w, pivot[1] * h];
  const [x, y] = [a * own[0] + c * own[1] + e - own[0], b * own[0] + d * own[1] + f - own[1]];
  const put = (field: string, value: unknown): Plain => ({ do: "put", at: ["objects", id, field], value });
  return [put("pivot", pivot), put("x", Math.round(x * 1e4) / 1e4), put("y", Math.round(y * 1e4) / 1e4)];
}
