import type { Operation, Schemas } from "../api/client";
import type { Thing } from "../state/document";
import { edit, keepTried, tryOut, useStore } from "../state/store";
import { trim } from "../state/units";
import { LengthField } from "./LengthField";
import { Choice, Part } from "./Part";
import { CopyColorPart } from "./CopyColor";

const ALIGNS = { start: "flush left", center: "centred", end: "flush right", justify: "justified" } as const;
type Rule = Schemas["RuleScene"];

/** *Its copy*: alignment, font, size and leading, colour, of all its paragraphs or of those selected in the galley. */
export function CopyClause({ thing }: { thing: Thing }) {
  // What is stored, not what is being tried: a field must not change under the fingers.
  const nest = useStore((s) => s.scene?.nests[thing.id]);
  const shape = useStore((s) => (nest ? s.scene?.shapes[nest.shape] : undefined));
  const faces = useStore((s) => s.faces);
  const chosen = useStore((s) => s.paragraphs);
  if (!nest || !shape) return <p className="text-soft">It is hidden.</p>;
  const [first, last] = chosen ?? [0, shape.ruleOf.length - 1];
  const picked = shape.ruleOf.slice(first, last + 1).map((n) => shape.rules[n]);
  const numbers = shape.ruleOf.map((_, i) => i).slice(first, last + 1);
  if (!picked.length) return <p>is still empty: type in the galley, or paste.</p>;
  const operations = (field: string, value: unknown): Operation[] =>
    numbers.map((n) => ({ do: "put", at: ["copies", nest.copyName, "versions", nest.version, "paragraphs", n, field], value }));
  const attempt = (field: string) => (value: unknown) => tryOut(operations(field, value));
  const keep = (field: string, label: string) => (value: unknown) => void keepTried(operations(field, value), label);
  const put = (field: string, label: string) => (value: unknown) => void edit(operations(field, value), label);
  const align = only(picked.map((r) => r.align));
  const font = only(picked.map((r) => r.font));
  const families = [...new Set(faces.map((f) => f.family))];
  return (
    <p>
      is set{" "}
      <Part name="align" title="Alignment" said={align ? ALIGNS[align] : "in several ways"}>
        {() => <Choice value={align} options={Object.entries(ALIGNS).map(([value, label]) => ({ value: value as Rule["align"], label }))} onChoose={put("align", "Alignment")} />}
      </Part>{" "}
      in{" "}
      <Part name="font" title="Font" said={font ?? `${new Set(picked.map((r) => r.font)).size} fonts`}>
        {() => (
          <div role="radiogroup" className="-mx-1.5 max-h-80 overflow-y-auto px-1.5 py-1.5">
            {families.map((family) => (
              <button key={family} role="radio" aria-checked={family === font} className={`block w-full rounded-md px-2.5 py-1.5 text-left ${family === font ? "bg-slot-wash text-slot-text" : "hover:bg-inset"}`} onClick={() => put("font", "Font")(family)}>
                <FamilyName family={family} />
              </button>
            ))}
          </div>
        )}
      </Part>{" "}
      <Part name="size" title="Size and leading" said={`${range(picked.map((r) => r.size))} / ${range(picked.map((r) => r.leading))}`}>
        {() => (
          <div className="space-y-3">
            <LengthField label="Type size" value={single(picked.map((r) => r.size))} onTry={attempt("size")} onKeep={keep("size", "Type size")} />
            <LengthField label="Leading" value={single(picked.map((r) => r.leading))} onTry={attempt("leading")} onKeep={keep("leading", "Leading")} hint="1.3em follows the type size." />
            <LengthField label="Space below" value={single(picked.map((r) => r.spaceAfter))} onTry={attempt("space_after")} onKeep={keep("space_after", "Space below")} />
            <LengthField label="First line in" value={single(picked.map((r) => r.firstIndent))} onTry={attempt("first_indent")} onKeep={keep("first_indent", "First-line indent")} />
          </div>
        )}
      </Part>{" "}
      <CopyColorPart picked={picked} attempt={attempt("color")} keep={keep("color", "Colour of the copy")} />.
      {nest.loose > 0 && (
        <span className="text-coral-text">
          {" "}
          {nest.loose} {nest.loose === 1 ? "line is" : "lines are"} too short of words to justify.
        </span>
      )}
      {nest.broken && <span className="text-coral-text"> A word is wider than every line and had to be broken.</span>}
    </p>
  );
}

function FamilyName({ family }: { family: string }) {
  const face = useStore((s) => s.faces.find((f) => f.family === family && f.slope === "normal"));
  if (!face) return <>{family}</>;
  return (
    <>
      <style>{`@font-face { font-family: "sample ${family}"; src: url("${face.url}"); }`}</style>
      <span className="text-[17px]" style={{ fontFamily: `"sample ${family}"` }}>
        {family}
      </span>
    </>
  );
}

function only<T>(values: T[]): T | null {
  return values.every((v) => v === values[0]) ? values[0] : null;
}

function range(values: number[]): string {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  return low === high ? trim(low) : `${trim(low)}–${trim(high)}`;
}

function single(values: number[]): string {
  return only(values) === null ? "" : `${trim(values[0], 3)} pt`;
}
