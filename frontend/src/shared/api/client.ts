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

const withToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", token);
    return request;
  },
};

export const client = createClient<paths>({ baseUrl: "/" });
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
    throw new ProblemError({
      type: "about:blank",
      title: "No answer",
      status: 0,
      detail: "Tobbix does not answer. Is it still running?",
      faults: [],
    });
  }
  if (found.response.ok) return found.data as T;
  const problem = found.error as Problem | undefined;
  throw new ProblemError(
    problem && typeof problem === "object" && "detail" in problem
      ? problem
      : {
          type: "about:blank",
          title: found.response.statusText,
          status: found.response.status,
          detail: `The server refused it (${found.response.status}).`,
          faults: [],
        },
  );
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
