import { queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { askAnew } from "../../shared/api/forget";
import { keyed } from "../../shared/useOnce";
import { useNotice } from "../../shared/notices";
import type { Opening } from "./entering";

export function useOpenings() {
  return useQuery({ queryKey: ["sessions"], queryFn: () => take(client.GET("/api/sessions")) });
}

export function useOpening(number: number) {
  return useQuery({
    queryKey: ["sessions", number],
    queryFn: () => take(client.GET("/api/sessions/{number}", { params: { path: { number } } })),
  });
}

/** The cards that a session's format can hold, by number or a bit of the subject. */
export function foundCards(number: number, find: string) {
  return queryOptions({
    queryKey: ["session-cards", number, find],
    queryFn: ({ signal }) =>
      take(
        client.GET("/api/sessions/{number}/cards", { params: { path: { number }, query: { find } }, signal }),
      ),
    staleTime: 60_000,
  });
}

/** What is done in a session; each answer is the session as it stands then. */
export function useOpeningActs(number: number) {
  const queries = useQueryClient();
  const say = useNotice();
  const path = { number };
  const keep = async (answer: Promise<Opening>): Promise<Opening> => {
    const found = await answer;
    await queries.cancelQueries({ queryKey: ["sessions", number] }); // asked before this was done
    queries.setQueryData(["sessions", number], found);
    return found;
  };
  const loudly = async (answer: Promise<Opening>, keys: string[] = []) => {
    try {
      await keep(answer);
      void askAnew(queries, ["desk", ...keys]);
    } catch (error) {
      say({ text: inWords(error), isError: true });
    }
  };
  return {
    totals: (body: Schemas["TotalsIn"], key: string) =>
      keep(take(client.POST("/api/sessions/{number}/totals", { params: { path }, body, ...keyed(key) }))),
    pause: () => loudly(take(client.POST("/api/sessions/{number}/pause", { params: { path } }))),
    drop: () => loudly(take(client.DELETE("/api/sessions/{number}", { params: { path } })), ["sessions"]),
    goOn: () => loudly(take(client.POST("/api/sessions/{number}/go-on", { params: { path } })), ["sessions"]),
    reopen: () =>
      loudly(take(client.POST("/api/sessions/{number}/reopen", { params: { path } })), [
        "items",
        "books",
        "purchases",
      ]),
    finish: async (body: Schemas["FinishIn"]) => {
      await keep(take(client.POST("/api/sessions/{number}/finish", { params: { path }, body })));
      void askAnew(queries, ["desk", "items", "books", "purchases"]);
    },
  };
}
