import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode, useCallback, useEffect, useState } from "react";
import { createRoot } from "react-dom/client";
import { Refused, answer, api } from "./api/client";
import { Documents } from "./documents/Documents";
import { AccountPage } from "./people/Account";
import { Invited, NewPassword } from "./people/Entry";
import { Frame } from "./people/Frame";
import { TeamsPage } from "./people/Teams";
import { Jobs } from "./shell/Jobs";
import { Notices } from "./shell/Notices";
import { SignIn } from "./shell/SignIn";
import { Workshop } from "./shell/Workshop";
import { beginState } from "./state/begin";
import { takeUpJobs } from "./state/jobs";
import { say } from "./state/viewing";
import "./theme.css";

/** What cannot be read for a moment is asked for again; what is refused is not. */
const retry = (failed: number, error: Error) =>
  failed < 3 && !(error instanceof Refused && error.status >= 400 && error.status < 500);
const queries = new QueryClient({
  defaultOptions: { queries: { retry, retryDelay: (failed) => 300 * 2 ** failed } },
});

function useAddress(): [string, (to: string) => void] {
  const [address, setAddress] = useState(location.pathname);
  useEffect(() => {
    const changed = () => setAddress(location.pathname);
    addEventListener("popstate", changed);
    return () => removeEventListener("popstate", changed);
  }, []);
  const go = useCallback((to: string) => {
    history.pushState(null, "", to);
    setAddress(to);
  }, []);
  return [address, go];
}

function App() {
  const [name, setName] = useState<string | null | undefined>(undefined);
  const [address, go] = useAddress();
  const ask = useCallback(() => {
    answer(api.GET("/api/session")).then(
      (session) => setName(session.name ?? null),
      (error: Error) => {
        setName(null);
        say(error.message, "fault");
      },
    );
  }, []);
  useEffect(ask, [ask]);
  useEffect(() => {
    if (name) void takeUpJobs();
  }, [name]);
  const leave = async () => {
    await answer(api.DELETE("/api/session")).catch(() => undefined);
    queries.clear();
    go("/");
    setName(null);
  };
  if (name === undefined) return null;
  const invited = address.match(/^\/invited\/([\w-]+)$/);
  const reset = address.match(/^\/new-password\/([\w-]+)\/([\w-]+)$/);
  const came = () => {
    history.replaceState(null, "", "/");
    go("/");
    ask();
  };
  if (invited) return <Invited token={invited[1]} onDone={came} />;
  if (reset) return <NewPassword user={reset[1]} token={reset[2]} onDone={came} />;
  if (name === null) return <SignIn onDone={ask} />;
  const open = address.match(/^\/d\/(\d+)$/);
  if (open)
    return (
      <>
        <Workshop
          id={Number(open[1])}
          onLeave={() => {
            void queries.invalidateQueries({ queryKey: ["documents"] });
            document.title = "Nest Line";
            go("/");
          }}
        />
        <Jobs />
      </>
    );
  const at = ["/account", "/teams"].includes(address) ? address : "/";
  return (
    <Frame at={at} name={name} onGo={go} onSignOut={() => void leave()}>
      {at === "/account" ? (
        <AccountPage
          onGone={() => {
            queries.clear();
            go("/");
            setName(null);
          }}
        />
      ) : at === "/teams" ? (
        <TeamsPage name={name} />
      ) : (
        <Documents onOpen={(id) => go(`/d/${id}`)} />
      )}
      <Jobs />
      <Notices />
    </Frame>
  );
}

beginState();
createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <App />
    </QueryClientProvider>
  </StrictMode>,
);
