import { shown } from "../state/units";

/** Ready sheets or screens of one kind, a button each. */
export function Sheets({
  sheets,
  disabled,
  onChoose,
}: {
  sheets: [name: string, width: string, height: string][];
  disabled?: boolean;
  onChoose: (name: string, width: string, height: string) => void;
}) {
  return (
    <div className="flex flex-wrap gap-1">
      {sheets.map(([name, width, height]) => (
        <button
          key={name}
          className="button px-2 py-1 text-xs"
          title={`${shown(width)} × ${shown(height)}`}
          disabled={disabled}
          onClick={() => onChoose(name, width, height)}
        >
          {name}
        </button>
      ))}
    </div>
  );
}
