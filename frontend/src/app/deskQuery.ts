import { useQuery } from "@tanstack/react-query";
import { client, take } from "../shared/api/client";

/** What to do today, over all steps. The rail counts what stands here. */
export function useDesk() {
  return useQuery({ queryKey: ["desk"], queryFn: () => take(client.GET("/api/desk")) });
}
