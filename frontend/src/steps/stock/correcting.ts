import { useQueryClient } from "@tanstack/react-query";
import { client, take, type Schemas } from "../../shared/api/client";
import { askAnew } from "../../shared/api/forget";
import { useAct } from "../../shared/useAct";

type Change = Partial<Omit<Schemas["ItemIn"], "version">>;

/** What is said of an item before a change, in the fields that the change names. */
function before(item: Schemas["ItemOut"], change: Change): Change {
  return Object.fromEntries(
    Object.keys(change).map((name) => [name, item[name as keyof Schemas["ItemOut"]] ?? null]),
  );
}

/** Sends a correction of an item at the version that this window has seen by then. */
function useSending() {
  const queries = useQueryClient();
  return (item: Schemas["ItemOut"], change: Change) => {
    const shown = queries.getQueryData<Schemas["ItemOut"]>(["items", "one", String(item.number)]);
    const listed = queries
      .getQueriesData<Schemas["ItemsOut"]>({ queryKey: ["items"] })
      .flatMap(([, found]) => (Array.isArray(found?.items) ? found.items : []))
      .filter((row) => row.number === item.number);
    const version = Math.max(item.version, shown?.version ?? 0, ...listed.map((row) => row.version));
    return take(
      client.PUT("/api/items/{number}", {
        params: { path: { number: item.number } },
        body: { version, ...change } as Schemas["ItemIn"],
      }),
    );
  };
}

interface Correction {
  item: Schemas["ItemOut"];
  change: Change;
}

/** Corrections are sent one after another, each on what the one before left; each can be taken back. */
function useCorrecting(quiet: boolean) {
  const queries = useQueryClient();
  const send = useSending();
  return useAct(({ item, change }: Correction) => send(item, change), {
    keys: ["items"],
    scope: "items",
    quiet,
    undo: async ({ item, change }) => {
      await askAnew(queries, ["items"]); // its version as it is by then
      await send(item, before(item, change));
      await askAnew(queries, ["items"]);
    },
    told: ({ item }) => `Kept: ${item.name}.`,
  });
}

/** Correct what is said of one item. */
export function useCorrection(item: Schemas["ItemOut"]) {
  const correct = useCorrecting(false);
  return { ...correct, mutate: (change: Change) => correct.mutate({ item, change }) };
}

/** Correct what is said of items in a list, each where it stands; a refusal is its cell's. */
export function useCorrections() {
  const correct = useCorrecting(true);
  return (item: Schemas["ItemOut"], change: Change) => correct.mutateAsync({ item, change });
}
