import type { Order } from "./queries";

type Line = Order["lines"][number];

/** By which number a thing is asked for: its card's, or its own where several cards share that. */
export function askedBy(line: Line, lines: readonly Line[]): string {
  const alike = lines.filter((it) => it.number === line.number).length;
  return line.number && alike === 1 ? line.number : String(line.item);
}

/** Which thing a typed number means: the thing's own, or its card's where only one of them has it. */
export function lineOf(typed: string, lines: readonly Line[]): Line | undefined {
  const text = typed.trim().toLowerCase();
  const own = lines.find((it) => String(it.item) === text);
  if (own) return own;
  const cards = lines.filter((it) => it.number?.toLowerCase() === text);
  return cards.length === 1 ? cards[0] : undefined;
}
