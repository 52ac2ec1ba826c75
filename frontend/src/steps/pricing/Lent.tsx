import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { client, take } from "../../shared/api/client";
import type { CardKeys } from "../../shared/cardPages";
import { count, day, money } from "../../shared/format";
import { Section } from "../../shared/Section";

interface Props {
  card: CardKeys;
  state: string;
  /** How many sales of its own count. */
  used: number;
  currency: string;
}

const ENOUGH = 3;

/** What a card that hardly sells is worth by its line, its subject and its state, with how honest that is. */
export function Lent({ card, state, used, currency }: Props) {
  const query = { ...card, variant: card.variant ?? "", state, window: 90 };
  const found = useQuery({
    queryKey: ["prices", "borrowed", query],
    queryFn: () => take(client.GET("/api/prices/borrowed", { params: { query } })),
  });
  const lent = found.data?.lent;
  if (!lent) return null;
  return (
    <Section
      title="Borrowed from its mates"
      point={
        used >= ENOUGH
          ? "its own sales are enough, so this does not count"
          : "until three sales of its own say more"
      }
    >
      <Box>
        About <b>{money(lent.amount)}</b> {currency}, in 8 cases of 10 from {money(lent.low)} to{" "}
        {money(lent.high)};{" "}
        {lent.own_sales ? `${count(lent.own_sales)} sales of its own in it` : "no sale of its own in it"}. As
        of {day(lent.day)}.
      </Box>
      <Box sx={{ fontSize: 13, color: "text.secondary" }}>
        {lent.honesty} <Link to="/pricing/-/borrowed">What it leans on</Link>
      </Box>
    </Section>
  );
}
