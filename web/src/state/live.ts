/** What this window is told of the others that the document is open in, and tells them. */
import { answer, api } from "../api/client";
import { catchUp, type Other, useStore } from "./store";
import { WINDOW } from "./window";

type Told =
  | { what: "ready"; revision: number }
  | { what: "changed"; revision: number; window: string }
  | { what: "again" }
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
  const told = (event: Told) => {
    if (useStore.getState().id !== id) return;
    if (event.what === "ready") void catchUp(event.revision);
    else if (event.what === "again") void missed();
    else if (event.what === "changed") {
      if (event.window !== WINDOW) void catchUp(event.revision);
    } else if (event.window !== WINDOW) {
      const { windows } = useStore.getState();
      const rest = windows.filter((one) => one.window !== event.window);
      const { window, who, page, chosen } = event;
      useStore.setState({
        windows:
          event.what === "gone"
            ? rest
            : [...rest, { window, who, page, chosen, seen: Date.now() }].sort((a, b) => (a.window < b.window ? -1 : 1)),
      });
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
    if (open.length < now.length) useStore.setState({ windows: open });
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
