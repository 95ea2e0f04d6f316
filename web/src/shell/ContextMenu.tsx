import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { type ReactNode, useEffect, useRef } from "react";
import { useShallow } from "zustand/react/shallow";
import { act } from "../api/client";
import { objectsAt } from "../bench/hand";
import { about as findingKey, faultsOf, read, useFindings } from "../findings/findings";
import { thingsOf } from "../state/document";
import { type About, useMenu } from "../parts/menu";
import { select } from "../state/choosing";
import { labelOf } from "../state/naming";
import { edit } from "../state/sending";
import { selectedThing, selection, useStore } from "../state/store";
import { type Deed, hinders } from "./deed";
import { deed, DEEDS } from "./deeds";
import { keysOf } from "./keys";

/** The menu on right click, the menu key and a long press: the acts that fit, and the parts of the sentence by name. */
export function ContextMenu() {
  const about = useMenu((s) => s.about);
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (!about) return;
    button.current?.click();
  }, [about]);
  return (
    <Menu>
      {({ open }) => (
        <>
          <MenuButton
            ref={button}
            tabIndex={-1}
            aria-hidden
            className="pointer-events-none fixed size-px opacity-0"
            style={{ left: about?.at[0] ?? 0, top: about?.at[1] ?? 0 }}
          />
          {open && about && (
            <MenuItems
              anchor={{ to: "bottom start", gap: 2, padding: 10 }}
              className="card z-50 flex max-w-[92vw] gap-1 overflow-y-auto p-1.5 text-sm"
              aria-label="What can be done"
            >
              <Content about={about} />
            </MenuItems>
          )}
        </>
      )}
    </Menu>
  );
}

function Content({ about }: { about: About }) {
  if (about.kind === "guide") return <GuideMenu about={about} />;
  if (about.kind === "page")
    return (
      <>
        <Deeds ids={["paste", "everything", "whole page", "chosen", "spread", "real size", "clean", "add page"]} />
        <Deeds
          head="The page"
          ids={DEEDS.filter((one) => one.id.startsWith("rule ") && one.head === "Page").map((o) => o.id)}
        />
      </>
    );
  return <ObjectMenu about={about} />;
}

function GuideMenu({ about }: { about: Extract<About, { kind: "guide" }> }) {
  const { page, axis, place } = about;
  return (
    <div className="w-52">
      <Item onDo={() => void edit(act("guide", { page, axis, old: place, new: null }), "Guide")}>
        Take this guide away
      </Item>
      <Item onDo={deed("rule guides").run}>Guides by figures</Item>
      <Item onDo={deed("rule catching").run}>What is moved catches on it</Item>
    </div>
  );
}

const ACTS = ["into", "duplicate", "copy", "cut", "paste", "delete", "group", "ungroup", "points"];
const ORDER = ["front", "forward", "backward", "back"];
const ALIKE = ["alike recipe", "alike fill", "alike outline"];

function ObjectMenu({ about }: { about: Extract<About, { kind: "object" | "words" }> }) {
  const [several, locked, hidden, frame] = useStore(
    useShallow((s) => {
      const thing = selectedThing(s);
      return [s.others.length > 0, !!thing?.locked, !!thing?.hidden, !!thing?.frame] as const;
    }),
  );
  const open = useStore((s) => s.document);
  const chosen = useStore((s) => s.selected);
  const wrong = faultsOf(
    useFindings((s) => s.found),
    chosen ?? "",
  );
  const here = about.kind === "object" && about.bench ? objectsAt(about.bench) : [];
  const rules = DEEDS.filter((one) => one.id.startsWith("rule ") && one.needs && !hinders(one) && one.head === "Rules");
  const acts =
    about.kind === "words"
      ? ["copy", "rule font", "rule size", "rule color", "rule align", "rule letters", "rule list", "rule language"]
      : [...ACTS, locked ? "unlock" : "lock", hidden ? "show" : "hide", "chosen"];
  return (
    <>
      <div className={wrong.length ? "max-w-64" : ""}>
        {wrong.length > 0 && (
          <div className="mb-1 border-b border-line pb-1">
            <Head>What is wrong with it</Head>
            {wrong.slice(0, 4).map((one) => (
              <Item key={findingKey(one)} onDo={() => read(one)}>
                {one.message}
              </Item>
            ))}
          </div>
        )}
        <Deeds ids={about.kind === "words" ? acts.filter((id) => id !== "copy") : acts} />
        {about.kind === "object" && (
          <div className="mt-1 grid grid-cols-2 border-t border-line pt-1">
            {ORDER.map((id) => (
              <Item key={id} onDo={deed(id).run}>
                {deed(id).name}
              </Item>
            ))}
          </div>
        )}
      </div>
      {about.kind === "object" && (
        <div>
          <Head>{several ? "Their rules" : "Its rules"}</Head>
          <div className="grid grid-cols-2">
            {rules.map((one) => (
              <Item key={one.id} onDo={one.run}>
                {one.name}
              </Item>
            ))}
          </div>
          <div className="mt-1 border-t border-line pt-1">
            {ALIKE.filter((id) => id !== "alike recipe" || (frame && selectedThing()?.recipe)).map((id) => (
              <Item key={id} onDo={deed(id).run}>
                {deed(id).name}
              </Item>
            ))}
          </div>
          {here.length > 1 && open && (
            <div className="mt-1 border-t border-line pt-1">
              <Head>Lying here, the front one first</Head>
              {here.slice(0, 8).map((id) => {
                const thing = thingsOf(open).find((one) => one.id === id);
                return (
                  <Item key={id} onDo={() => select(id, false, true)} on={selection().includes(id)}>
                    {thing ? labelOf(thing) : id}
                  </Item>
                );
              })}
            </div>
          )}
        </div>
      )}
    </>
  );
}

function Head({ children }: { children: ReactNode }) {
  return <h3 className="eyebrow px-3 pt-1.5 pb-0.5">{children}</h3>;
}

function Deeds({ ids, head }: { ids: string[]; head?: string }) {
  const can = ids.map(deed).filter((one: Deed) => !hinders(one));
  return (
    <div>
      {head && <Head>{head}</Head>}
      {can.map((one) => (
        <Item key={one.id} onDo={one.run} keys={keysOf(one)}>
          {one.name}
        </Item>
      ))}
    </div>
  );
}

function Item({ onDo, keys, on, children }: { onDo: () => void; keys?: string; on?: boolean; children: ReactNode }) {
  return (
    <MenuItem>
      <button
        className={`flex w-full items-baseline gap-4 rounded-md px-2.5 py-[3px] text-left text-[13px] data-focus:bg-slot-wash ${on ? "font-bold" : ""}`}
        onClick={() => setTimeout(onDo, 60)}
      >
        <span className="min-w-0 flex-1">{children}</span>
        {keys && <kbd className="shrink-0 font-sans text-xs text-soft">{keys}</kbd>}
      </button>
    </MenuItem>
  );
}
