import { client, take, type Schemas } from "../../shared/api/client";
import { counted } from "../../shared/format";
import { useAct } from "../../shared/useAct";
import { keyed, useOnce } from "../../shared/useOnce";
import { PRICED } from "./kinds";

/** Takes back what came in together. */
export function takeBack(batch: number | null) {
  return take(client.DELETE("/api/prices/batches/{batch}", { params: { path: { batch: batch ?? 0 } } }));
}

/** Keeps the results of a page that are taken, once, with what takes them back. */
export function useKeepPage(market: string | null, done: () => void) {
  const once = useOnce();
  return useAct(
    (rows: Schemas["RowIn"][]) =>
      take(client.POST("/api/prices/page", { body: { market, rows }, ...keyed(once.key()) })),
    {
      keys: PRICED,
      text: ({ added }) => `${counted(added, "price")} kept.`,
      undo: (_, { batch }) => takeBack(batch),
      done: () => {
        once.made();
        done();
      },
    },
  );
}
