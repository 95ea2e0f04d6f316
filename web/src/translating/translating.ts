/** Copy that goes out to be translated and comes home. */
import { create } from "zustand";
import { base64 } from "../api/base64";
import { act, answer, api, post, type Schemas } from "../api/client";
import { download, follow } from "../state/jobs";
import { sentence } from "../state/sentence";
import { edit } from "../state/sending";
import { useStore } from "../state/store";
import { say, askOver } from "../state/viewing";

export type Home = Schemas["HomecomingOut"];
export type Translated = Schemas["TranslatedOut"];
export interface Order {
  source: string;
  target: string;
  what: "all" | "new";
}
interface File {
  name: string;
  content: string;
}

interface State {
  /** How far each version is, of a revision of a document. */
  states: { id: number; revision: number; versions: Translated[] } | null;
  /** What is looked at before it is taken, and the file that it came in. */
  home: { file: File; found: Home } | null;
  busy: boolean;
}

export const useTranslating = create<State>(() => ({ states: null, home: null, busy: false }));

const here = () => `/api/documents/${useStore.getState().id}`;

/** How far each version is; asked again when the document has changed. */
export async function askStates() {
  const { id, revision } = useStore.getState();
  const known = useTranslating.getState().states;
  if (id === null || (known?.id === id && known.revision === revision)) return;
  try {
    const found = api.GET("/api/documents/{document_id}/translations", { params: { path: { document_id: id } } });
    useTranslating.setState({ states: { id, revision, versions: await answer(found) } });
  } catch {
    useTranslating.setState({ states: null }); // it is told with the next change
  }
}

/** How far a version is, in words; nothing where all of it is done. */
export function stateSaid(states: State["states"], version: string): string | null {
  const found = states?.versions.find((one) => one.version === version);
  if (!found) return null;
  const parts = [found.new && `${found.new} new`, found.stale && `${found.stale} changed`].filter(Boolean);
  return parts.length ? parts.join(", ") : null;
}

/** Have a file for translators. */
export async function sendOut(form: "xliff" | "csv", order: Order) {
  try {
    await download(`${here()}/translations/out/${form}?${new URLSearchParams({ ...order })}`);
    say("The file is made. Bring it home here when it is translated.");
  } catch (error) {
    say((error as Error).message, "fault");
  }
}

/** Send copy to the stand-in for a translation desk, and look at what comes home. */
export async function sendToDesk(order: Order, seconds: number, fails: boolean) {
  const id = useStore.getState().id;
  try {
    const given = { ...order, seconds, fails };
    const job = await follow(
      await post<Schemas["JobOut"]>(`${here()}/translations/desk`, given),
      "At the translation desk",
    );
    if (job.state === "failed") return say(sentence(job.said), "fault");
    if (job.state !== "done" || !job.url) return;
    if (useStore.getState().id !== id)
      return say("A translation has come home to another document; open it and send again.");
    await comeHome(new globalThis.File([await (await fetch(job.url)).blob()], job.name), order.target);
  } catch (error) {
    say((error as Error).message, "fault");
  }
}

/** Ask for a file that came home. */
export function chooseTranslation() {
  document.getElementById("translation-file")?.click();
}

/** Look at a file that came home: what it changes, and what cannot be taken. Nothing is changed yet. */
export async function comeHome(given: globalThis.File, version: string | null = null) {
  if (given.size > 30_000_000) return say(`“${given.name}” is larger than 30 MB.`, "fault");
  useTranslating.setState({ busy: true });
  try {
    const file = { name: given.name, content: await base64(given) };
    const found = await post<Home>(`${here()}/translations/home`, { ...file, version });
    useTranslating.setState({ home: { file, found } });
    askOver("home");
  } catch (error) {
    say((error as Error).message, "fault");
  } finally {
    useTranslating.setState({ busy: false });
  }
}

/** Take what came home: those changes alone, and show the version. */
export async function take(only: string[]) {
  const { home } = useTranslating.getState();
  if (!home) return;
  askOver(null);
  useTranslating.setState({ home: null });
  const given = { ...home.file, version: home.found.version, only };
  await edit(act("take-translation", given), "Take a translation");
}
