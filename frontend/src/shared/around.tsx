import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { MemoryRouter } from "react-router";
import { client } from "./api/client";
import { NoticeProvider, Notices } from "./notices";

/** For tests: what stands around a part of a page, with `queries` that do not ask again what failed. */
export function around(
  queries = new QueryClient({ defaultOptions: { queries: { retry: false } } }),
  at = "/",
) {
  return function Around({ children }: { children: ReactNode }) {
    return (
      <QueryClientProvider client={queries}>
        <NoticeProvider>
          <MemoryRouter initialEntries={[at]}>{children}</MemoryRouter>
          <Notices />
        </NoticeProvider>
      </QueryClientProvider>
    );
  };
}

type Sent = { params?: { path?: Record<string, unknown> }; body?: unknown };

/** For tests: the server, as `answer` says: data, or a problem to refuse with; what was asked stands in `asked`. */
export function serverThat(answer: (method: string, path: string, sent: Sent) => unknown) {
  const asked: { method: string; path: string; sent: Sent }[] = [];
  for (const method of ["GET", "POST", "PUT", "DELETE"] as const) {
    vi.spyOn(client, method).mockImplementation((async (path: string, sent: Sent = {}) => {
      asked.push({ method, path, sent });
      const said = await answer(method, path, sent);
      if (said instanceof Refused) {
        const { status, detail, faults } = said;
        return { error: { status, detail, faults }, response: new Response(null, { status }) };
      }
      return { data: said, response: new Response() };
    }) as never);
  }
  return asked;
}

/** For tests: a refusal of the server, by the faults of its fields. */
export class Refused {
  readonly faults: { field: string; message: string }[];

  constructor(
    faults: Readonly<Record<string, string>>,
    readonly status = 422,
    readonly detail = "",
  ) {
    this.faults = Object.entries(faults).map(([field, message]) => ({ field, message }));
  }
}
