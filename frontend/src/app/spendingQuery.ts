import { useQuery } from "@tanstack/react-query";
import { client, take } from "../shared/api/client";

export const SPENDING = ["spending"];

/** This month's spending against the limit: what the frame and the desk show, apart from the form that notes it. */
export function useSpending() {
  return useQuery({ queryKey: SPENDING, queryFn: () => take(client.GET("/api/spending")) });
}
