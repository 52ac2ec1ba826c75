import { client, take, type Schemas } from "../../shared/api/client";
import { useAct } from "../../shared/useAct";

/** Correct what is said of an item; it names the version that this window has seen. */
export function useCorrection(item: Schemas["ItemOut"]) {
  return useAct(
    (change: Partial<Schemas["ItemIn"]>) =>
      take(
        client.PUT("/api/items/{number}", {
          params: { path: { number: item.number } },
          body: { version: item.version, ...change } as Schemas["ItemIn"],
        }),
      ),
    { keys: ["items"] },
  );
}
