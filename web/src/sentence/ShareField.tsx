/** A share, shown and typed in per cent. */
export function ShareField({
  label,
  value,
  low,
  high,
  step = 1,
  unsaid,
  onKeep,
}: {
  label: string;
  value: number | null;
  low: number;
  high: number;
  step?: number;
  /** What an empty field says, and stands for: `onKeep` gets null then. */
  unsaid?: string;
  onKeep: (share: number | null) => void;
}) {
  const said = (share: number) => String(Math.round(share * 10000) / 100);
  return (
    <label className="flex flex-col gap-1 text-xs text-soft">
      {label}
      <input
        type="number"
        className="field w-full py-1 text-sm tabular-nums"
        min={low}
        max={high}
        step={step}
        placeholder={unsaid}
        key={value}
        defaultValue={value === null ? "" : said(value)}
        onBlur={(e) => {
          const share = Math.min(high, Math.max(low, Number(e.target.value))) / 100;
          if (e.target.value ? said(share) !== (value === null ? "" : said(value)) : unsaid && value !== null)
            onKeep(e.target.value ? share : null);
        }}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
      />
    </label>
  );
}

/** Families whose names can be shown in themselves. */
