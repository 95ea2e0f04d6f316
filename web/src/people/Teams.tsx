import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { answer, api, type Schemas } from "../api/client";
import { say } from "../state/viewing";
import { sentence } from "../state/sentence";
import { typed } from "./Frame";
import { TeamLibrary } from "./TeamLibrary";

type Team = Schemas["TeamOut"];
const fault = (error: Error) => say(sentence(error.message), "fault");

/** The teams that one is in, with who else is, and what they share. */
export function TeamsPage({ name }: { name: string }) {
  const queries = useQueryClient();
  const teams = useQuery({ queryKey: ["teams"], queryFn: () => answer(api.GET("/api/teams")) });
  const people = useQuery({ queryKey: ["people"], queryFn: () => answer(api.GET("/api/teams/people")) }).data ?? [];
  const again = () => {
    void queries.invalidateQueries({ queryKey: ["teams"] });
    void queries.invalidateQueries({ queryKey: ["libraries"] });
    void queries.invalidateQueries({ queryKey: ["account"] });
  };
  const make = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    void answer(api.POST("/api/teams", { body: { name: typed(new FormData(form), "name") } })).then(() => {
      form.reset();
      again();
    }, fault);
  };
  return (
    <main className="mx-auto max-w-4xl px-8 py-9">
      <div className="flex items-end gap-3">
        <h1 className="flex-1 font-serif text-[34px] leading-tight font-bold">Teams</h1>
        <form className="flex gap-2" onSubmit={make}>
          <input
            className="field w-52"
            name="name"
            aria-label="Name of a new team"
            placeholder="a new team’s name"
            maxLength={80}
            required
          />
          <button className="button-main">Make it</button>
        </form>
      </div>
      {teams.isSuccess && teams.data.length === 0 && (
        <p className="mt-10 max-w-md font-serif text-lg leading-snug text-soft">
          You are in no team yet. A team shares documents, and a library of recipes, fonts, pictures and colours: make
          one, and take others into it.
        </p>
      )}
      {teams.data?.map((team) => (
        <OneTeam key={team.id} team={team} me={name} people={people} onDone={again} />
      ))}
      <datalist id="people">
        {people.map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
    </main>
  );
}

function OneTeam({ team, me, people, onDone }: { team: Team; me: string; people: string[]; onDone: () => void }) {
  const [ending, setEnding] = useState(false);
  const put = (name: string, keeper: boolean) =>
    void answer(
      api.PUT("/api/teams/{team_id}/members", { params: { path: { team_id: team.id } }, body: { name, keeper } }),
    ).then(onDone, fault);
  const out = (name: string) =>
    void answer(
      api.DELETE("/api/teams/{team_id}/members/{name}", { params: { path: { team_id: team.id, name } } }),
    ).then((said) => {
      say(sentence(said.message));
      onDone();
    }, fault);
  return (
    <section className="mt-10 border-t border-line pt-5" aria-label={team.name}>
      <div className="flex items-baseline gap-3">
        <h2 className="flex-1 font-serif text-2xl font-bold">{team.name}</h2>
        {team.members.length > 1 && (
          <button className="button" onClick={() => out(me)}>
            Leave it
          </button>
        )}
        {team.keeper &&
          (ending ? (
            <>
              <button
                className="button bg-coral-wash text-coral-text"
                onClick={() =>
                  void answer(api.DELETE("/api/teams/{team_id}", { params: { path: { team_id: team.id } } })).then(
                    (said) => {
                      say(sentence(said.message));
                      onDone();
                    },
                    fault,
                  )
                }
              >
                End “{team.name}”: nothing is shared with it then
              </button>
              <button className="button" onClick={() => setEnding(false)}>
                Keep it
              </button>
            </>
          ) : (
            <button className="button text-coral-text" onClick={() => setEnding(true)}>
              End it …
            </button>
          ))}
      </div>
      <ul className="mt-2 flex flex-wrap gap-2" aria-label={`In ${team.name}`}>
        {team.members.map((one) => (
          <li key={one.name} className="flex items-center gap-1 rounded-full bg-inset px-3 py-0.5">
            <span>
              {one.name}
              {one.keeper && <span className="text-soft">, keeps it</span>}
            </span>
            {team.keeper && one.name !== me && (
              <>
                {!one.keeper && (
                  <button className="button px-2 py-0 text-sm" onClick={() => put(one.name, true)}>
                    let keep
                  </button>
                )}
                <button
                  className="button px-2 py-0"
                  aria-label={`Take ${one.name} out of ${team.name}`}
                  title="Take out"
                  onClick={() => out(one.name)}
                >
                  ×
                </button>
              </>
            )}
          </li>
        ))}
        {team.keeper && (
          <li>
            <form
              className="flex gap-1"
              onSubmit={(event) => {
                event.preventDefault();
                const form = event.currentTarget;
                put(typed(new FormData(form), "name"), false);
                form.reset();
              }}
            >
              <input
                className="field w-40 py-0.5"
                name="name"
                list="people"
                aria-label={`Take somebody into ${team.name}`}
                placeholder={people.length > 1 ? "somebody’s name" : "nobody else is here"}
                required
              />
              <button className="button py-0.5">Take in</button>
            </form>
          </li>
        )}
      </ul>
      <TeamLibrary team={team.id} name={team.name} />
    </section>
  );
}
