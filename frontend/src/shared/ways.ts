import { useQuery } from "@tanstack/react-query";
import { client, take } from "./api/client";

/** The ways of selling that the owner has. */
export function useWays() {
  return useQuery({ queryKey: ["ways"], queryFn: () => take(client.GET("/api/ways")) });
}
