import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];

/** A refusal of the server, in its own words, with the faults that it named. */
export class ProblemError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

let token = "";

/** Keep the token that every changing request sends along. */
export function keepToken(fresh: string): void {
  token = fresh;
}

/** The token as it is now. */
export function currentToken(): string {
  return token;
}

const withToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", token);
    return request;
  },
};

const SESSION = "/api/session";
let back: { promise: Promise<void>; go: () => void } | null = null;
let heard: () => void = () => undefined;

/** Hear of it when a session has ended while somebody was at work. */
export function hearOfEnd(listener: () => void): () => void {
  heard = listener;
  return () => {
    heard = () => undefined;
  };
}

/** Let what waits for a session go on: there is one again, or the owner has left. */
export function goOn(): void {
  back?.go();
  back = null;
}

/** Wait until there is a session again; whoever signs in is asked for it. */
export function untilBack(): Promise<void> {
  if (back === null) {
    let go = () => {};
    const promise = new Promise<void>((resolve) => {
      go = resolve;
    });
    back = { promise, go };
    heard();
  }
  return back.promise;
}

/**
 * A request that finds its session ended waits until there is one again, and is sent once more: it was not carried out.
 * So the page stays as it is, with all that is typed on it.
 */
export async function patientFetch(request: Request): Promise<Response> {
  const again = request.clone();
  const response = await fetch(request);
  if (response.status !== 401 || new URL(request.url).pathname === SESSION) return response;
  await untilBack();
  if (again.method !== "GET") again.headers.set("X-CSRFToken", token);
  return fetch(again);
}

export const client = createClient<paths>({ baseUrl: "/", fetch: patientFetch });
client.use(withToken);

/** The data of a response, or its problem thrown. A server that cannot be reached is a problem too. */
export async function take<T>(
  answer: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let found: Awaited<typeof answer>;
  try {
    found = await answer;
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === "AbortError") throw cause;
    throw new ProblemError(problemOf(undefined, 0, ""));
  }
  if (found.response.ok) return found.data as T;
  throw new ProblemError(problemOf(found.error, found.response.status, found.response.statusText));
}

/** What was refused: in the server's own words, or in ours where it said none. Status 0 is no answer at all. */
export function problemOf(said: unknown, status: number, title: string): Problem {
  if (said && typeof said === "object" && "detail" in said) return said as Problem;
  const detail =
    status === 0 ? "Tobbix does not answer. Is it still running?" : `The server refused it (${status}).`;
  return { type: "about:blank", title: title || "No answer", status, detail, faults: [] };
}

/** A problem in words, whatever was thrown. */
export function inWords(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

/** The server's words about one field, without the field's name. */
export function faultOf(error: unknown): string {
  if (error instanceof ProblemError && error.problem.faults?.[0]) return error.problem.faults[0].message;
  return inWords(error);
}
