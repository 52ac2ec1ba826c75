import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { CardSearch } from "../../shared/CardSearch";
import { DataTable, type Column } from "../../shared/DataTable";
import { count, day } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { priceOf } from "./kinds";

type Row = Schemas["SeenCardOut"];

const COLUMNS: Column<Row>[] = [
  {
    key: "card",
    name: "Card",
    cell: (row) => <Link to={priceOf(row)}>{`${row.subject}, ${row.line_name} ${row.number}`}</Link>,
    text: (row) => `${row.subject}, ${row.line_name} ${row.number}`,
  },
  { key: "release", name: "Release", cell: (row) => row.release_title },
  { key: "count", name: "prices seen", kind: "figure", cell: (row) => count(row.count) },
  { key: "day", name: "newest", kind: "day", cell: (row) => day(row.day) },
];

/** Where pricing begins: any card by its number or subject, and those that were priced last. */
export default function PricingPage() {
  const navigate = useNavigate();
  const [typed, setTyped] = useState("");
  const seen = useQuery({ queryKey: ["prices"], queryFn: () => take(client.GET("/api/prices")) });
  if (!seen.data) return <Answer of={seen} />;
  const { cards } = seen.data;
  return (
    <PageTitle
      title="Pricing"
      plain={
        cards.length === 0
          ? "No price of a card was looked up yet."
          : `${count(cards.length)} ${cards.length === 1 ? "card was" : "cards were"} looked up lately.`
      }
      crumbs={[{ name: "Pricing" }]}
    >
      <CardSearch
        label="A card, by number or subject"
        value={typed}
        type={setTyped}
        pick={(card) => void navigate(priceOf(card))}
        width={420}
      />
      <Aside>
        Or <Link to="/pricing/-/paste">paste a page of results</Link>, whichever cards it is about.
      </Aside>
      <Section title="Looked up" point="the newest first">
        <DataTable
          label="Looked up"
          rows={cards}
          columns={COLUMNS}
          keyOf={(row) => `${row.release} ${row.line} ${row.number} ${row.variant}`}
          empty="Find a card above, then type what it sold for."
        />
      </Section>
      <Aside>
        What a price nets, and what to list a card at, is worked out with{" "}
        <Link to="/settings">your ways of selling</Link>.
      </Aside>
    </PageTitle>
  );
}
