import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import { useStore } from "../state/store";
import { tryFails } from "../state/model/tried";
import { inItsUnit, stepped } from "../state/units";

interface Props {
  label: string;
  value: string;
  onTry: (text: string) => void;
  onKeep: (text: string) => void;
  autoFocus?: boolean;
  hint?: string;
  /** The label above the field, for two side by side. */
  above?: boolean;
}

/**
 * A length: units and sums are typed, arrows step by what suits the unit (Shift tenfold), dragging the label scrubs.
 * The page follows while it changes; Enter, leaving the field or letting go keeps it.
 */
export function LengthField({ label, value, onTry, onKeep, autoFocus, hint, above }: Props) {
  const [text, setText] = useState(value);
  const fault = useStore((s) => s.triedFault !== null);
  const input = useRef<HTMLInputElement>(null);
  const kept = useRef(value);
  const left = useRef(false);
  const scrub = useRef<{ x: number; text: string } | null>(null);
  const epoch = useStore((s) => s.epoch);
  useEffect(() => {
    // What was kept is the value now, or was refused: then it is what it was.
    if (kept.current === value) return;
    kept.current = value;
    setText(value);
  }, [value, epoch]);
  useEffect(() => {
    if (autoFocus) input.current?.select();
  }, [autoFocus]);

  const change = (next: string) => {
    setText(next);
    if (next.trim()) onTry(inItsUnit(next.trim(), kept.current));
  };
  const keep = (next = text) => {
    const wanted = inItsUnit(next.trim(), kept.current);
    if (!wanted || wanted === kept.current || left.current) return;
    if (tryFails(useStore.getState())) return setText(kept.current);
    kept.current = wanted;
    onKeep(wanted);
  };
  const keys = (event: KeyboardEvent) => {
    if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      const next = stepped(text, (event.key === "ArrowUp" ? 1 : -1) * (event.shiftKey ? 10 : 1));
      if (next !== null) change(next);
      event.preventDefault();
    }
    if (event.key === "Enter") keep();
    if (event.key === "Escape") left.current = true; // leaves the field as it was
  };
  const down = (event: PointerEvent) => {
    scrub.current = { x: event.clientX, text };
    (event.target as HTMLElement).setPointerCapture(event.pointerId);
    event.preventDefault();
  };
  const move = (event: PointerEvent) => {
    if (!scrub.current) return;
    const next = stepped(
      scrub.current.text,
      Math.round((event.clientX - scrub.current.x) / 4) * (event.shiftKey ? 10 : 1),
    );
    if (next !== null) change(next);
  };
  const up = () => {
    if (scrub.current) keep();
    scrub.current = null;
  };
  const id = `length-${label.replace(/\W/g, "-")}`;
  return (
    <div>
      <div className={above ? "flex flex-col gap-1" : "flex items-center gap-3"}>
        <label
          htmlFor={id}
          className="flex-1 cursor-ew-resize touch-none text-soft select-none"
          title="Drag to change"
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={up}
        >
          {label} <span aria-hidden>↔</span>
        </label>
        <input
          id={id}
          ref={input}
          className={`field text-right tabular-nums ${above ? "w-full" : "w-28"}`}
          value={text}
          aria-invalid={fault}
          onChange={(e) => change(e.target.value)}
          onKeyDown={keys}
          onBlur={() => keep()}
          onFocus={(e) => e.target.select()}
          spellCheck={false}
          autoComplete="off"
        />
      </div>
      {hint && <p className="mt-1.5 text-xs text-soft">{hint}</p>}
    </div>
  );
}
