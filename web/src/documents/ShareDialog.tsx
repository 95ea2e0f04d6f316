import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { answer, api, type Schemas } from "../api/client";
import { sentence } from "../state/sentence";

type Share = Schemas["ShareOut"];
type May = Share["may"];
const MAY: Record<May, string> = { see: "sees it", edit: "changes it, too" };

/** With whom a document is shared, and what each may do. */
export function ShareDialog({ id, title, onClose }: { id: number; title: string; onClose: () => void }) {
  const queries = useQueryClient();
  const key = ["shares", id];
  const path = { path: { document_id: id } };
  const shares = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET("/api/documents/{document_id}/shares", { params: path })),
  });
  const people = useQuery({ queryKey: ["people"], queryFn: () => answer(api.GET("/api/teams/people")) }).data ?? [];
  const teams = useQuery({ queryKey: ["teams"], queryFn: () => answer(api.GET("/api/teams")) }).data ?? [];
  const [name, setName] = useState("");
  const [may, setMay] = useState<May>("see");
  const [fault, setFault] = useState("");
  const took = (all: Share[]) => {
    setFault("");
    queries.setQueryData(key, all);
    void queries.invalidateQueries({ queryKey: ["documents"] });
  };
  const refused = (error: Error) => setFault(sentence(error.message));
  const put = (whom: { name?: string; team?: number | null }, as: May) =>
    answer(
      api.PUT("/api/documents/{document_id}/shares", {
        params: path,
        body: { name: whom.name ?? "", team: whom.team ?? null, may: as },
      }),
    ).then(took, refused);
  const add = (event: FormEvent) => {
    event.preventDefault();
    const team = teams.find((one) => one.name === name);
    void put(team && !people.includes(name) ? { team: team.id } : { name: name.trim() }, may).then(() => setName(""));
  };
  const again = (one: Share, as: May) => {
    const team = teams.find((t) => t.name === one.name);
    void put(one.team ? { team: team?.id } : { name: one.name }, as);
  };
  const shared = new Set(shares.data?.map((one) => one.name));
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/25 p-6">
        <DialogPanel className="card w-full max-w-lg p-7">
          <DialogTitle className="font-serif text-2xl font-bold">Share “{title}”</DialogTitle>
          <form className="mt-4 flex gap-2" onSubmit={add}>
            <input
              className="field min-w-0 flex-1"
              aria-label="With whom"
              placeholder="somebody’s name, or a team’s"
              list="with-whom"
              value={name}
              autoFocus
              required
              onChange={(event) => setName(event.target.value)}
            />
            <datalist id="with-whom">
              {teams.map((one) => (
                <option key={`t ${one.id}`} value={one.name}>
                  {`team of ${one.members.length}`}
                </option>
              ))}
              {people
                .filter((one) => !shared.has(one))
                .map((one) => (
                  <option key={one} value={one} />
                ))}
            </datalist>
            <select
              className="field"
              aria-label="What they may do"
              value={may}
              onChange={(event) => setMay(event.target.value as May)}
            >
              <option value="see">to see</option>
              <option value="edit">to change</option>
            </select>
            <button className="button-main">Share</button>
          </form>
          <p role="alert" className="min-h-6 pt-1 text-coral-text">
            {fault}
          </p>
          <ul aria-label="Shared with">
            {shares.data?.map((one) => (
              <li key={one.id} className="flex min-h-11 items-center gap-2 border-b border-line/60 last:border-0">
                <span className="min-w-0 flex-1 truncate">
                  {one.name}
                  {one.team && <span className="text-soft">, a team</span>}
                </span>
                <select
                  className="field py-1"
                  aria-label={`What ${one.name} may do`}
                  value={one.may}
                  onChange={(event) => again(one, event.target.value as May)}
                >
                  {Object.entries(MAY).map(([as, said]) => (
                    <option key={as} value={as}>
                      {said}
                    </option>
                  ))}
                </select>
                <button
                  className="button px-2"
                  aria-label={`Share it with ${one.name} no more`}
                  onClick={() =>
                    void answer(
                      api.DELETE("/api/documents/{document_id}/shares/{share_id}", {
                        params: { path: { document_id: id, share_id: one.id } },
                      }),
                    ).then(took, refused)
                  }
                >
                  no more
                </button>
              </li>
            ))}
          </ul>
          {shares.data?.length === 0 && (
            <p className="text-soft">
              Only you see it. Whoever sees it can export it and duplicate it; whoever changes it works in it with you,
              at the same time.
            </p>
          )}
          <button className="button mt-5 -ml-3" onClick={onClose}>
            Done
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
