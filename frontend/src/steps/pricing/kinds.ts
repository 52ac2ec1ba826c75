import type { Schemas } from "../../shared/api/client";
import { asked, type CardKeys } from "../../shared/cardPages";

type Kind = Schemas["PriceOut"]["seen"][number]["kind"];

/** What a new price may change elsewhere. */
export const PRICED = ["price", "prices", "pasted", "fetch", "items", "release", "shelf", "answer"];

/** What kind of price was seen, as people say it. */
export const KINDS: Record<Kind, string> = {
  sold: "sold",
  auction: "auction",
  own: "own sale",
  ask: "asked",
  book_low: "book, low",
  book_high: "book, high",
};

/** Where a page of results of a card is pasted. */
export function pasteOf(card: CardKeys): string {
  return `/pricing/-/paste?${asked(card)}`;
}

/** Where prices of a card are fetched. */
export function fetchOf(card: CardKeys): string {
  return `/pricing/-/fetch?scope=card&${asked(card)}`;
}
