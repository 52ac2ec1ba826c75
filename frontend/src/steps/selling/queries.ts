import { queryOptions, type QueryClient } from "@tanstack/react-query";
import { client, take, type Schemas } from "../../shared/api/client";

export type Order = Schemas["OrderOut"];
export type OrderRow = Schemas["OrderRowOut"];
export type Stage = Order["stage"];
export type Packing = Schemas["PackingOut"];
export type Supply = Schemas["SupplyOut"];

/** What a sale, a parcel or a supply may have made wrong elsewhere. */
export const KEYS = ["orders", "items", "books", "parcels", "supplies"];

/** How far an order is, in words. */
export const STAGES: Readonly<Record<Stage, string>> = {
  to_pack: "to pack",
  packed: "packed",
  sent: "on its way",
  complained: "complained of",
  done: "arrived",
  returned: "paid back",
  cancelled: "cancelled",
};

export function order(number: number) {
  return queryOptions({
    queryKey: ["orders", "one", number],
    queryFn: () => take(client.GET("/api/orders/{number}", { params: { path: { number } } })),
  });
}

/** What is done with an order that is to be packed is done one after another, each at the version left before. */
export const stepsOf = (number: number) => `steps of ${number}`;

export function versionOf(queries: QueryClient, it: Order): number {
  return (queries.getQueryData(order(it.number).queryKey) ?? it).version;
}

export function packing(number: number) {
  return queryOptions({
    queryKey: ["orders", "packing", number],
    queryFn: () =>
      take(client.GET("/api/orders/{number}/packing", { params: { path: { number }, query: {} } })),
  });
}

export function supplies() {
  return queryOptions({ queryKey: ["supplies"], queryFn: () => take(client.GET("/api/packing-supplies")) });
}
