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
  // What was kept has come back: it stands on that again.
  useEffect(() => setHeld(null), [value]);
  const move = (to: number) => {
    latest.current = to;
    setHeld(to);
    onTry(to);
  };
  const keep = () => {
    if (latest.current !== null && latest.current !== value) onKeep(latest.current);
    else setHeld(null);
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
