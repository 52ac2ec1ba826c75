import { useQuery } from "@tanstack/react-query";
import { client, take, type Schemas } from "../../shared/api/client";

/** What a change to a purchase may change elsewhere. */
export const KEYS = ["purchases", "items", "books", "sessions"];

export type Purchase = Schemas["PurchaseOut"];

export function usePurchases() {
  return useQuery({ queryKey: ["purchases"], queryFn: () => take(client.GET("/api/purchases")) });
}

export function usePurchase(number: number) {
  return useQuery({
    queryKey: ["purchases", number],
    queryFn: () => take(client.GET("/api/purchases/{number}", { params: { path: { number } } })),
  });
}
