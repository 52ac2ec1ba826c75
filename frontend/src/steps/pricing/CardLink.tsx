import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { priceOf } from "./kinds";

type Card = Schemas["FoundOut"];

/** A card in a table, as words. */
export function cardWords(card: Card): string {
  return `${card.subject}, ${card.line_name} ${card.number}${card.variant ? ` (${card.variant})` : ""}`;
}

/** A card in a table, leading to its prices. */
export function CardLink({ card }: { card: Card }) {
  return <Link to={priceOf(card)}>{cardWords(card)}</Link>;
}
