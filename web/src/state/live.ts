/** What this window is told of the others that the document is open in, and tells them. */
import { answer, api, Refused, type Schemas } from "../api/client";
import type { Other } from "./model/opened";
import { catchUp, knowMay, knowWindows } from "./opening";
import { useStore } from "./store";
import { say as notice } from "./viewing";
import { WINDOW } from "./window";

type Told =
  | { what: "ready"; revision: number }
  | { what: "changed"; revision: number; window: string }
  | { what: "again" }
  | { what: "shared" }
  | ({ what: "here" | "hello" | "gone" } & Omit<Other, "seen">);

const EVERY = 30_000;
const FORGOTTEN = 75_000;

/** Listen to a document's stream, and say where this window is; gives what ends that. */
export function live(id: number, address: string): () => void {
  let last = "";
  let soon: ReturnType<typeof setTimeout> | undefined;
  const say = (more: { hello?: boolean; gone?: boolean } = {}) => {
    const { page, selected, others } = useStore.getState();
    const chosen = selected ? [selected, ...others].slice(0, 20) : [];
    last = JSON.stringify([page, chosen]);
    const body = { window: WINDOW, page, chosen, gone: false, hello: false, ...more };
    void answer(
      api.POST("/api/documents/{document_id}/here", { params: { path: { document_id: id } }, body, keepalive: true }),
    ).catch(() => undefined);
  };
  const missed = async () => {
    const known = useStore.getState().revision;
    if (useStore.getState().id === id) await catchUp(known + 1).catch(() => undefined);
  };
  /** What one may do with it has changed, maybe. */
  const lookAgain = async () => {
    try {
      const { may, owner } = (await answer(
        api.GET("/api/documents/{document_id}", { params: { path: { document_id: id }, query: { first: true } } }),
      )) as unknown as Schemas["OpenOut"];
      const before = useStore.getState().may;
      if (useStore.getState().id !== id || before === may) return;
      knowMay(may, owner);
      notice(
        may === "see"
          ? `${owner} lets you see this document, not change it any more.`
          : `${owner} lets you change this document.`,
      );
    } catch (error) {
      if (!(error instanceof Refused) || error.status !== 404 || useStore.getState().id !== id) return;
      knowMay("see", useStore.getState().owner);
      notice("This document is not shared with you any more.");
    }
  };
  const told = (event: Told) => {
    if (useStore.getState().id !== id) return;
    if (event.what === "ready") void catchUp(event.revision);
    else if (event.what === "again") void missed();
    else if (event.what === "shared") void lookAgain();
    else if (event.what === "changed") {
      if (event.window !== WINDOW) void catchUp(event.revision);
    } else if (event.window !== WINDOW) {
      const { windows } = useStore.getState();
      const rest = windows.filter((one) => one.window !== event.window);
      const { window, who, page, chosen } = event;
      const here = { window, who, page, chosen, seen: Date.now() };
      knowWindows(event.what === "gone" ? rest : [...rest, here].sort((a, b) => (a.window < b.window ? -1 : 1)));
      if (event.what === "hello") say();
    }
  };
  const source = new EventSource(`${address}/live/${id}`, { withCredentials: true });
  source.onmessage = (message) => told(JSON.parse(message.data as string) as Told);
  source.onopen = () => say({ hello: true });
  const unsubscribe = useStore.subscribe((state) => {
    if (
      state.id !== id ||
      JSON.stringify([state.page, state.selected ? [state.selected, ...state.others].slice(0, 20) : []]) === last ||
      soon
    )
      return;
    soon = setTimeout(() => {
      soon = undefined;
      if (useStore.getState().windows.length) say();
    }, 400);
  });
  const timer = setInterval(() => {
    say();
    const now = useStore.getState().windows;
    const open = now.filter((one) => Date.now() - one.seen < FORGOTTEN);
    if (open.length < now.length) knowWindows(open);
  }, EVERY);
  const gone = () => say({ gone: true });
  addEventListener("pagehide", gone);
  return () => {
    source.close();
    unsubscribe();
    clearInterval(timer);
    clearTimeout(soon);
    removeEventListener("pagehide", gone);
    gone();
  };
}
