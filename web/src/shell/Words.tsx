import { useStore } from "../state/store";
import { askOver } from "../state/viewing";
import { DialogTitle } from "@headlessui/react";
import { type ReactNode, useEffect, useRef } from "react";
import { WORDS } from "../parts/words";

/** A small glossary: what the words of the sentence mean, each with a drawing. */
export function Words() {
  const list = useRef<HTMLUListElement>(null);
  const asked = useStore((s) => s.explained);
  useEffect(() => {
    list.current?.querySelector(`[data-word="${asked}"]`)?.scrollIntoView({ block: "start" });
  }, [asked]);
  return (
    <div className="card flex max-h-full w-full max-w-2xl flex-col p-7">
      <DialogTitle className="font-serif text-2xl font-bold">The words</DialogTitle>
      <ul ref={list} tabIndex={0} aria-label="Words" className="-mx-2 mt-3 min-h-0 flex-1 overflow-y-auto p-2">
        {WORDS.map(({ word, said }) => (
          <li
            key={word}
            data-word={word}
            className={`flex gap-5 rounded-lg px-3 py-3 ${word === asked ? "bg-slot-wash" : ""}`}
          >
            <svg width="104" height="72" viewBox="0 0 104 72" aria-hidden className="shrink-0 rounded-md bg-bench">
              {DRAWINGS[word]}
            </svg>
            <div>
              <h3 className="font-serif text-lg font-bold">{word}</h3>
              <p className="text-soft">{said}</p>
            </div>
          </li>
        ))}
      </ul>
      <div className="mt-4 flex justify-end">
        <button className="button-main" onClick={() => askOver(null)}>
          Close
        </button>
      </div>
    </div>
  );
}

const ink = { stroke: "var(--color-ink)", strokeWidth: 1.5, fill: "none" } as const;
const slot = { stroke: "var(--color-slot)", strokeWidth: 1.5, fill: "none" } as const;
const over = { stroke: "var(--color-coral)", strokeWidth: 3.5, fill: "none" } as const;
const letters = { stroke: "var(--color-soft)", strokeWidth: 3.5, fill: "none" } as const;
const sheet = "var(--color-sheet)";

/** Lines of copy: [left, right] at a height. */
function lines(rows: [number, number, number][], look: object = letters) {
  return rows.map(([a, b, y], i) => <path key={`${y} ${a} ${i}`} d={`M${a} ${y}H${b}`} {...look} />);
}

const box = <rect x="18" y="8" width="68" height="56" rx="4" {...ink} fill={sheet} />;

const DRAWINGS: Record<string, ReactNode> = {
  outline: <path d="M52 8C76 8 88 24 88 38S74 64 52 64 16 54 16 38 28 8 52 8Z" {...ink} fill={sheet} />,
  frame: (
    <>
      {box}
      {lines([
        [26, 78, 20],
        [26, 78, 30],
        [26, 60, 40],
      ])}
    </>
  ),
  copy: (
    <>
      {lines([
        [20, 84, 18],
        [20, 84, 30],
        [20, 84, 42],
        [20, 50, 54],
      ])}
    </>
  ),
  padding: (
    <>
      {box}
      <rect x="30" y="20" width="44" height="32" strokeDasharray="3 2" {...slot} />
      {lines([
        [32, 72, 28],
        [32, 72, 36],
        [32, 56, 44],
      ])}
    </>
  ),
  slot: (
    <>
      <path d="M52 6L88 36L52 66L16 36Z" {...ink} fill={sheet} />
      {[22, 32, 42, 52].map((y, i) => (
        <path key={y} d={`M${[38, 26, 28, 40][i]} ${y}H${[66, 78, 76, 64][i]}`} {...slot} />
      ))}
    </>
  ),
  give: (
    <>
      <rect x="18" y="8" width="68" height="36" rx="4" {...ink} fill={sheet} />
      {lines([
        [26, 78, 18],
        [26, 78, 27],
        [26, 60, 36],
      ])}
      <path d="M18 62H86" strokeDasharray="4 3" {...slot} />
      <path d="M52 47V58M48 54L52 59L56 54" {...slot} />
    </>
  ),
  sit: (
    <>
      {box}
      {lines([
        [28, 76, 31],
        [28, 76, 41],
      ])}
      <path d="M52 10V25M52 62V47" {...slot} />
    </>
  ),
  hang: (
    <>
      <path d="M10 20H94" {...slot} />
      <text x="20" y="54" fontFamily="Chrome Serif" fontSize="46" fill="var(--color-ink)">
        Hx
      </text>
    </>
  ),
  stand: (
    <>
      <path d="M10 50H94" {...slot} />
      <text x="20" y="50" fontFamily="Chrome Serif" fontSize="46" fill="var(--color-ink)">
        Hy
      </text>
    </>
  ),
  wrap: (
    <>
      <circle cx="66" cy="36" r="15" {...ink} fill="var(--color-inset)" />
      {lines([
        [10, 94, 10],
        [10, 52, 20],
        [10, 46, 30],
        [10, 46, 42],
        [10, 52, 52],
        [10, 94, 62],
      ])}
    </>
  ),
  clearance: (
    <>
      <circle cx="52" cy="36" r="16" {...ink} fill="var(--color-inset)" />
      <circle cx="52" cy="36" r="27" strokeDasharray="3 3" {...slot} />
      <path d="M68 36H79" {...slot} />
    </>
  ),
  contour: (
    <>
      <rect x="20" y="8" width="64" height="56" {...ink} fill={sheet} />
      <path d="M52 14C66 14 62 28 72 34C80 40 68 58 52 58S24 40 32 34C42 28 38 14 52 14Z" {...slot} />
    </>
  ),
  leftover: (
    <>
      <rect x="18" y="6" width="68" height="38" rx="4" {...ink} fill={sheet} />
      {lines([
        [26, 78, 16],
        [26, 78, 25],
        [26, 78, 34],
      ])}
      {lines([[26, 66, 54]], over)}
    </>
  ),
  tie: (
    <>
      <rect x="14" y="12" width="30" height="20" rx="3" {...ink} fill={sheet} />
      <rect x="60" y="40" width="30" height="20" rx="3" {...ink} fill={sheet} />
      <path d="M44 22H75V40" strokeDasharray="4 3" {...slot} />
    </>
  ),
  anchor: (
    <>
      {lines([
        [12, 92, 14],
        [12, 92, 24],
        [12, 58, 36],
        [12, 58, 46],
        [12, 92, 58],
      ])}
      <rect x="66" y="30" width="26" height="20" rx="3" {...slot} fill={sheet} />
      <circle cx="40" cy="24" r="3" fill="var(--color-slot)" />
    </>
  ),
  chain: (
    <>
      <rect x="12" y="10" width="32" height="52" rx="3" {...ink} fill={sheet} />
      <rect x="60" y="10" width="32" height="52" rx="3" {...ink} fill={sheet} />
      <path d="M40 58C52 58 50 14 62 14M58 10L63 14L58 18" {...slot} />
    </>
  ),
  recipe: (
    <>
      <rect x="12" y="10" width="36" height="20" rx="8" {...ink} fill={sheet} />
      <rect x="56" y="10" width="36" height="20" rx="8" {...ink} fill={sheet} />
      <rect x="34" y="42" width="36" height="20" rx="8" {...ink} fill={sheet} />
      {lines([
        [20, 40, 20],
        [62, 86, 20],
        [42, 62, 52],
      ])}
    </>
  ),
  tries: (
    <>
      {[10, 42, 74].map((x, i) => (
        <g key={x}>
          <rect x={x} y="12" width="24" height="48" rx="3" {...(i === 1 ? slot : ink)} fill={sheet} />
          {lines([
            [x + 4, x + 20, 22],
            [x + 4, x + 20 - 4 * i, 31],
            [x + 4, x + 12 + 3 * i, 40],
          ])}
        </g>
      ))}
    </>
  ),
};
