import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { answer, api, type Schemas } from "../api/client";
import { say } from "../state/viewing";
import { sentence } from "../state/sentence";
import { Field, Part, Row, typed, when } from "./Frame";

/** Links by which others make an account of their own; administrators have them. */
export function Invitations({ teams }: { teams: Schemas["TeamOfOut"][] }) {
  const queries = useQueryClient();
  const open = useQuery({ queryKey: ["invitations"], queryFn: () => answer(api.GET("/api/account/invitations")) }).data;
  const [made, setMade] = useState<Schemas["InvitationOut"] | null>(null);
  const again = () => void queries.invalidateQueries({ queryKey: ["invitations"] });
  const fault = (error: Error) => say(sentence(error.message), "fault");
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const given = new FormData(form);
    const team = Number(typed(given, "team"));
    void answer(
      api.POST("/api/account/invitations", {
        body: { name: typed(given, "name"), email: typed(given, "email"), team: team || null },
      }),
    ).then((row) => {
      setMade(row);
      form.reset();
      again();
    }, fault);
  };
  return (
    <Part
      head="Invite somebody"
      said="By a link that is good once, for 14 days. With an address it is sent there, too."
    >
      <form className="flex flex-wrap items-end gap-2" onSubmit={submit}>
        <Field label="Name" size="w-40" name="name" maxLength={60} placeholder="theirs to choose" />
        <Field label="E-mail" size="w-56" name="email" type="email" />
        {teams.length > 0 && (
          <label>
            <span className="mb-1 block text-sm font-bold">Into team</span>
            <select className="field" name="team" defaultValue="">
              <option value="">none</option>
              {teams.map((team) => (
                <option key={team.id} value={team.id}>
                  {team.name}
                </option>
              ))}
            </select>
          </label>
        )}
        <button className="button-main">Make a link</button>
      </form>
      {made && (
        <div className="mt-4 rounded-lg bg-slot-wash p-3" role="status">
          <p className="text-sm">
            The link{made.name && ` for ${made.name}`}; it is shown this once
            {made.email && `, and sent to ${made.email}`}.
          </p>
          <div className="mt-1.5 flex items-center gap-2">
            <input
              className="field min-w-0 flex-1 text-sm"
              aria-label="Link"
              readOnly
              value={made.link}
              onFocus={(e) => e.target.select()}
            />
            <button
              className="button"
              onClick={() => void navigator.clipboard.writeText(made.link).then(() => say("The link is copied."))}
            >
              Copy
            </button>
          </div>
        </div>
      )}
      <ul className="mt-3">
        {open?.map((one) => (
          <Row
            key={one.id}
            what={one.name || one.email || "Somebody"}
            about={[one.email, one.team && `into ${one.team}`, `good until ${when(one.ends)}`]
              .filter(Boolean)
              .join(" · ")}
          >
            <button
              className="button"
              onClick={() =>
                void answer(
                  api.DELETE("/api/account/invitations/{invitation_id}", {
                    params: { path: { invitation_id: one.id } },
                  }),
                ).then(again, fault)
              }
            >
              Take it back
            </button>
          </Row>
        ))}
      </ul>
    </Part>
  );
}
