import { useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "./api/client";

/** The day by the server's calendar, which decides what is still to come. */
export function useToday(): string {
  const session = useQueryClient().getQueryData<Schemas["SessionOut"]>(["session"]);
  return session?.today ?? new Date().toISOString().slice(0, 10);
}
