import { useEffect, useRef, useState } from "react";
import { inItsUnit, stepped } from "../state/units";

/** A length typed within a sentence: the page follows while it is typed; Enter or leaving it keeps it. */
export function Figure({
  label,
  value,
  onTry,
  onKeep,
}: {
  label: string;
  value: string;
  onTry: (text: string) => void;
  onKeep: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  const left = useRef(false);
  useEffect(() => setText(value), [value]);
  const change = (next: string) => {
    setText(next);
    if (next.trim()) onTry(inItsUnit(next.trim(), value));
  };
  return (
    <input
      aria-label={label}
      className="field mx-0.5 w-[76px] px-1.5 py-0 text-center font-serif text-[15px] tabular-nums"
      value={text}
      onFocus={(event) => event.target.select()}
      onChange={(event) => change(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === "Escape") left.current = true;
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
        event.preventDefault();
        const next = stepped(text, (event.key === "ArrowUp" ? 1 : -1) * (event.shiftKey ? 10 : 1));
        if (next !== null) change(next);
      }}
      onBlur={() => {
        if (!left.current && text.trim() && text !== value) onKeep(inItsUnit(text.trim(), value));
        left.current = false;
      }}
      spellCheck={false}
      autoComplete="off"
    />
  );
}
