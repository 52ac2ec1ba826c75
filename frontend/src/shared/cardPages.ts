/** How a card is named by keys. */
export interface CardKeys {
  release: string;
  line: string;
  number: string;
  variant?: string | undefined;
}

/** A card's keys in an address. */
export function asked({ release, line, number, variant }: CardKeys): string {
  return new URLSearchParams({ release, line, number, ...(variant ? { variant } : {}) }).toString();
}

/** The page of a card's prices. */
export function priceOf(card: CardKeys): string {
  return `/pricing/-/card?${asked(card)}`;
}
