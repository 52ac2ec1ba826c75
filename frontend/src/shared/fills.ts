import { useQuery } from "@tanstack/react-query";
import { client, take, type Schemas } from "./api/client";

export type Coming = Schemas["ComingIn"];

/** What each of some cards would fill if it came in (a goal, a place on the target list), in words; "" for nothing. */
export function useFills(cards: readonly Coming[]): readonly string[] {
  const found = useQuery({
    queryKey: ["sorting", "fills", cards],
    queryFn: ({ signal }) => take(client.POST("/api/sorting/fills", { body: { cards: [...cards] }, signal })),
    enabled: cards.length > 0,
    staleTime: 30_000,
    placeholderData: (before) => (before?.cards.length === cards.length ? before : undefined),
  });
  return cards.map((_, at) => (found.data?.cards[at] ?? []).map((part) => part.text).join(""));
}
