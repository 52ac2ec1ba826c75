import type { Schemas } from "../../shared/api/client";

type Kind = Schemas["PriceOut"]["seen"][number]["kind"];

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
export function priceOf(card: { release: string; line: string; number: string; variant: string }): string {
  const asked = new URLSearchParams({ release: card.release, line: card.line, number: card.number });
  if (card.variant) asked.set("variant", card.variant);
  return `/pricing/-/card?${asked.toString()}`;
}
