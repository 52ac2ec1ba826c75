import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { priceOf } from "../../shared/cardPages";
import type { Column } from "../../shared/DataTable";

type Card = Schemas["FoundOut"];

/** A card in a table, as words. */
export function cardWords(card: Card): string {
  return `${card.subject}, ${card.line_name} ${card.number}${card.variant ? ` (${card.variant})` : ""}`;
}

/** A card in a table, leading to its prices. */
export function CardLink({ card }: { card: Card }) {
  return <Link to={priceOf(card)}>{cardWords(card)}</Link>;
}

/** The column of a table that says which card a row is of; nothing where that is not known. */
export function cardColumn<Row>(cardOf: (row: Row) => Card | undefined): Column<Row> {
  return {
    key: "card",
    name: "Card",
    cell: (row) => {
      const card = cardOf(row);
      return card ? <CardLink card={card} /> : "";
    },
    text: (row) => {
      const card = cardOf(row);
      return card ? cardWords(card) : "";
    },
  };
}
