import { type ReactNode, useLayoutEffect, useRef } from "react";
import { useStore } from "../state/store";
import { LINES, SIZES } from "../parts/lines";

/** In windows narrower than this, in CSS px, clauses stand under one another. */
const ONE_UNDER_ANOTHER = 720;

/** By so much of its length a clause says much more, or less, than before. */
const MUCH = 0.25;
const lengthsOf = (text: HTMLElement) =>
  [...text.children].map((clause) => Math.max(24, (clause as HTMLElement).innerText.length));

const ROUNDS = 14;
/** So much of the whole width goes from the lowest clause to the highest in a round. */
const STEP = 0.02;
/** The least share of the whole width that a clause has. */
const LEAST = 0.14;

/** Let clauses be as wide as they have to say, so that they are of one height: by their letters first, then as they
 * come out, since short lines lose more at their ends. */
function share(text: HTMLElement) {
  if (window.innerWidth < ONE_UNDER_ANOTHER) return void (text.style.gridTemplateColumns = "minmax(0, 1fr)");
  const clauses = [...text.children] as HTMLElement[];
  const lengths = lengthsOf(text);
  const whole = lengths.reduce((sum, length) => sum + length, 0);
  const wide = lengths.map((length) => Math.max(length / whole, LEAST));
  const sum = wide.reduce((all, one) => all + one, 0);
  let shares = wide.map((one) => one / sum);
  const set = (to: number[]) => (text.style.gridTemplateColumns = to.map((one) => `minmax(0, ${one}fr)`).join(" "));
  set(shares);
  let [best, least] = [shares, text.offsetHeight];
  const range = document.createRange();
  for (let round = 0; round < ROUNDS && clauses.length > 1; round++) {
    const heights = clauses.map((clause) => (range.selectNodeContents(clause), range.getBoundingClientRect().height));
    const [high, low] = [Math.max(...heights), Math.min(...heights)].map((one) => heights.indexOf(one));
    if (heights[high] - heights[low] < 2 || shares[low] - STEP < LEAST) break;
    shares = shares.map((one, at) => one + (at === high ? STEP : at === low ? -STEP : 0));
    set(shares);
    if (text.offsetHeight < least - 1) [best, least] = [shares, text.offsetHeight];
  }
  set(best);
}

/** The sentence as it stands at the foot of the window, its clauses side by side: in the largest type with which they
 * take four lines. While one thing is chosen it gets no lower, so that the bench stands still while a figure in it
 * changes. */
export function Running({ most: lines = LINES, children }: { most?: number; children: ReactNode }) {
  const section = useRef<HTMLElement>(null);
  const chosen = useStore((s) => `${s.id} ${s.selected} ${s.others.length} ${s.onRecipe} ${s.everyRule}`);
  useLayoutEffect(() => {
    const element = section.current!;
    const text = element.firstElementChild as HTMLElement;
    const still = useStore.getState().selected !== null;
    let most = 0;
    let told: number[] = [];
    const fit = () => {
      text.style.minHeight = "";
      for (const [size, leading] of SIZES) {
        text.style.fontSize = `${size}px`;
        text.style.lineHeight = `${leading}px`;
        if (text.offsetHeight <= lines * leading + 1) break;
      }
      most = still ? Math.max(most, text.offsetHeight) : 0;
      text.style.minHeight = `${most}px`;
    };
    const again = () => {
      most = 0;
      told = lengthsOf(text);
      text.style.minHeight = "";
      for (const [size, leading] of SIZES) {
        text.style.fontSize = `${size}px`;
        text.style.lineHeight = `${leading}px`;
        share(text);
        if (text.offsetHeight <= lines * leading + 1) break;
      }
      fit();
    };
    again();
    void document.fonts.ready.then(again);
    // A figure that changes moves nothing; a clause that says much more or less than before is given its share anew.
    const changes = new MutationObserver(() => {
      const now = lengthsOf(text);
      const other = now.some((one, at) => Math.abs(one - (told[at] ?? 0)) > MUCH * Math.max(one, told[at] ?? 0));
      if (other || now.length !== told.length) again();
      else fit();
    });
    changes.observe(text, { subtree: true, childList: true, characterData: true });
    addEventListener("resize", again);
    return () => {
      changes.disconnect();
      removeEventListener("resize", again);
      text.style.minHeight = "";
    };
  }, [chosen, lines]);
  return (
    <section
      ref={section}
      data-sentence
      aria-label="Rules"
      className="max-h-[34vh] shrink-0 overflow-y-auto border-t border-line bg-card py-1.5"
    >
      <div className="grid items-start divide-x divide-line font-serif [font-feature-settings:'onum']">{children}</div>
    </section>
  );
}

/** A clause of it, its head in the line. */
export function Clause({ head, behind, children }: { head: string; behind?: ReactNode; children: ReactNode }) {
  return (
    <div className="clause h-full min-w-0 px-5">
      <h2 className="eyebrow mr-2 font-sans">{head}</h2>
      {children} {behind}
    </div>
  );
}
