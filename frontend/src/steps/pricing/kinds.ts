import type { Schemas } from "../../shared/api/client";

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

/** The page of a card's prices. */
export function priceOf(card: Keys): string {
  return `/pricing/-/card?${asked(card)}`;
}

/** Where a page of results of a card is pasted. */
export function pasteOf(card: Keys): string {
  return `/pricing/-/paste?${asked(card)}`;
}

/** Where prices of a card are fetched. */
export function fetchOf(card: Keys): string {
  return `/pricing/-/fetch?scope=card&${asked(card)}`;
}

interface Keys {
  release: string;
  line: string;
  number: string;
  variant?: string | undefined;
}

function asked({ release, line, number, variant }: Keys): string {
  return new URLSearchParams({ release, line, number, ...(variant ? { variant } : {}) }).toString();
}
