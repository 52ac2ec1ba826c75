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

/** The formats of all releases, to choose what was bought. */
export function useFormats() {
  return useQuery({
    queryKey: ["shelf"],
    queryFn: () => take(client.GET("/api/releases")),
    select: (shelf) =>
      shelf.releases.flatMap((release) =>
        release.formats.map((format) => ({
          release: release.id,
          format: format.id,
          name: `${release.title}, ${format.name}`,
          price: format.price,
        })),
      ),
  });
}
