import { client, take, type Schemas } from "./api/client";
import { useAct } from "./useAct";

/** Whether long work waits for its turn or runs. */
export function isAlive(task: Pick<Schemas["TaskOut"], "state"> | null | undefined): boolean {
  return task?.state === "waiting" || task?.state === "running";
}

/** Stop a piece of long work, by its number; `keys` are asked anew. */
export function useStop(keys: readonly string[]) {
  return useAct(
    (number: number) => take(client.POST("/api/tasks/{number}/stop", { params: { path: { number } } })),
    { keys: [...keys, "tasks"] },
  );
}
