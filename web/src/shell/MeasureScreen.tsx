import { askOver } from "../state/viewing";
import { DialogTitle } from "@headlessui/react";
import { useState } from "react";
import { keepMeasure, pxAnInch, zoomTo } from "../parts/view";

/** A card of the size of ISO/IEC 7810 ID-1, in inches: the cards that everybody carries. */
const CARD = [85.6 / 25.4, 53.98 / 25.4];

/** Measure the screen once, by a card held against it. */
export function MeasureScreen() {
  const [px, setPx] = useState(pxAnInch());
  const close = () => askOver(null);
  return (
    <div className="card w-full max-w-2xl p-7">
      <DialogTitle className="font-serif text-2xl font-bold">How large is real size here?</DialogTitle>
      <p className="mt-1 text-soft">
        Hold a bank card against the screen and make the drawn one as wide. This is asked once; “do …” finds it again as
        “measure the screen”.
      </p>
      <div className="mt-5 grid h-[260px] place-items-center overflow-hidden rounded-lg bg-inset">
        <div
          className="rounded-xl border-2 border-slot bg-sheet"
          style={{ width: CARD[0] * px, height: CARD[1] * px }}
        />
      </div>
      <label className="mt-5 flex items-center gap-4">
        <span className="shrink-0">Its width</span>
        <input
          type="range"
          className="accent-slot h-6 flex-1"
          aria-label="Width of the card"
          min={60}
          max={180}
          step={0.25}
          value={px}
          onChange={(event) => setPx(Number(event.target.value))}
        />
      </label>
      <div className="mt-5 flex justify-end gap-2">
        <button className="button" onClick={close}>
          Leave it
        </button>
        <button
          className="button-main"
          onClick={() => {
            keepMeasure(px);
            close();
            zoomTo(px / 96);
          }}
        >
          It is as wide
        </button>
      </div>
    </div>
  );
}
