import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { count, gain, money, percent } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { useAddress } from "../../shared/useAddress";
import { keyed, useOnce } from "../../shared/useOnce";
import { GraderChoice, useAsked } from "./GraderChoice";
import { GradingTabs } from "./GradingTabs";
import { Habits } from "./Habits";
import { KEYS, worth, type WorthRow } from "./queries";
import { inOrder } from "./ordering";

const AT_ONCE = 50;

const COLUMNS: Column<WorthRow>[] = [
  {
    key: "name",
    name: "Card",
    sort: "name",
    cell: (row) => (
      <>
        <Link to={`/grading/-/card/${row.item}`}>{row.name}</Link>
        {row.owner && " (a friend’s)"}
        {row.keeps && " (never for sale)"}
        {row.draft !== null && (
          <>
            {" "}
            (in <Link to={`/grading/${row.draft}`}>a draft</Link>)
          </>
        )}
      </>
    ),
    text: (row) => row.name,
  },
  {
    key: "known",
    name: "by",
    cell: (row) => BY[row.by],
  },
  {
    key: "raw",
    name: "raw",
    kind: "figure",
    sort: "raw",
    cell: (row) => (row.raw === null ? "unknown" : money(row.raw)),
  },
  { key: "gem", name: "top grade", kind: "figure", sort: "gem", cell: (row) => percent(row.gem) },
  { key: "even", name: "pays from", kind: "figure", sort: "even", cell: (row) => evenOf(row.even) },
  { key: "gain", name: "gain", kind: "figure", sort: "gain", cell: (row) => gain(row.gain) },
  {
    key: "loss",
    name: "raw was better",
    kind: "figure",
    sort: "loss",
    cell: (row) => (row.loss === null ? "" : percent(row.loss)),
  },
  {
    key: "per_month",
    name: "a month",
    kind: "figure",
    sort: "per_month",
    cell: (row) => (row.per_month === null ? "" : gain(row.per_month)),
  },
  {
    key: "per_tied",
    name: "per unit tied up",
    kind: "figure",
    sort: "per_tied",
    cell: (row) => (row.per_tied === null ? "" : gain(row.per_tied)),
  },
];

const BY: Record<WorthRow["by"], string> = {
  said: "your word",
  pictures: "pictures",
  population: "population",
  nothing: "a guess",
};

function evenOf(even: number | null): string {
  if (even === null) return "";
  return even <= 0 ? "always" : even > 1 ? "never" : percent(even);
}

/** Which of the raw cards that are here are worth grading, as a table to choose from. */
export default function WorthPage() {
  const asked = useAsked();
  const navigate = useNavigate();
  const [params, change] = useAddress();
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const once = useOnce();
  const found = useQuery({ ...worth(asked), placeholderData: keepPreviousData });
  const make = useAct(
    ({ grader, tier }: { grader: number; tier: string }) =>
      take(
        client.POST("/api/submissions", {
          body: { grader, cards: [...chosen].map((item) => ({ item, tier, declared: null })) },
          ...keyed(once.key()),
        }),
      ),
    {
      keys: KEYS,
      done: ({ number }) => {
        once.made();
        void navigate(`/grading/${number}`);
      },
    },
  );
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  const by = params.get("by") ?? "gain";
  const descending = params.get("way") !== "up";
  const start = Number(params.get("from")) || 0;
  const rows = inOrder(data.rows, by as keyof WorthRow, descending);
  const names = new Map(rows.map((row) => [row.item, row.name]));
  const sum = rows.reduce((all, row) => all + (chosen.has(row.item) ? (row.gain ?? 0) : 0), 0);
  return (
    <PageTitle
      title="Worth grading"
      verdict={data.verdict}
      crumbs={[{ name: "Grading", to: "/grading" }, { name: "Worth grading" }]}
    >
      <GradingTabs />
      <GraderChoice grader={data.grader} tier={data.tier} />
      <Section
        title="Raw cards that are here"
        point={`${money(data.cost)} ${data.currency} a card, with its part of the parcels`}
      >
        {chosen.size > 0 && (
          <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, mb: 1 }}>
            <Button
              variant="contained"
              disabled={make.isPending}
              onClick={() => make.mutate({ grader: data.grader, tier: data.tier })}
            >
              Draft a submission of {count(chosen.size)}
            </Button>
            <span>{gain(sum)} in all before parcels</span>
          </Box>
        )}
        <DataTable
          label="Cards that may be graded"
          rows={rows.slice(start, start + AT_ONCE)}
          columns={COLUMNS}
          keyOf={(row) => row.item}
          sorting={{
            by,
            descending,
            set: (next, down) => change({ by: next, way: down ? null : "up", from: null }),
          }}
          paging={{
            start,
            take: AT_ONCE,
            total: rows.length,
            more: start + AT_ONCE < rows.length,
            set: (next) => change({ from: next ? String(next) : null }),
          }}
          selection={{ keys: chosen, set: setChosen, name: (key) => names.get(key) ?? "card" }}
          empty="No identified raw card lies here by itself."
        />
      </Section>
      <Habits />
    </PageTitle>
  );
}
