import { useEffect, useRef, useState } from "react";

interface Props {
  value: number;
  min: number;
  max: number;
  onTry: (value: number) => void;
  onKeep: (value: number) => void;
  label: string;
  className?: string;
  /** What the figure counts, behind the field it is typed in: "%". */
  unit?: string;
  /** Whether it can be typed as well. */
  typed?: boolean;
}

/** A slider that the page follows while it moves; what it stands on when let go is kept. */
export function Slider({ value, min, max, onTry, onKeep, label, className, unit, typed = true }: Props) {
  const [held, setHeld] = useState<number | null>(null);
  const latest = useRef<number | null>(null);
  const kept = useRef<number | null>(null);
  // It stands on what was kept last until that has come back: steps made meanwhile go on from there.
  useEffect(() => {
    if (kept.current !== null && Math.abs(kept.current - value) > 0.5) return;
    kept.current = null;
    if (latest.current === null) setHeld(null);
  }, [value]);
  const move = (to: number) => {
    latest.current = to;
    setHeld(to);
    onTry(to);
  };
  const keep = () => {
    if (latest.current !== null && latest.current !== (kept.current ?? value)) {
      const mine = (kept.current = latest.current);
      onKeep(mine);
      // A change that was refused does not come back.
      setTimeout(() => {
        if (kept.current !== mine || latest.current !== null) return;
        kept.current = null;
        setHeld(null);
      }, 4000);
    } else if (kept.current === null) setHeld(null);
    latest.current = null;
  };
  const stands = Math.min(max, Math.max(min, held ?? value));
  return (
    <>
      <input
        type="range"
        aria-label={label}
        className={`h-6 accent-slot ${className ?? ""}`}
        min={min}
        max={max}
        value={stands}
        onChange={(e) => move(Number(e.currentTarget.value))}
        onPointerUp={keep}
        onKeyUp={keep}
        onBlur={keep}
      />
      {typed && <Typed label={label} value={stands} min={min} max={max} unit={unit} onTry={move} onKeep={keep} />}
    </>
  );
}

/** The figure of a slider, typed; arrows step it, with Shift tenfold. */
function Typed({
  label,
  value,
  min,
  max,
  unit,
  onTry,
  onKeep,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  unit?: string;
  onTry: (value: number) => void;
  onKeep: () => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const change = (next: string) => {
    setText(next);
    const figure = Number.parseFloat(next.replace(",", "."));
    if (Number.isFinite(figure)) onTry(Math.min(max, Math.max(min, figure)));
  };
  return (
    <span className="flex shrink-0 items-center gap-1 text-ink">
      <input
        className="field w-14 px-1.5 py-0.5 text-right tabular-nums"
        aria-label={`${label}, typed`}
        inputMode="decimal"
        value={text ?? String(value)}
        onFocus={(e) => e.target.select()}
        onChange={(e) => change(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter") e.currentTarget.blur();
          const by = { ArrowUp: 1, ArrowDown: -1 }[e.key];
          if (!by) return;
          e.preventDefault();
          change(String(Math.min(max, Math.max(min, Math.round(value + by * (e.shiftKey ? 10 : 1))))));
        }}
        onBlur={() => {
          setText(null);
          onKeep();
        }}
      />
      {unit && <span className="w-3 text-soft">{unit}</span>}
    </span>
  );
}
