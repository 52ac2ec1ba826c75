import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { CardSearch } from "../../shared/CardSearch";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { count, day, money } from "../../shared/format";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { priceOf } from "./kinds";

type Next = Schemas["NextUpOut"];
type Seen = Schemas["LookedUpOut"];

const named = ({ card }: Next | Seen) =>
  `${card.subject}, ${card.line_name} ${card.number}${card.variant ? ` (${card.variant})` : ""}`;
const keyOf = ({ card }: Next | Seen) => card.version;
const CARD = {
  key: "card",
  name: "Card",
  cell: (row: Next | Seen) => <Link to={priceOf(row.card)}>{named(row)}</Link>,
  text: named,
};
const RELEASE = { key: "release", name: "Release", cell: (row: Next | Seen) => row.card.release_title };

const NEXT: Column<Next>[] = [
  CARD,
  RELEASE,
  { key: "count", name: "held", kind: "figure", cell: (row) => count(row.count) },
  {
    key: "worth",
    name: "worth of all",
    kind: "figure",
    cell: (row) => (row.worth === null ? "unknown" : money(row.worth)),
  },
  { key: "why", name: "Why", cell: (row) => row.why },
];

const SEEN: Column<Seen>[] = [
  CARD,
  RELEASE,
  { key: "count", name: "prices seen", kind: "figure", cell: (row) => count(row.count) },
  {
    key: "price",
    name: "goes for",
    kind: "figure",
    cell: (row) => (row.card.price === null ? "unknown" : money(row.card.price)),
  },
  { key: "day", name: "Newest", kind: "day", cell: (row) => day(row.day) },
];

/** Where pricing begins: what to look up next, any card by its number or subject, and what was looked up last. */
export default function PricingPage() {
  const navigate = useNavigate();
  const [typed, setTyped] = useState("");
  const found = useQuery({ queryKey: ["prices"], queryFn: () => take(client.GET("/api/prices")) });
  useKey("v", "paste a page of results", () => void navigate("/pricing/-/paste"));
  useKey("t", "bring in a table of prices", () => void navigate("/pricing/-/table"));
  if (!found.data) return <Answer of={found} />;
  const { verdict, currency, waiting, next_up, seen } = found.data;
  return (
    <PageTitle title="Pricing" verdict={verdict} crumbs={[{ name: "Pricing" }]}>
      <FieldRow>
        <CardSearch
          label="A card, by number or subject"
          value={typed}
          type={setTyped}
          pick={(card) => void navigate(priceOf(card))}
          width={420}
        />
        <Box sx={{ alignSelf: "flex-end", pb: 0.75 }}>
          <Link to="/pricing/-/paste">or paste a page of results</Link> <Key>V</Key>{" "}
          <Link to="/pricing/-/table">or bring in a table</Link> <Key>T</Key>
        </Box>
      </FieldRow>
      <Section
        title="Look up next"
        point={
          waiting > next_up.length
            ? `the first ${next_up.length} of ${count(waiting)}, ${currency}`
            : currency
        }
      >
        <DataTable
          label="Look up next"
          rows={next_up}
          columns={NEXT}
          keyOf={keyOf}
          empty="Nothing that you hold wants a look."
        />
      </Section>
      <Section title="Looked up last" point={currency}>
        <DataTable
          label="Looked up last"
          rows={seen}
          columns={SEEN}
          keyOf={keyOf}
          empty="Find a card above, then type what it sold for."
        />
      </Section>
      <Aside>
        <Link to="/pricing/-/beside">Cards side by side</Link>: a set at a glance, raw against graded.{" "}
        <Link to="/pricing/-/trade">A trade</Link>, evened out. What a price nets, and what to list a card at,
        is worked out with <Link to="/settings">your ways of selling</Link>.
      </Aside>
    </PageTitle>
  );
}
