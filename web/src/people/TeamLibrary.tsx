import { useQuery, useQueryClient } from "@tanstack/react-query";
import type { FormEvent, ReactNode } from "react";
import { answer, api, type Schemas } from "../api/client";
import { say } from "../state/viewing";
import { sentence } from "../state/sentence";
import { typed } from "./Frame";

type Kind = Schemas["GiveIn"]["kind"];
const fault = (error: Error) => say(sentence(error.message), "fault");

/** What a team shares beside documents: each member gives of their own; colours are the team's. */
export function TeamLibrary({ team, name }: { team: number; name: string }) {
  const queries = useQueryClient();
  const { data: all, isError: lost } = useQuery({
    queryKey: ["libraries"],
    queryFn: () => answer(api.GET("/api/libraries")),
  });
  const { data: mine, isError: lostToo } = useQuery({
    queryKey: ["libraries", "mine"],
    queryFn: () => answer(api.GET("/api/libraries/mine")),
  });
  const library = all?.find((one) => one.team === team);
  const again = () => void queries.invalidateQueries({ queryKey: ["libraries"] });
  if (lost || lostToo)
    return (
      <p role="alert" className="mt-3 text-sm text-coral-text">
        What this team shares could not be read.{" "}
        <button className="font-bold underline" onClick={again}>
          Read it again
        </button>
      </p>
    );
  if (!library || !mine) return null;
  const give = (kind: Kind, what: string, on = true) =>
    void answer(
      api.PUT("/api/libraries/{team_id}", {
        params: { path: { team_id: team } },
        body: { kind, name: what, give: on },
      }),
    ).then(again, fault);
  const color = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const given = new FormData(form);
    void answer(
      api.PUT("/api/libraries/{team_id}/colors", {
        params: { path: { team_id: team } },
        body: { name: typed(given, "name"), figure: typed(given, "figure") },
      }),
    ).then(() => {
      form.reset();
      again();
    }, fault);
  };
  const shared = {
    recipe: new Set(library.recipes.map((one) => one.name)),
    font: new Set(library.fonts.map((one) => one.name)),
    picture: new Set(library.pictures.map((one) => one.file)),
  };
  const offer = (kind: Kind, from: { value: string; said: string }[]) => (
    <Offer
      label={`Give a ${kind} to ${name}`}
      from={from.filter((one) => !shared[kind].has(one.value))}
      onGive={(value) => give(kind, value)}
    />
  );
  return (
    <>
      <p className="mt-4 text-sm text-soft">
        What a member gives, all of the team can use; it stays theirs, and goes with them.
      </p>
      <div className="mt-3 grid gap-x-10 gap-y-6 md:grid-cols-2">
        <Shelf
          head="Recipes"
          empty={
            mine.recipes.length
              ? "None yet."
              : "None yet. Keep one in your library first: in a document, where its frame follows it."
          }
        >
          {library.recipes.map((one) => (
            <Given
              key={one.name}
              what={one.name}
              by={one.by}
              onBack={one.mine ? () => give("recipe", one.name, false) : null}
            />
          ))}
          {offer(
            "recipe",
            mine.recipes.map((one) => ({ value: one, said: one })),
          )}
        </Shelf>
        <Shelf
          head="Fonts"
          empty={
            mine.fonts.length ? "None yet." : "None yet. Bring one in first: in a document, where fonts are chosen."
          }
        >
          {library.fonts.map((one) => (
            <Given
              key={one.name}
              what={one.name}
              by={one.by}
              onBack={one.mine ? () => give("font", one.name, false) : null}
            />
          ))}
          {offer(
            "font",
            mine.fonts.map((one) => ({ value: one, said: one })),
          )}
        </Shelf>
        <Shelf
          head="Pictures"
          empty={mine.pictures.length ? "None yet." : "None yet. Bring one into a document first."}
        >
          {library.pictures.map((one) => (
            <Given
              key={one.file}
              what={
                <span className="flex items-center gap-2.5">
                  <img
                    src={`${one.url}/small`}
                    alt=""
                    loading="lazy"
                    className="h-9 w-12 rounded bg-inset object-contain"
                  />
                  {one.name}
                </span>
              }
              by={one.by}
              onBack={one.mine ? () => give("picture", one.file, false) : null}
            />
          ))}
          {offer(
            "picture",
            mine.pictures.map((one) => ({ value: one.file, said: one.name })),
          )}
        </Shelf>
        <Shelf head="Colours" empty="None yet.">
          {library.colors.map((one) => (
            <Given
              key={one.name}
              what={
                <span className="flex items-center gap-2.5">
                  <span className="size-5 rounded-full border border-edge" style={{ background: one.figure }} />
                  {one.name} <span className="text-sm text-soft">{one.figure}</span>
                </span>
              }
              onBack={() =>
                void answer(
                  api.DELETE("/api/libraries/{team_id}/colors/{name}", {
                    params: { path: { team_id: team, name: one.name } },
                  }),
                ).then(again, fault)
              }
            />
          ))}
          <form className="mt-1.5 flex gap-2" onSubmit={color}>
            <input
              className="field w-36 py-0.5"
              name="name"
              aria-label={`Name of a colour for ${name}`}
              placeholder="its name"
              maxLength={60}
              required
            />
            <input
              className="field h-8 w-12 p-1"
              type="color"
              name="figure"
              aria-label="Its figure"
              defaultValue="#2f6f8f"
            />
            <button className="button py-0.5">Keep it</button>
          </form>
        </Shelf>
      </div>
    </>
  );
}

function Shelf({ head, empty, children }: { head: string; empty: string; children: ReactNode[] }) {
  const [things, more] = [children[0] as ReactNode[], children[1]];
  return (
    <div>
      <h3 className="eyebrow">{head}</h3>
      {things.length ? <ul className="mt-1">{things}</ul> : <p className="py-1 text-sm text-soft">{empty}</p>}
      {more}
    </div>
  );
}

function Given({ what, by, onBack }: { what: ReactNode; by?: string; onBack: (() => void) | null }) {
  return (
    <li className="flex min-h-9 items-center gap-2 border-b border-line/60">
      <span className="min-w-0 flex-1 truncate">{what}</span>
      {by && <span className="text-sm text-soft">{by}</span>}
      {onBack && (
        <button className="button px-2 py-0 text-sm" onClick={onBack}>
          take back
        </button>
      )}
    </li>
  );
}

function Offer({
  label,
  from,
  onGive,
}: {
  label: string;
  from: { value: string; said: string }[];
  onGive: (value: string) => void;
}) {
  if (!from.length) return null;
  return (
    <select
      className="field mt-1.5 max-w-full py-0.5"
      aria-label={label}
      value=""
      onChange={(event) => event.target.value && onGive(event.target.value)}
    >
      <option value="">give one of yours …</option>
      {from.map((one) => (
        <option key={one.value} value={one.value}>
          {one.said}
        </option>
      ))}
    </select>
  );
}
