import { keepLooks } from "../parts/view";
import { closed } from "../state/opening";
import { useEffect, useState } from "react";
import { answer, api, type Refused, type Schemas } from "../api/client";
import { Bench } from "../bench/Bench";
import { Galley } from "../galley/Galley";
import { loadLibrary } from "../recipes/library";
import { RuleSentence } from "../sentence/RuleSentence";
import { absentSaid, chooseFonts } from "../state/fonts";
import { completed, opened } from "../state/opening";
import { queueOf } from "../state/sending";
import { useStore } from "../state/store";
import { say } from "../state/viewing";
import { live } from "../state/live";
import { WINDOW } from "../state/window";
import { Collided } from "./Collided";
import { SignInAgain } from "./SignIn";
import { Tally } from "../tally/Tally";
import { Announcer } from "./Announcer";
import { Asked } from "./Asked";
import { ContextMenu } from "./ContextMenu";
import { Notices } from "./Notices";
import { Side } from "./Side";
import { useShortcuts } from "./shortcuts";
import { TopBar } from "./TopBar";
import { FindingsCard } from "./FindingsCard";
import { followFindings } from "../findings/findings";
import { followStrain } from "../strain/strain";
import { TryThis } from "./TryThis";

async function load(id: number) {
  // First what a window that was closed, or this one before it was loaded again, could not store.
  await Promise.race([queueOf(id).takeUp(), new Promise((on) => setTimeout(on, 4000))]);
  const ask = async (first: boolean) =>
    (await answer(
      api.GET("/api/documents/{document_id}", {
        params: { path: { document_id: id }, query: { first, window: WINDOW } },
      }),
    )) as unknown as Schemas["OpenOut"];
  const [document, faces] = await Promise.all([
    ask(true),
    answer(api.GET("/api/fonts", { params: { query: { document: id } } })),
  ]);
  opened(document, faces);
  void loadLibrary().catch(() => undefined); // recipes are offered once they are there
  // The pages behind the first follow; what was changed meanwhile is asked for again.
  while (useStore.getState().id === id && !useStore.getState().complete) completed(await ask(false));
  const absent = absentSaid(useStore.getState().scene);
  if (absent) say(absent, "fault", { label: "Bring the font", run: chooseFonts });
}

/** The screen: galley, bench, tally, and the sentence at its foot. */
export function Workshop({ id, onLeave }: { id: number; onLeave: () => void }) {
  const ready = useStore((s) => s.id === id);
  const clean = useStore((s) => s.clean);
  const writing = useStore((s) => s.tool.kind === "copy");
  const title = useStore((s) => s.document?.title);
  const [fault, setFault] = useState<Refused | null>(null);
  useShortcuts();
  useEffect(() => {
    setFault(null);
    load(id).catch(setFault);
    return closed;
  }, [id]);
  useEffect(() => {
    if (!ready) return;
    let end = () => {};
    let over = false;
    answer(api.GET("/api/session")).then(
      (session) => !over && (end = live(id, session.live ?? "")),
      () => undefined,
    );
    return () => ((over = true), end());
  }, [id, ready]);
  useEffect(() => (ready ? followFindings() : undefined), [ready]);
  useEffect(followStrain, []);
  useEffect(keepLooks, []);
  useEffect(() => {
    document.title = title ? `${title} · Nest Line` : "Nest Line";
  }, [title]);
  if (fault)
    return (
      <main className="grid min-h-full place-items-center">
        <div className="card max-w-md p-8">
          <p className="text-lg">{fault.message}</p>
          <button className="button-main mt-4" onClick={onLeave}>
            All documents
          </button>
        </div>
      </main>
    );
  if (!ready) return <p className="p-8 text-soft">Opening …</p>;
  return (
    <main className="flex h-full flex-col">
      <h1 className="sr-only">{title || "Untitled"}</h1>
      <TopBar onLeave={onLeave} />
      <div className="flex min-h-0 flex-1">
        <Side which="galley" reachable={writing}>
          <Galley />
        </Side>
        <div className="relative min-h-0 min-w-0 flex-1">
          <Bench />
          <TryThis />
        </div>
        <FindingsCard />
        <Side which="tally">
          <Tally />
        </Side>
      </div>
      {!clean && <RuleSentence />}
      <Notices />
      <Collided />
      <SignInAgain />
      <Asked />
      <ContextMenu />
      <Announcer />
    </main>
  );
}
