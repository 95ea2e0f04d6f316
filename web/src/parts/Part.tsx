import { partCloses, partOpens, partTaken } from "../state/viewing";
import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import {
  type HTMLAttributes,
  type KeyboardEvent,
  type ReactNode,
  createContext,
  type RefObject,
  useContext,
  useEffect,
  useId,
  useRef,
} from "react";
import { Differing } from "./differing";
import { useStore } from "../state/store";
import { Panel } from "./Panel";

/** The title of the popover that something stands in. */
const Title = createContext<string | undefined>(undefined);

/** An emphasised part of the sentence: a button that opens, upwards over the bench, what is made for that one rule. */
export function Part({
  name,
  said,
  title,
  width = "w-72",
  children,
}: {
  name: string;
  said: ReactNode;
  title: string;
  width?: string;
  children: (close: () => void) => ReactNode;
}) {
  const differs = useContext(Differing)?.[name];
  const id = useId();
  const button = useRef<HTMLButtonElement>(null);
  return (
    <Popover as="span">
      {({ open, close }) => (
        <>
          <Follow name={name} open={open} button={button} close={close} />
          {/* Read out by rule and value. */}
          <span hidden id={`${id}-rule`}>
            {title},
          </span>
          {/* Inline, as words are: a button would be a box of its own, with breaks before the comma
              that follows it. */}
          <PopoverButton
            as="span"
            role="button"
            tabIndex={0}
            ref={button}
            className="part"
            data-part={name}
            id={id}
            aria-labelledby={`${id}-rule ${id}`}
          >
            {differs ?? said}
          </PopoverButton>
          <PopoverPanel
            portal
            focus
            aria-label={title}
            role="dialog"
            className={`card fixed z-30 ${width} max-h-[calc(100vh-96px)] overflow-y-auto p-4 font-sans text-sm leading-normal font-normal text-ink`}
          >
            {({ close }) => (
              <Title.Provider value={title}>
                <Panel name={name} title={title} close={close}>
                  {children(close)}
                </Panel>
              </Title.Provider>
            )}
          </PopoverPanel>
        </>
      )}
    </Popover>
  );
}

/** A part opens when it is asked for, and closes when another thing says so; which one is open is told. */
function Follow({
  name,
  open,
  button,
  close,
}: {
  name: string;
  open: boolean;
  button: RefObject<HTMLElement | null>;
  close: () => void;
}) {
  const asked = useStore((s) => s.askedPart === name);
  const opened = useStore((s) => s.openedPart === name);
  const was = useRef({ open: false, opened: false });
  useEffect(() => {
    if (!asked || !partTaken(name)) return;
    button.current?.focus();
    // The popover has no other way to be opened from outside than its own button.
    if (!open) button.current?.click();
  }, [name, asked, open, button]);
  useEffect(() => {
    const before = was.current;
    was.current = { open, opened };
    if (open && !before.open) partOpens(name);
    else if (!open && before.open) partCloses(name);
    else if (open && before.opened && !opened) close();
  }, [name, open, opened, close]);
  useEffect(() => () => partCloses(name), [name]);
  return null;
}

/** An emphasised word of the sentence that does something at once. Inline like a part, so that no line begins with
 * the comma behind it. */
export function Verb({
  onDo,
  children,
  ...more
}: { onDo: () => void; children: ReactNode; "data-part"?: string } & Omit<
  HTMLAttributes<HTMLSpanElement>,
  "onClick" | "onKeyDown"
>) {
  const part = more["data-part"];
  const asked = useStore((s) => s.askedPart !== null && s.askedPart === part);
  const here = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (!asked || !partTaken(part!)) return;
    here.current?.focus();
    here.current?.click();
  }, [asked, part]);
  const keys = (event: KeyboardEvent) => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    onDo();
  };
  return (
    <span ref={here} role="button" tabIndex={0} className="part" onClick={onDo} onKeyDown={keys} {...more}>
      {children}
    </span>
  );
}

/** What is said only when it says something special, or when every rule is asked for. */
export function Rest({ plain, of, children }: { plain: boolean; of?: string; children: ReactNode }) {
  const every = useStore((s) => s.everyRule);
  const differs = useContext(Differing)?.[of ?? ""];
  return plain && !every && !differs ? null : children;
}

/** A choice of a few, as buttons with a drawing or a word. */
export function Choice<T extends string>({
  value,
  options,
  onChoose,
  columns,
  label,
}: {
  value: T | null;
  options: readonly { value: T; label: string; hint?: string; drawing?: ReactNode }[];
  onChoose: (value: T) => void;
  columns?: number;
  /** What is chosen among; in a popover its title when nothing is said. */
  label?: string;
}) {
  const title = useContext(Title);
  const chosen = Math.max(
    0,
    options.findIndex((option) => option.value === value),
  );
  const step = (event: KeyboardEvent<HTMLDivElement>) => {
    const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
    if (!by) return;
    event.preventDefault();
    const radios = [...event.currentTarget.querySelectorAll<HTMLElement>("[role=radio]")];
    const next = (radios.indexOf(document.activeElement as HTMLElement) + by + radios.length) % radios.length;
    radios[next].focus();
    onChoose(options[next].value);
  };
  return (
    <div
      role="radiogroup"
      aria-label={label ?? title}
      onKeyDown={step}
      className={columns ? "grid gap-2" : "space-y-0.5"}
      style={columns ? { gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` } : undefined}
    >
      {options.map((option, index) => {
        const on = option.value === value;
        return (
          <button
            key={option.value}
            role="radio"
            aria-checked={on}
            tabIndex={index === chosen ? 0 : -1}
            onClick={() => onChoose(option.value)}
            className={
              columns
                ? `flex flex-col items-center rounded-lg px-1 py-1.5 text-xs ${on ? "font-bold text-slot-text" : "hover:bg-inset"}`
                : `block w-full rounded-md px-2.5 py-1.5 text-left ${on ? "bg-slot-wash font-bold text-slot-text" : "hover:bg-inset"}`
            }
          >
            {option.drawing && (
              <span
                className={`mb-1.5 rounded-md border-2 p-1 ${on ? "border-slot bg-slot-wash" : "border-line bg-sheet"}`}
              >
                {option.drawing}
              </span>
            )}
            {option.label}
            {option.hint && <span className="block text-xs font-normal text-soft">{option.hint}</span>}
          </button>
        );
      })}
    </div>
  );
}
