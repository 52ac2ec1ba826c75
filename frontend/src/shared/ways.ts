import { useQuery } from "@tanstack/react-query";
import { client, take, type Schemas } from "./api/client";

/** The ways of selling that the owner has. */
export function useWays() {
  return useQuery({ queryKey: ["ways"], queryFn: () => take(client.GET("/api/ways")) });
}

/** Their names by their keys, for a choice. */
export function wayNames(found: Schemas["WaysOut"] | undefined): Record<string, string> {
  return Object.fromEntries((found?.ways ?? []).map((it) => [it.id, it.name]));
}
