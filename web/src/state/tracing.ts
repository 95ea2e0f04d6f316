/** Contours traced by the server, with how far it has come. */
import { useStore } from "./store";

export interface Tracing {
  share: number;
  stop: () => void;
}

/** Trace a contour. Resolves to what was wrong, to "left" when it was stopped, or to null. */
export async function trace(
  object: string,
  contour: Record<string, unknown>,
  tell: (tracing: Tracing) => void,
): Promise<string | null> {
  const id = useStore.getState().id;
  const stopping = new AbortController();
  const token = document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] ?? "";
  try {
    const answer = await fetch(`/api/documents/${id}/trace`, {
      method: "POST",
      signal: stopping.signal,
      headers: { "Content-Type": "application/json", "X-CSRFToken": token },
      body: JSON.stringify({ object, contour }),
    });
    if (!answer.ok || !answer.body)
      return (
        ((await answer.json().catch(() => null)) as { message?: string } | null)?.message ??
        "The contour could not be traced. Nothing was changed."
      );
    const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
    let rest = "";
    for (;;) {
      const { value, done } = await reader.read();
      if (done) return "The server stopped before the contour was found. Nothing was changed.";
      const lines = (rest + value).split("\n");
      rest = lines.pop()!;
      for (const line of lines.filter(Boolean)) {
        const step = JSON.parse(line) as { share: number; done: boolean; fault: string | null };
        if (step.done) return step.fault ? `${step.fault[0].toUpperCase()}${step.fault.slice(1)}.` : null;
        tell({ share: step.share, stop: () => stopping.abort() });
      }
    }
  } catch (error) {
    return stopping.signal.aborted
      ? "left"
      : `The contour could not be traced (${error instanceof Error ? error.message : String(error)}). Nothing was changed.`;
  }
}
