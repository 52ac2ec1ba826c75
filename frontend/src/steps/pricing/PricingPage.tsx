import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { priceOf } from "../../shared/cardPages";
import { CardSearch } from "../../shared/CardSearch";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { count, day, gain, money } from "../../shared/format";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useAct } from "../../shared/useAct";
import { plain } from "../../shared/VerdictLine";
import { cardColumn } from "./CardLink";

type Next = Schemas["NextUpOut"];
type Seen = Schemas["LookedUpOut"];

const keyOf = ({ card }: Next | Seen) => card.version;
const CARD = cardColumn<Next | Seen>(({ card }) => card);
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

type Changed = Schemas["ChangedOut"];

const CHANGED: Column<Changed>[] = [
  cardColumn(({ card }) => card),
  { key: "release", name: "Release", cell: ({ card }) => card.release_title },
  { key: "state", name: "State", cell: (row) => row.state },
  { key: "held", name: "held", kind: "figure", cell: (row) => count(row.held) },
  { key: "before", name: "was", kind: "figure", cell: (row) => money(row.before) },
  { key: "now", name: "is", kind: "figure", cell: (row) => money(row.now) },
  {
    key: "change",
    name: "all copies",
    kind: "figure",
    cell: (row) => (row.change === null ? "" : gain(Number(row.change))),
  },
];

/** What changed in the prices of what is held since the owner looked last. */
function SinceThen() {
  const found = useQuery({
    queryKey: ["prices", "changes"],
    queryFn: () => take(client.GET("/api/prices/changes")),
  });
  const put = (body: Schemas["SeenIn"]) => take(client.PUT("/api/prices/changes/seen", { body }));
  const seen = useAct((before: string | null) => put({ never: false }).then(() => before), {
    keys: ["prices"],
    text: "From now on what changes stands here.",
    undo: (_, before) => put(before === null ? { never: true } : { at: before, never: false }),
  });
  if (!found.data) return null;
  const { verdict, rows, all_of, currency, since } = found.data;
  return (
    <Section
      title="Changed since you looked"
      point={all_of > rows.length ? `the first ${rows.length} of ${count(all_of)}, ${currency}` : currency}
    >
      <Box sx={{ py: 1 }}>
        <b>{plain(verdict.sentence)}</b> {plain(verdict.rests_on)}
      </Box>
      {rows.length > 0 && (
        <DataTable
          label="Changed since you looked"
          rows={rows.slice(0, FEW)}
          columns={CHANGED}
          keyOf={(row) => `${row.card.version} ${row.state}`}
          empty=""
        />
      )}
      <Button
        color="inherit"
        variant="outlined"
        disabled={seen.isPending}
        onClick={() => seen.mutate(since)}
        sx={{ mt: 0.5 }}
      >
        {since === null ? "Begin to watch" : "I have seen them"}
      </Button>
    </Section>
  );
}

const FEW = 12;

/** Where pricing begins: what to look up next, any card by its number or subject, and what was looked up last. */
export default function PricingPage() {
  const navigate = useNavigate();
  const [typed, setTyped] = useState("");
  const found = useQuery({ queryKey: ["prices"], queryFn: () => take(client.GET("/api/prices")) });
  useKey("v", "paste a page of results", () => void navigate("/pricing/-/paste"));
  useKey("t", "bring in a table of prices", () => void navigate("/pricing/-/table"));
  useKey("f", "fetch prices", () => void navigate("/pricing/-/fetch"));
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
          <Link to="/pricing/-/table">or bring in a table</Link> <Key>T</Key>{" "}
          <Link to="/pricing/-/fetch">or fetch them</Link> <Key>F</Key>
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
      <SinceThen />
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
        <Link to="/pricing/-/borrowed">Borrowed values</Link>: what hardly sells, by its mates; all of it
        together, and what to look up. <Link to="/pricing/-/beside">Cards side by side</Link>: a set at a
        glance, raw against graded. <Link to="/pricing/-/trade">A trade</Link>, evened out. What a price nets,
        and what to list a card at, is worked out with <Link to="/settings">your ways of selling</Link>.
      </Aside>
    </PageTitle>
  );
}
