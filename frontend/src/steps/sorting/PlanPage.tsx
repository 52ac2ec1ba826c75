import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import * as z from "zod/mini";
import { Answer } from "../../shared/Answer";
import { client, take } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { EntryRow } from "../../shared/forms/EntryRow";
import { CountField, MoneyField, WordsField } from "../../shared/forms/fields";
import { amount, maybeAmount, whole, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { count } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { StockTabs } from "../../shared/StockTabs";
import { useAddress } from "../../shared/useAddress";
import { keyed } from "../../shared/useOnce";
import { plain } from "../../shared/VerdictLine";
import { hours, type Plan, type Usual } from "./plans";

const COLUMNS: Column<Plan>[] = [
  { key: "name", name: "Plan", cell: (row) => <Link to={`/stock/-/plan/${row.number}`}>{row.name}</Link> },
  { key: "cards", name: "cards", kind: "figure", cell: (row) => count(row.cards) },
  { key: "said", name: "where it stands", cell: (row) => plain(row.verdict.sentence) },
  { key: "left", name: "left", kind: "figure", cell: (row) => hours(row.hours_left) },
];

/** All plans of sorting, and the beginning of one. */
export default function PlanPage() {
  const plans = useQuery({
    queryKey: ["sorting", "plans"],
    queryFn: () => take(client.GET("/api/sorting/plans")),
  });
  const usual = useQuery({
    queryKey: ["sorting", "usual"],
    queryFn: () => take(client.GET("/api/sorting/usual")),
  });
  if (!plans.data || !usual.data) return <Answer of={plans.data ? usual : plans} />;
  const rows = plans.data.plans;
  return (
    <PageTitle
      title="Plan the sorting"
      verdict={plans.data.verdict}
      crumbs={[{ name: "Stock", to: "/stock" }, { name: "Plan" }]}
    >
      <StockTabs />
      {rows.length > 0 && (
        <Section title="Plans" point="the newest first">
          <DataTable
            label="Plans of sorting"
            rows={rows}
            columns={COLUMNS}
            keyOf={(row) => row.number}
            empty="No plan yet."
          />
        </Section>
      )}
      <NewPlan usual={usual.data} />
    </PageTitle>
  );
}

const SHAPE = z.object({
  name: words,
  cards: whole,
  hourly: amount,
  expected: maybeAmount,
});

function NewPlan({ usual }: { usual: Usual }) {
  const navigate = useNavigate();
  const [params] = useAddress();
  const item = Number(params.get("item")) || null;
  const thing = useQuery({
    queryKey: ["items", "one", String(item)],
    queryFn: () => take(client.GET("/api/items/{number}", { params: { path: { number: item ?? 0 } } })),
    enabled: item !== null,
  });
  if (item !== null && !thing.data) return <Answer of={thing} />;
  const known = thing.data;
  return (
    <Section title="A new plan" point="with the usual passes, that can be changed">
      {known && (
        <Box sx={{ mt: 0.5 }}>
          Of <Link to={`/stock/${known.number}`}>{known.name}</Link>: what is entered under it carries its
          cost in the end.{" "}
          <Button color="inherit" onClick={() => void navigate("/stock/-/plan")}>
            of nothing that was bought
          </Button>
        </Box>
      )}
      <Fields
        key={item}
        usual={usual}
        item={item}
        empty={{
          name: known?.name ?? "",
          cards: known?.kind === "stack" ? String(known.count) : (params.get("cards") ?? ""),
          hourly: Number(usual.hourly) > 0 ? usual.hourly : "",
          expected: known?.value ?? params.get("expected") ?? "",
        }}
      />
    </Section>
  );
}

interface FieldsProps {
  usual: Usual;
  item: number | null;
  /** What is known beforehand, from an offer or the thing that was bought. */
  empty: Record<"name" | "cards" | "hourly" | "expected", string>;
}

function Fields({ usual, item, empty }: FieldsProps) {
  const navigate = useNavigate();
  const { form, submit, busy, faults } = useEntry({
    draft: `a plan of ${item ?? empty.cards}`,
    empty,
    shape: SHAPE,
    send: (body, key) =>
      take(
        client.POST("/api/sorting/plans", {
          body: { ...body, version: 0, item, table: 12, box_holds: 800, passes: usual.passes },
          ...keyed(key),
        }),
      ),
    keys: ["sorting", "sorting sets"],
    done: ({ number }) => void navigate(`/stock/-/plan/${number}`),
  });
  const { control } = form;
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="Plan it" strong>
      <WordsField control={control} name="name" label="What it is" width={240} />
      <CountField control={control} name="cards" label="Cards, about" width={110} />
      <MoneyField control={control} name="hourly" label="An hour is worth" hint="0: for fun" />
      <MoneyField
        control={control}
        name="expected"
        label="Thought to be worth"
        hint="empty: not said"
        width={150}
      />
    </EntryRow>
  );
}
