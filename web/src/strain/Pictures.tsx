import { askOver } from "../state/viewing";
import { useState } from "react";
import { versionSaid } from "../parts/versions";
import { useStore } from "../state/store";

/** The document under more and more strain, as one page of small pictures to look at, to save and to show. */
export function StrainPictures() {
  const id = useStore((s) => s.id);
  const revision = useStore((s) => s.revision);
  const title = useStore((s) => s.document?.title ?? "");
  const copies = useStore((s) => s.document?.copies) ?? {};
  const own = useStore((s) => s.document?.showing ?? s.document?.language ?? "en");
  const versions = [...new Set(Object.values(copies).flatMap((c) => Object.keys(c.versions)))];
  const [version, setVersion] = useState(versions.includes(own) ? own : (versions[0] ?? own));
  const [state, setState] = useState<"making" | "made" | "failed">("making");
  const [said, setSaid] = useState("");
  const url = `/api/documents/${id}/strain/pictures?${new URLSearchParams({ version, revision: String(revision) })}`;
  const failed = async () => {
    setState("failed");
    const answered = await fetch(url).catch(() => null);
    const told = (await answered?.json().catch(() => null)) as { message?: string } | null;
    setSaid(told?.message ?? "The server does not answer.");
  };
  return (
    <section aria-labelledby="strained-title" className="card flex max-h-full w-full max-w-5xl flex-col p-6">
      <div className="flex flex-wrap items-center gap-3">
        <h2 id="strained-title" className="flex-1 font-serif text-xl font-bold">
          Under strain
        </h2>
        {versions.length > 1 && (
          <select
            className="field"
            aria-label="Version"
            value={version}
            onChange={(event) => (setVersion(event.target.value), setState("making"))}
          >
            {versions.map((one) => (
              <option key={one} value={one}>
                {versionSaid(one)}
              </option>
            ))}
          </select>
        )}
      </div>
      <div
        className="mt-4 grid min-h-40 flex-1 place-items-center overflow-y-auto rounded-lg bg-inset p-2"
        tabIndex={0}
      >
        {state === "making" && <p className="text-soft">Setting it four times …</p>}
        {state === "failed" && <p className="text-coral-text">{said}</p>}
        <img
          key={url}
          src={url}
          alt={`“${title}” as it is, and with copy 15, 30 and 60 per cent longer`}
          className={`max-w-full ${state === "made" ? "" : "hidden"}`}
          onLoad={() => setState("made")}
          onError={() => void failed()}
        />
      </div>
      <div className="mt-4 flex gap-2">
        <a
          className={`button-main ${state === "made" ? "" : "pointer-events-none opacity-50"}`}
          href={url}
          download={`${title || "document"}-strain.png`}
        >
          Save the picture
        </a>
        <button className="button" onClick={() => askOver(null)}>
          Close
        </button>
      </div>
    </section>
  );
}
