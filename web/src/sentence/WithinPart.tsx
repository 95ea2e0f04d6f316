import { DEFAULTS } from "../api/rules";
import { act, type Plain } from "../api/client";
import { freshIds } from "../state/ids";
import { replacePicture } from "../bench/place";
import type { Thing } from "../state/document";
import { select } from "../state/choosing";
import { edit, keepTried } from "../state/sending";
import { shownScene, useStore } from "../state/store";
import { tryOut } from "../state/trying";
import { shown } from "../state/units";
import { LengthField } from "./LengthField";
import { Choice, Part } from "../parts/Part";
import { Slider } from "./Slider";

/** How a picture stands within its outline, and how fine it is there. */
export function WithinPart({ thing }: { thing: Thing }) {
  const ppi = useStore((s) => shownScene(s)?.objects[thing.id]?.picture?.ppi ?? 0);
  const picture = thing.picture!;
  const put = (values: Record<string, unknown>): Plain[] => [
    { do: "put", at: ["objects", thing.id, "picture"], value: { ...picture, ...values } },
  ];
  const scale = Math.round((picture.scale ?? DEFAULTS.picture.scale) * 100);
  const kept =
    (picture.scale ?? DEFAULTS.picture.scale) !== 1 ||
    (picture.x ?? DEFAULTS.picture.x) !== 0 ||
    (picture.y ?? DEFAULTS.picture.y) !== 0;
  return (
    <>
      <Part
        name="within"
        title="The picture in its outline"
        said={`${picture.fit === "whole" ? "whole" : "filling it"}${kept ? `, at ${scale} %` : ""}`}
      >
        {() => (
          <div className="space-y-3">
            <Choice
              columns={2}
              value={picture.fit ?? DEFAULTS.picture.fit}
              options={[
                { value: "fill", label: "fills it" },
                { value: "whole", label: "stands whole" },
              ]}
              onChoose={(fit) => void edit(put({ fit }), "Picture in its outline")}
            />
            <div className="flex items-center gap-3 text-soft">
              <span className="w-16">Scale</span>
              <Slider
                label="Scale"
                unit="%"
                className="min-w-0 flex-1"
                min={10}
                max={400}
                value={scale}
                onTry={(n) => tryOut(put({ scale: n / 100 }))}
                onKeep={(n) => void keepTried(put({ scale: n / 100 }), "Scale the picture", "picture-scale")}
              />
            </div>
            <LengthField
              label="To the right"
              value={shown(picture.x ?? DEFAULTS.picture.x)}
              onTry={(x) => tryOut(put({ x }))}
              onKeep={(x) => void keepTried(put({ x }), "Move the picture")}
            />
            <LengthField
              label="Down"
              value={shown(picture.y ?? DEFAULTS.picture.y)}
              onTry={(y) => tryOut(put({ y }))}
              onKeep={(y) => void keepTried(put({ y }), "Move the picture")}
            />
            <p className="text-xs text-soft">Double-click the picture to move it within its outline by hand.</p>
            <label className="button -ml-3 inline-block cursor-pointer focus-within:outline-2 focus-within:outline-slot">
              Another picture here …
              <input
                type="file"
                className="sr-only"
                accept="image/png,image/jpeg,image/webp"
                onChange={(event) => {
                  if (event.target.files?.[0]) void replacePicture(event.target.files[0], thing);
                  event.target.value = "";
                }}
              />
            </label>
            <button
              className="button -ml-3 block"
              onClick={() => {
                const [id] = freshIds(1);
                void edit(act("out-of-outline", { object: thing.id, id }), "Take the picture out").then(
                  (done) => done && select(id),
                );
              }}
            >
              Take it out of its outline
            </button>
            {kept && (
              <button
                className="button -ml-3"
                onClick={() => void edit(put({ x: 0, y: 0, scale: 1 }), "Picture in its outline")}
              >
                Back to its place
              </button>
            )}
          </div>
        )}
      </Part>
      {"\u2060, "}at <span className={ppi < 150 ? "text-coral-text" : undefined}>{ppi} pixels an inch</span>
    </>
  );
}
