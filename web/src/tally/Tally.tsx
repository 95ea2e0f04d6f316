import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import { ChevronRight, Eye, EyeOff, Lock, LockOpen } from "lucide-react";
import { type DragEvent, type ReactNode, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { act } from "../api/client";
import { leavesOf, type Thing, thingsOf } from "../state/document";
import { countSaid, faultsOf, read, useFindings } from "../findings/findings";
import { Strain } from "../strain/Strain";
import { holdsSaid, useStrain } from "../strain/strain";
import { leftoverSaid } from "../parts/leftover";
import { bringIntoView } from "../parts/view";
import { openMenu } from "../parts/menu";
import { select, selectAll } from "../state/choosing";
import { labelOf } from "../state/naming";
import { edit } from "../state/sending";
import { ruled, shownScene, useStore } from "../state/store";

const DRAGGED = "application/x-nest-line-object";

/** Every object in stacking order, page by page, the front one first; frames show how full they are. */
export function Tally() {
  const document = useStore((s) => s.document);
  const complete = useStore((s) => s.complete);
  if (!document) return null;
  const several = document.pages.length > 1;
  return (
    <section aria-label="Tally" data-tally className="flex h-full min-h-0 flex-col bg-card px-3 pt-3">
      <div className="-mx-3 min-h-0 flex-1 overflow-y-auto px-3 pb-3">
        <h2 className="eyebrow">Tally</h2>
        <WrongSaid />
        {!complete && (
          <p className="mt-2 text-sm text-soft" role="status">
            The pages behind the first are being nested …
          </p>
        )}
        {thingsOf(document).length === 0 && (
          <p className="mt-3 text-soft">
            Nothing on the page yet. Draw an <b>outline</b>, type into it, and see it here.
          </p>
        )}
        {document.pages.map((page, index) => {
          const front = [...page.objects].reverse();
          const holds = (thing: Thing) => leavesOf(thing).some((leaf) => leaf.frame);
          const others = front.filter((t) => !holds(t));
          return (
            <div key={index} className="mt-2">
              {several && <PageHead index={index} />}
              <ul className="mt-1 space-y-0.5">
                {front.filter(holds).map((thing) => (
                  <Entry key={thing.id} thing={thing} />
                ))}
              </ul>
              {others.length > 0 && (
                <Disclosure as="div" className="mt-2" defaultOpen={others.length <= 6}>
                  <DisclosureButton className="group flex w-full items-center gap-1 rounded-md py-1 text-left text-soft">
                    <ChevronRight size={14} className="group-data-open:rotate-90" />
                    {others.length} without copy
                  </DisclosureButton>
                  <DisclosurePanel as="ul" className="space-y-0.5">
                    {others.map((thing) => (
                      <Entry key={thing.id} thing={thing} />
                    ))}
                  </DisclosurePanel>
                </Disclosure>
              )}
            </div>
          );
        })}
      </div>
      {thingsOf(document).some((thing) => leavesOf(thing).some((leaf) => leaf.frame)) && <Strain />}
    </section>
  );
}

/** How much is wrong; pressed, the list of it. */
function WrongSaid() {
  const { found, open } = useFindings();
  const said = countSaid(found);
  if (!said && !open) return null;
  return (
    <button
      className="-mx-2 mt-1 flex min-h-7 items-center gap-2 rounded-md px-2 text-left text-sm hover:bg-slot-wash"
      aria-expanded={open}
      title="What is wrong, and what mends it ( W )"
      onClick={() =>
        open ? (useFindings.setState({ open: false }), read(null)) : useFindings.setState({ open: true })
      }
    >
      <span className={`size-2 shrink-0 rounded-full ${faultsOf(found).length ? "bg-coral" : "border border-edge"}`} />
      {said || "nothing is wrong"}
    </button>
  );
}

/** A page's name; what is dropped on it comes to its front. */
function PageHead({ index }: { index: number }) {
  const [lit, setLit] = useState(false);
  return (
    <h3
      className={`-mx-2 rounded-md px-2 text-soft ${lit ? "bg-slot-wash" : ""}`}
      onDragOver={(event) => {
        if (!event.dataTransfer.types.includes(DRAGGED)) return;
        event.preventDefault();
        setLit(true);
      }}
      onDragLeave={() => setLit(false)}
      onDrop={(event) => {
        setLit(false);
        const object = event.dataTransfer.getData(DRAGGED);
        if (object) void edit(act("restack", { object, page: index }), "To another page");
      }}
    >
      Page {index + 1}
    </h3>
  );
}

function Entry({ thing, inside }: { thing: Thing; inside?: boolean }) {
  if (thing.objects) return <GroupRow group={thing} />;
  return thing.frame ? <FrameRow thing={thing} inside={inside} /> : <Row thing={thing} inside={inside} />;
}

function GroupRow({ group }: { group: Thing }) {
  const [open, setOpen] = useState(true);
  const ids = leavesOf(group).map((leaf) => leaf.id);
  return (
    <Row
      thing={group}
      chosen={ids}
      before={
        <button
          className="-ml-1 rounded p-0.5 text-soft"
          aria-label={`${open ? "Fold" : "Unfold"} ${labelOf(group)}`}
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          <ChevronRight size={14} className={open ? "rotate-90" : ""} />
        </button>
      }
      figure={`${ids.length}`}
      below={
        open && (
          <ul className="ml-1.5 space-y-0.5 border-l border-line pl-4">
            {[...group.objects!].reverse().map((thing) => (
              <Entry key={thing.id} thing={thing} inside />
            ))}
          </ul>
        )
      }
    />
  );
}

function FrameRow({ thing, inside }: { thing: Thing; inside?: boolean }) {
  const [figure, percent, over, why] = useStore(useShallow((s) => filled(thing, s)));
  const wrong = useFindings((s) => faultsOf(s.found, thing.id)[0]?.message);
  const revision = useStore((s) => s.revision);
  const held = useStrain((s) => holdsSaid(thing.id, s, revision));
  const pushed = useStore((s) =>
    over ? (shownScene(s)?.nests[thing.id]?.pushedBy ?? []).map((id) => s.scene?.labels[id] ?? id).join(", ") : "",
  );
  return (
    <Row thing={thing} inside={inside} figure={figure} fault={over || !!why} why={why ?? wrong}>
      {wrong && !over && <span className="absolute top-[11px] left-0 size-[5px] rounded-full bg-coral" title={wrong} />}
      {held && <p className="truncate text-xs text-soft">{held}</p>}
      {pushed && <p className="truncate text-xs text-coral-text">pushed by {pushed}</p>}
      <div className="mt-1 h-1.5 overflow-hidden rounded-full bg-inset">
        <div className={`h-full rounded-full ${over ? "bg-coral" : "bg-ink"}`} style={{ width: `${percent}%` }} />
      </div>
    </Row>
  );
}

/** How full a frame is: in words, in per cent, whether copy is left over, and why a page number of it leads nowhere. */
function filled(
  thing: Thing,
  state: ReturnType<typeof useStore.getState>,
): [string, number, boolean, string | undefined] {
  const scene = shownScene(state);
  const nest = scene?.nests[thing.id];
  const nowhere = scene?.nowhere[thing.id];
  if (!nest) return [state.complete ? "hidden" : "…", 0, false, nowhere];
  const over = nest.leftover;
  const why = nowhere ?? (over ? leftoverSaid(nest, scene.labels, state.document?.unit ?? "mm") : undefined);
  const percent = over ? 100 : Math.round(nest.fill * 1000) / 10;
  // What stands in for a version that is missing is said first.
  const standsIn = nest.version !== (state.document?.showing ?? state.document?.language ?? "en") ? nest.version : null;
  const tag = standsIn ? `${standsIn.length < 7 ? standsIn : `${standsIn.slice(0, 5)}…`} · ` : "";
  const gives = ruled(thing, state).frame?.give?.length ? "gives · " : "";
  const figure = nowhere
    ? "leads nowhere"
    : over
      ? `${tag}${over} over`
      : nest.words === 0 || (nest.chain && !nest.wordsHeld)
        ? "empty"
        : percent > 99.5
          ? `${tag}full`
          : `${tag || gives}${Math.round(percent)} %`;
  return [
    `${nest.chain ? `${nest.chain.place + 1}/${nest.chain.frames.length} · ` : ""}${figure}`,
    percent,
    over > 0,
    why,
  ];
}

interface RowProps {
  thing: Thing;
  /** What a click chooses, when it is not the thing itself. */
  chosen?: string[];
  inside?: boolean;
  figure?: string;
  fault?: boolean;
  why?: string;
  before?: ReactNode;
  children?: ReactNode;
  below?: ReactNode;
}

/** Another name for an object; without one it is called by its words or its kind. */
function NameField({ thing, done }: { thing: Thing; done: () => void }) {
  const left = useRef(false);
  const keep = (text: string) => {
    if (left.current) return;
    left.current = true;
    const name = text.trim();
    if (name !== (thing.name ?? "") && !(name === labelOf(thing) && !thing.name))
      void edit([{ do: "put", at: ["objects", thing.id, "name"], value: name.slice(0, 200) }], "Name");
    done();
  };
  return (
    <input
      className="field min-w-0 flex-1 px-1 py-0"
      aria-label="Name"
      autoFocus
      defaultValue={thing.name || labelOf(thing)}
      onFocus={(event) => event.target.select()}
      onBlur={(event) => keep(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === "Enter") keep(event.currentTarget.value);
        if (event.key === "Escape") {
          left.current = true;
          event.stopPropagation();
          done();
        }
      }}
    />
  );
}

function Row({ thing, chosen, inside, figure, fault, why, before, children, below }: RowProps) {
  const waits = useStore((s) => s.scene?.objects[thing.id]?.anchor?.waits ?? false);
  const selected = useStore((s) => (chosen ?? [thing.id]).every((id) => s.selected === id || s.others.includes(id)));
  const [line, setLine] = useState<"above" | "below" | null>(null);
  const [naming, setNaming] = useState(false);
  useStore((s) => s.scene?.labels[thing.id]);
  const label = labelOf(thing);
  const put = (field: string, on: boolean, label: string) =>
    void edit(
      [
        on
          ? { do: "put", at: ["objects", thing.id, field], value: true }
          : { do: "cut", at: ["objects", thing.id, field] },
      ],
      label,
    );
  const choose = (adding: boolean) => {
    bringIntoView((chosen ?? [thing.id])[0]);
    if (!chosen) return select(thing.id, adding, inside);
    if (!adding) return selectAll(chosen);
    select(chosen[0], true);
  };
  const over = (event: DragEvent<HTMLDivElement>) => {
    if (!event.dataTransfer.types.includes(DRAGGED)) return;
    event.preventDefault();
    const box = event.currentTarget.getBoundingClientRect();
    setLine(event.clientY < box.top + box.height / 2 ? "above" : "below");
  };
  const drop = (event: DragEvent<HTMLDivElement>) => {
    const object = event.dataTransfer.getData(DRAGGED);
    if (object && object !== thing.id)
      void edit(act("restack", { object, [line === "below" ? "below" : "above"]: thing.id }), "Stack");
    setLine(null);
  };
  return (
    <li className={thing.hidden ? "text-soft italic" : ""}>
      <div
        draggable
        onDragStart={(event) => {
          event.dataTransfer.setData(DRAGGED, thing.id);
          event.dataTransfer.effectAllowed = "move";
        }}
        onDragOver={over}
        onDragLeave={() => setLine(null)}
        onDrop={drop}
        onContextMenu={(event) => {
          event.preventDefault();
          if (!selected) choose(false);
          openMenu({ kind: "object", at: [event.clientX || 200, event.clientY || 200] });
        }}
        className={`group relative -mx-2 rounded-lg px-2 py-1 ${selected ? "bg-slot-wash" : "hover:bg-inset/60"}`}
      >
        {line && (
          <div className={`absolute inset-x-1 h-0.5 rounded bg-slot ${line === "above" ? "-top-px" : "-bottom-px"}`} />
        )}
        <div className="flex items-center gap-1">
          {before}
          {naming ? (
            <NameField thing={thing} done={() => setNaming(false)} />
          ) : (
            <button
              className="min-w-0 flex-1 truncate text-left"
              aria-pressed={selected}
              title="Double-click or F2: another name"
              onClick={(event) => choose(event.shiftKey || event.ctrlKey || event.metaKey)}
              onDoubleClick={() => setNaming(true)}
              onKeyDown={(event) => {
                if (event.key !== "F2") return;
                event.preventDefault();
                setNaming(true);
              }}
            >
              {label}
            </button>
          )}
          <span
            className={`flex shrink-0 gap-0.5 ${thing.hidden || thing.locked ? "" : "w-0 overflow-hidden group-focus-within:w-auto group-focus-within:overflow-visible group-hover:w-auto"}`}
          >
            <button
              className="rounded p-0.5 text-soft hover:bg-sheet"
              aria-label={thing.hidden ? `Show ${labelOf(thing)}` : `Hide ${labelOf(thing)}`}
              onClick={() => put("hidden", !thing.hidden, thing.hidden ? "Show" : "Hide")}
            >
              {thing.hidden ? <EyeOff size={14} /> : <Eye size={14} />}
            </button>
            <button
              className="rounded p-0.5 text-soft hover:bg-sheet"
              aria-label={thing.locked ? `Unlock ${labelOf(thing)}` : `Lock ${labelOf(thing)}`}
              onClick={() => put("locked", !thing.locked, thing.locked ? "Unlock" : "Lock")}
            >
              {thing.locked ? <Lock size={14} /> : <LockOpen size={14} />}
            </button>
          </span>
          {waits && (
            <span
              className="shrink-0 font-bold text-coral-text"
              title="Its place in the copy is not set, so it is not drawn"
            >
              waits
            </span>
          )}
          {figure && !waits && (
            <span
              title={why}
              className={`shrink-0 tabular-nums group-focus-within:hidden group-hover:hidden ${fault ? "font-bold text-coral-text" : "text-soft"}`}
            >
              {figure}
            </span>
          )}
        </div>
        {children}
      </div>
      {below}
    </li>
  );
}
