import { turnsBy } from "../state/viewing";
import { takeUp } from "../state/choosing";
import { act, type Operation } from "../api/client";
import type { Thing } from "../state/document";
import { edit, keepTried } from "../state/sending";
import { shownScene, useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { inUnit, trim } from "../state/units";
import { LengthField } from "./LengthField";
import { Part } from "../parts/Part";

/** What an object can turn about, in words: fractions of its box. */
const ABOUT: [string, [number, number]][] = [
  ["its middle", [0.5, 0.5]],
  ["its tip", [0.5, 0]],
  ["its foot", [0.5, 1]],
  ["its upper left corner", [0, 0]],
  ["its upper right corner", [1, 0]],
  ["its lower left corner", [0, 1]],
  ["its lower right corner", [1, 1]],
];

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
  const put = (field: string, value: unknown): Operation[] => [{ do: "put", at: ["objects", thing.id, field], value }];
  const place = (name: string, value: string) => act("place", { object: thing.id, field: name, value });
  const field = (name: "x" | "y" | "width" | "height", label: string, value: number) => (
    <LengthField
      label={label}
      value={inUnit(value, unit)}
      onTry={(text) => tryOut(place(name, text))}
      onKeep={(text) => void keepTried(place(name, text), label)}
    />
  );
  const turnTo = (text: string) => Number.parseFloat(text.replace(",", ".").replace("°", ""));
  const share = (text: string) => Number.parseFloat(text.replace(",", ".").replace("%", "")) / 100;
  const [x, y, width, height] = stored.box;
  const scaled = (factor: number) =>
    act("scale", { objects: [thing.id], factor, about: [x + stored.pivot[0] * width, y + stored.pivot[1] * height] });
  const may = (factor: number) => Number.isFinite(factor) && factor > 0.01 && factor < 100 && factor !== 1;
  const about = ABOUT.find(
    ([, p]) => Math.abs(p[0] - stored.pivot[0]) < 1e-3 && Math.abs(p[1] - stored.pivot[1]) < 1e-3,
  )?.[0];
  return (
    <Part name="place" title="Place, size and turn" said={size}>
      {(close) => (
        <div className="space-y-2.5">
          {field("x", "From the left", stored.box[0])}
          {field("y", "From the top", stored.box[1])}
          {field("width", "Width", stored.box[2])}
          {field("height", "Height", stored.box[3])}
          <div className="flex items-center gap-3">
            <label htmlFor="scale-by" className="flex-1 text-soft">
              {thing.frame ? "All of it, its type too, in %" : "All of it, its stroke too, in %"}
            </label>
            <input
              id="scale-by"
              key={`${width} ${height}`}
              className="field w-28 text-right tabular-nums"
              defaultValue="100"
              onFocus={(e) => e.target.select()}
              onChange={(e) => (may(share(e.target.value)) ? tryOut(scaled(share(e.target.value))) : stopTrying())}
              onBlur={(e) =>
                may(share(e.target.value)) && void keepTried(scaled(share(e.target.value)), "Size with its type")
              }
              onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
            />
          </div>
          <div className="flex items-center gap-3">
            <label htmlFor="turn-by" className="flex-1 text-soft">
              Turned by, in degrees
            </label>
            <input
              id="turn-by"
              key={stored.turn}
              className="field w-28 text-right tabular-nums"
              defaultValue={trim(stored.turn)}
              onFocus={(e) => e.target.select()}
              onChange={(e) => Number.isFinite(turnTo(e.target.value)) && tryOut(put("turn", turnTo(e.target.value)))}
              onBlur={(e) =>
                Number.isFinite(turnTo(e.target.value)) &&
                turnTo(e.target.value) !== stored.turn &&
                void keepTried(put("turn", turnTo(e.target.value)), "Turn")
              }
              onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
            />
          </div>
          <div className="flex items-center gap-3">
            <label htmlFor="turn-about" className="flex-1 text-soft">
              It turns about
            </label>
            <select
              id="turn-about"
              className="field w-40"
              value={about ?? "a point"}
              onChange={(e) => {
                const found = ABOUT.find(([name]) => name === e.target.value);
                if (found) return void edit(put("pivot", found[1]), "Pivot");
                close();
                takeUp({ kind: "pivot" });
              }}
            >
              {ABOUT.map(([name]) => (
                <option key={name}>{name}</option>
              ))}
              <option value="a point">{about ? "a point on the page …" : "a point of the page"}</option>
              {!about && <option value="another">another point …</option>}
            </select>
          </div>
          <div className="flex items-center gap-3">
            <label htmlFor="turn-step" className="flex-1 text-soft">
              Shift turns in steps of
            </label>
            <input
              id="turn-step"
              type="number"
              min={1}
              max={180}
              className="field w-28 text-right tabular-nums"
              value={step}
              onChange={(e) => turnsBy(Number(e.target.value))}
            />
          </div>
        </div>
      )}
    </Part>
  );
}
