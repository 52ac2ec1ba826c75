import { client, take, type Schemas } from "./api/client";
import { useAct } from "./useAct";

/** Whether long work waits for its turn or runs. */
export function isAlive(task: Pick<Schemas["TaskOut"], "state"> | null | undefined): boolean {
  return task?.state === "waiting" || task?.state === "running";
}

const KEPT: Readonly<Record<string, string>> = {
  revalue: "What was valued until then was kept.",
  borrow: "What was lent until then was kept.",
  markets: "What a market did or said until then was kept.",
  fetch: "What had come in was kept.",
};

/** What is said of long work of a kind that was stopped. */
export function stoppedOf(kind: string): string {
  return `Stopped. ${KEPT[kind] ?? "Nothing was kept of it."}`;
}

/** Stop a piece of long work, by its number; `keys` are asked anew. */
export function useStop(keys: readonly string[]) {
  return useAct(
    (number: number) => take(client.POST("/api/tasks/{number}/stop", { params: { path: { number } } })),
    { keys: [...keys, "tasks"] },
  );
}
