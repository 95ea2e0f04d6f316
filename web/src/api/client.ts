/** The typed API. Errors become `Refused`, with a message in the user's words. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type ObjectScene = Schemas["ObjectScene"];
export type NestScene = Schemas["NestScene"];
export type ShapeScene = Schemas["ShapeScene"];
export type SceneOut = Schemas["SceneOut"];
export type Face = Schemas["FaceOut"];
/** What the core works out: it comes back as plain operations. */
export type Act = { do: "act"; act: string; given: Record<string, unknown> };
export type Operation = Act | Plain;
export type Plain = {
  do: "put" | "cut" | "splice";
  at: (string | number)[];
  value?: unknown;
  from?: number;
  remove?: number;
  insert?: unknown[];
};

/** An edit of one act. */
export function act(name: string, given: Record<string, unknown>): Operation[] {
  return [{ do: "act", act: name, given }];
}

export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly path: string | null = null,
    readonly collisions: Schemas["CollisionOut"][] = [],
    /** Whether whoever asks may not do that, signed in or not. */
    readonly barred = false,
  ) {
    super(message);
  }
}

function csrf(): string {
  return document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] ?? "";
}

export const api = createClient<paths>({ baseUrl: location.origin });
api.use({
  onRequest({ request }) {
    request.headers.set("X-CSRFToken", csrf());
    return request;
  },
});

/** The answer's content; throws Refused. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result;
  try {
    result = await call;
  } catch {
    throw new Refused("The server does not answer. Nothing is lost here; it is tried again with your next change.", 0);
  }
  if (result.response.ok && result.data !== undefined) return result.data;
  throw refusal(result.response.status, result.error);
}

function refusal(status: number, error: unknown): Refused {
  const said = (error ?? {}) as {
    message?: string;
    code?: string;
    path?: string | null;
    collisions?: Schemas["CollisionOut"][];
  };
  if (status === 401)
    return new Refused(said.message ?? "You are signed out. Sign in again; your work is stored.", status);
  if (status === 413) return new Refused("The file is too large.", status);
  const message = said.message ?? "The server could not do that. Nothing was changed.";
  return new Refused(message, status, said.path ?? null, said.collisions ?? [], said.code === "barred");
}

/** Posts JSON or a form without the typed client's copying: for previews, edits and uploads. */
export async function post<T>(address: string, body: unknown): Promise<T> {
  const form = body instanceof FormData;
  let response;
  try {
    response = await fetch(address, {
      method: "POST",
      headers: { "X-CSRFToken": csrf(), ...(form ? {} : { "Content-Type": "application/json" }) },
      body: form ? body : JSON.stringify(body),
    });
  } catch {
    throw new Refused("The server does not answer. Your last change is not stored yet.", 0);
  }
  if (response.ok) return (await response.json()) as T;
  throw refusal(response.status, await response.json().catch(() => null));
}
