import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { count, day, gain, money } from "../../shared/format";
import { useKey } from "../../shared/keys/useKey";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { useAddress } from "../../shared/useAddress";
import { ValueField } from "../../shared/ValueField";
import { STAGES, type OrderRow, type Stage } from "./queries";
import { Payouts } from "./Payouts";
import { SellingTabs } from "./SellingTabs";

const TAKE = 50;

function whereItIs(row: OrderRow): string {
  if (row.complaint) return `complains: ${row.complaint}`;
  if (row.stage === "sent" && row.sent_on)
    return `sent ${day(row.sent_on)}${row.due_on ? `, due ${day(row.due_on)}` : ""}`;
  if (row.stage === "done" && row.received_on) return `arrived ${day(row.received_on)}`;
  return STAGES[row.stage];
}

const COLUMNS: Column<OrderRow>[] = [
  {
    key: "order",
    name: "Order",
    cell: (row) => (
      <Box component="span" sx={LINE}>
        <Link to={`/selling/${row.document}`}>{row.reference}</Link>
      </Box>
    ),
    text: (row) => row.reference,
  },
  { key: "day", name: "sold", kind: "day", cell: (row) => day(row.day) },
  {
    key: "buyer",
    name: "to",
    cell: (row) => (
      <Box component="span" sx={LINE}>
        {row.buyer}
      </Box>
    ),
    text: (row) => row.buyer ?? "",
  },
  {
    key: "what",
    name: "what",
    cell: (row) => (
      <Box component="span" title={row.names} sx={CUT}>
        {row.things === 1 ? row.names : `${count(row.things)}: ${row.names}`}
      </Box>
    ),
    text: (row) => row.names,
  },
  {
    key: "where",
    name: "where it is",
    cell: (row) => (row.stage === "complained" ? <b>{whereItIs(row)}</b> : whereItIs(row)),
    text: whereItIs,
  },
  {
    key: "paid",
    name: "paid",
    kind: "figure",
    cell: (row) => `${money(row.paid)} ${row.currency}`,
  },
  {
    key: "profit",
    name: "made",
    kind: "figure",
    cell: (row) => (row.profit === null ? "" : gain(Number(row.profit))),
  },
];
const LINE = { whiteSpace: { sm: "nowrap" } } as const;
const CUT = {
  display: "-webkit-box",
  WebkitLineClamp: 2,
  WebkitBoxOrient: "vertical",
  overflow: "hidden",
} as const;

/** Orders: what is to be packed today, what is on its way, who complains, and what each made. */
export default function SellingPage() {
  const [params, change] = useAddress();
  const navigate = useNavigate();
  useKey("n", "write down a sale", () => void navigate("/selling/-/new"));
  const stage = (params.get("stage") ?? "") as Stage | "";
  const find = params.get("find") ?? "";
  const start = Number(params.get("start")) || 0;
  const found = useQuery({
    queryKey: ["orders", "list", stage, find, start],
    queryFn: ({ signal }) =>
      take(
        client.GET("/api/orders", {
          params: { query: { ...(stage ? { stage } : {}), find, start } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  const many = Object.fromEntries(data.counts.map((it) => [it.stage, it.count]));
  const total = stage ? many[stage] : undefined;
  return (
    <PageTitle title="Selling" verdict={data.verdict}>
      <SellingTabs />
      <FieldRow>
        <ChoiceBox
          label="Show"
          value={stage}
          set={(value) => change({ stage: value, start: null })}
          choices={{
            "": "all of them",
            ...Object.fromEntries(
              Object.entries(STAGES).map(([key, name]) => [key, `${name} (${count(many[key] ?? 0)})`]),
            ),
          }}
          width={180}
        />
        <ValueField
          label="Find"
          value={find}
          commit={(text) => change({ find: text, start: null })}
          hint="number, buyer or what was sold"
          width={240}
        />
      </FieldRow>
      <Section title="Orders" point="the newest first">
        <DataTable
          label="Orders"
          rows={data.orders}
          columns={COLUMNS}
          keyOf={(row) => row.document}
          selection={{
            keys: chosen,
            set: setChosen,
            name: (key) => data.orders.find((it) => it.document === key)?.reference ?? "",
          }}
          paging={{
            start,
            take: TAKE,
            total: find ? undefined : (total ?? Object.values(many).reduce((sum, it) => sum + it, 0)),
            more: data.more,
            set: (at) => change({ start: String(at) }),
          }}
          empty={
            stage || find ? (
              "None like that."
            ) : (
              <>
                Nothing is sold yet. <Link to="/selling/-/new">Write down a sale</Link>, or choose things in{" "}
                <Link to="/stock">Stock</Link> and sell them there.
              </>
            )
          }
          foot={
            <>
              <Button variant="outlined" color="inherit" href="/api/orders/picking.pdf" download>
                What to fetch, by place (PDF)
              </Button>
              {chosen.size > 0 && (
                <Button
                  variant="outlined"
                  color="inherit"
                  href={`/api/orders/labels.pdf?orders=${[...chosen].join(",")}`}
                  download
                >
                  Labels of {count(chosen.size)} (PDF)
                </Button>
              )}
            </>
          }
        />
      </Section>
      <Payouts owed={data.owed} currency={data.currency} />
    </PageTitle>
  );
}
