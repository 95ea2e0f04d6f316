import { useEffect, useRef, useState } from "react";

interface Props {
  value: number;
  min: number;
  max: number;
  onTry: (value: number) => void;
  onKeep: (value: number) => void;
  label?: string;
  className?: string;
}

/** A slider that the page follows while it moves; what it stands on when let go is kept. */
export function Slider({ value, min, max, onTry, onKeep, label, className }: Props) {
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
  return (
    <input
      type="range"
      aria-label={label}
      className={`accent-slot ${className ?? ""}`}
      min={min}
      max={max}
      value={Math.min(max, Math.max(min, held ?? value))}
      onChange={(e) => move(Number(e.currentTarget.value))}
      onPointerUp={keep}
      onKeyUp={keep}
      onBlur={keep}
    />
  );
}
