/** What the first line hangs from, and the last stands on. */
import { DEFAULTS } from "../api/rules";
import { useMemo, useState } from "react";
import type { NestScene } from "../api/client";
import type { Frame, Thing } from "../state/document";
import { shownScene, useStore } from "../state/store";
import { shown } from "../state/units";
import { usePoints } from "../state/lengths";
import { LengthField } from "./LengthField";
import { type Mark, MetricWord } from "./MetricPart";
import { Choice, Part } from "../parts/Part";

export function SitDrawing({ sit }: { sit: "top" | "middle" | "bottom" | "leaded" }) {
  const top = { top: 6, middle: 17, bottom: 28, leaded: 6 }[sit];
  return (
    <svg width="44" height="52" viewBox="0 0 44 52" aria-hidden>
      {(sit === "leaded" ? [0, 19, 38] : [0, 8, 16]).map((dy, i) => (
        <line
          key={dy}
          x1="7"
          x2={i === 1 ? 31 : 37}
          y1={top + dy + 1}
          y2={top + dy + 1}
          stroke="currentColor"
          strokeWidth="2.6"
          strokeLinecap="round"
        />
      ))}
    </svg>
  );
}

interface MetricProps {
  thing: Thing;
  frame: Frame;
  attempt: (value: unknown) => void;
  keep: (value: unknown) => void;
  put: (value: unknown) => void;
}

/** Heights of the first letters, as shares of their size; of a frame that has none, those of most text faces. */
function useMetrics(thing: Thing): NestScene["metrics"] {
  return useStore((s) => shownScene(s)?.nests[thing.id]?.metrics) ?? NO_COPY;
}

const NO_COPY = { ascender: 0.7, descender: 0.25, cap: 0.65, ex: 0.45, up: 0.9, down: 0.35 };

const HANGS = {
  ascender: "the ascenders",
  cap: "cap height",
  ex: "x-height",
  "line-box": "its line box",
  ink: "its ink",
} as const;

export function HangPart({ thing, frame, attempt, keep, put }: MetricProps) {
  const m = useMetrics(thing);
  const hang = frame.hang ?? DEFAULTS.frame.hang;
  const marks: Mark[] = useMemo(
    () => [
      { value: "ascender", label: "ascender", at: m.ascender },
      { value: "cap", label: "cap height", at: m.cap },
      { value: "ex", label: "x-height", at: m.ex },
      { value: "line-box", label: "line box", at: m.up },
    ],
    [m],
  );
  const named = hang in HANGS;
  const size = useStore((s) => s.scene?.nests[thing.id]?.size ?? 12);
  const points = usePoints(named ? 0 : hang, size);
  const at = named ? (marks.find((k) => k.value === hang)?.at ?? m.cap) : (points ?? size / 2) / size;
  return (
    <Part
      name="hang"
      title="What the first line hangs from"
      said={named ? HANGS[hang as keyof typeof HANGS] : `${shown(hang)} above its baseline`}
      width="w-[292px]"
    >
      {() => (
        <>
          <Dragged thing={thing} marks={marks} at={at} free attempt={attempt} keep={keep} />
          <Choice
            columns={2}
            value={named ? (hang as string) : null}
            options={Object.entries(HANGS).map(([value, label]) => ({ value, label }))}
            onChoose={put}
          />
          <div className="mt-3">
            <LengthField label="Or by a length" value={named ? "" : shown(hang)} onTry={attempt} onKeep={keep} />
          </div>
        </>
      )}
    </Part>
  );
}

const STANDS = {
  baseline: "the baseline",
  descender: "the descenders",
  "line-box": "its line box",
  ink: "its ink",
} as const;

export function StandPart({ thing, frame, attempt, keep, put }: MetricProps) {
  const m = useMetrics(thing);
  const stand = frame.stand ?? DEFAULTS.frame.stand;
  const marks: Mark[] = useMemo(
    () => [
      { value: "baseline", label: "baseline", at: 0 },
      { value: "descender", label: "descender", at: -m.descender },
      { value: "line-box", label: "line box", at: -m.down },
    ],
    [m],
  );
  return (
    <Part name="stand" title="What the last line stands on" said={STANDS[stand]} width="w-[292px]">
      {() => (
        <>
          <Dragged
            thing={thing}
            marks={marks}
            at={marks.find((k) => k.value === stand)?.at ?? 0}
            free={false}
            attempt={attempt}
            keep={keep}
          />
          <Choice
            columns={2}
            value={stand}
            options={Object.entries(STANDS).map(([value, label]) => ({ value: value as typeof stand, label }))}
            onChoose={put}
          />
        </>
      )}
    </Part>
  );
}

function Dragged({
  thing,
  marks,
  at,
  free,
  attempt,
  keep,
}: {
  thing: Thing;
  marks: Mark[];
  at: number;
  free: boolean;
  attempt: (v: unknown) => void;
  keep: (v: unknown) => void;
}) {
  const [held, setHeld] = useState<number | null>(null);
  // What is dragged to is a metric by its name, or a height in ems.
  const heightOf = (value: unknown) => marks.find((k) => k.value === value)?.at ?? Number.parseFloat(String(value));
  return (
    <MetricWord
      thingId={thing.id}
      marks={marks}
      at={held ?? at}
      free={free}
      onDrag={(value) => {
        setHeld(heightOf(value));
        attempt(value);
      }}
      onDrop={(value) => {
        setHeld(null);
        keep(value);
      }}
    />
  );
}
