import type { Schemas } from "../../shared/api/client";

type Left = Pick<Schemas["TakeOutIn"], "action" | "purpose">;

/** How a thing leaves the stock, not by a sale; what is given away says what for, as the books keep that apart. */
export const LEAVES = {
  lose: { words: "lost", sent: { action: "lose", purpose: "gift" } },
  gift: { words: "given as a gift", sent: { action: "give_away", purpose: "gift" } },
  donation: { words: "donated", sent: { action: "give_away", purpose: "donation" } },
  giveaway: { words: "given to viewers", sent: { action: "give_away", purpose: "giveaway" } },
  publicity: { words: "given for publicity", sent: { action: "give_away", purpose: "publicity" } },
  send_back: { words: "sent back", sent: { action: "send_back", purpose: "gift" } },
} as const satisfies Record<string, { words: string; sent: Left }>;

export type Leaves = keyof typeof LEAVES;

/** The ways by their words, for a choice. */
export const LEAVE_WORDS = Object.fromEntries(
  Object.entries(LEAVES).map(([key, { words }]) => [key, words]),
) as Record<Leaves, string>;
