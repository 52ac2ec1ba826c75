import type { QueryClient } from "@tanstack/react-query";

/**
 * Ask anew what a change may have made wrong. A question still under way was asked before the change, so its answer is
 * not waited for: the cache alone would take it for the newest. What nobody looks at is dropped where `drop` says so,
 * so that an outdated figure is not shown even while the new one is on its way.
 */
export async function askAnew(queries: QueryClient, keys: readonly string[], drop = false): Promise<void> {
  if (drop) for (const key of keys) queries.removeQueries({ queryKey: [key], type: "inactive" });
  await Promise.all(
    keys.map(async (key) => {
      await queries.cancelQueries({ queryKey: [key] });
      await queries.invalidateQueries({ queryKey: [key] });
    }),
  );
}
