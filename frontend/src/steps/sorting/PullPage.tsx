import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { count, counted, gain, money } from "../../shared/format";
import { readAmount } from "../../shared/forms/reading";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { StockTabs } from "../../shared/StockTabs";
import { useAddress } from "../../shared/useAddress";
import { ValueField } from "../../shared/ValueField";
import { plain } from "../../shared/VerdictLine";
import { OFF_PAPER } from "../../shared/print";

type SetPulls = Schemas["SetPullsOut"];
type Pulled = Schemas["PulledOut"];

/** An hour and a look as they are asked for, from the address; the habits where it says nothing. */
function useWork() {
  const [params, set] = useAddress();
  const figure = (name: string) => {
    const text = params.get(name);
    return text !== null && Number.isFinite(Number(text)) ? Number(text) : undefined;
  };
  const query = { hourly: figure("hourly"), look_up: figure("look_up") };
  return { query, set, suffix: params.toString() ? `?${params.toString()}` : "" };
}

function WorkFields({
  work,
  set,
}: {
  work: Schemas["WorkOut"];
  set: (change: Record<string, string>) => void;
}) {
  const [wrong, setWrong] = useState<{ field: string; text: string } | null>(null);
  const commit = (field: string) => (text: string) => {
    const read = readAmount(text);
    setWrong("fault" in read ? { field, text: read.fault } : null);
    if ("value" in read) set({ [field]: read.value });
  };
  return (
    <Box sx={OFF_PAPER}>
      <FieldRow>
        <ValueField
          label="An hour is worth"
          value={String(work.hourly)}
          commit={commit("hourly")}
          fault={wrong?.field === "hourly" ? wrong.text : null}
          inputMode="decimal"
        />
        <ValueField
          label="A look takes, minutes"
          value={String(work.look_up)}
          commit={commit("look_up")}
          fault={wrong?.field === "look_up" ? wrong.text : null}
          inputMode="decimal"
        />
      </FieldRow>
    </Box>
  );
}

/** For which sets looking cards up pays at all, and how many are worth pulling. */
export function AllPulls() {
  const { query, set, suffix } = useWork();
  const found = useQuery({
    queryKey: ["sorting", "pulls", query],
    queryFn: () => take(client.GET("/api/sorting/pulls", { params: { query } })),
    placeholderData: keepPreviousData,
  });
  if (!found.data) return <Answer of={found} />;
  const columns: Column<SetPulls>[] = [
    {
      key: "set",
      name: "Set",
      cell: (row) => <Link to={`/stock/-/pull/${row.key}${suffix}`}>{row.title}</Link>,
    },
    { key: "worth", name: "worth pulling", kind: "figure", cell: (row) => count(row.worth) },
    {
      key: "marked",
      name: "watched, debuts",
      kind: "figure",
      cell: (row) => (row.marked ? count(row.marked) : ""),
    },
    { key: "cards", name: "of cards", kind: "figure", cell: (row) => count(row.cards) },
    {
      key: "unknown",
      name: "no price",
      kind: "figure",
      cell: (row) => (row.unknown ? count(row.unknown) : ""),
    },
    {
      key: "finds",
      name: "a look finds",
      kind: "figure",
      cell: (row) => (row.look_up ? money(row.look_up.finds) : "unknown"),
    },
    {
      key: "pays",
      name: "look up?",
      cell: (row) => (row.look_up ? row.look_up.pays ? <b>yes, it pays</b> : "no" : "not known"),
    },
  ];
  return (
    <PageTitle
      title="What to pull"
      verdict={found.data.verdict}
      crumbs={[{ name: "Stock", to: "/stock" }, { name: "What to pull" }]}
    >
      <StockTabs />
      <WorkFields work={found.data.work} set={set} />
      <Section title="Sets" point={`what a look finds first, in ${found.data.currency}`}>
        <DataTable
          label="Sets"
          rows={found.data.sets}
          columns={columns}
          keyOf={(row) => row.key}
          empty="No set is known yet: enter some cards, or bring in a product sheet."
        />
      </Section>
    </PageTitle>
  );
}

const ALL_SHOWN = 8;

/** Whether a line is worth pulling as a whole: then the dearest stand for it. */
function isAll(line: Schemas["LinePullsOut"]): boolean {
  return line.cards > ALL_SHOWN && line.pulled.length >= line.cards * 0.95;
}

/** The few cards of a set that are worth pulling, line by line; on paper for the table. */
export default function PullPage() {
  const { release = "" } = useParams();
  const { query, set } = useWork();
  const found = useQuery({
    queryKey: ["sorting", "pulls", release, query],
    queryFn: () =>
      take(client.GET("/api/sorting/pulls/{key}", { params: { path: { key: release }, query } })),
    placeholderData: keepPreviousData,
  });
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  const columns: Column<Pulled>[] = [
    { key: "number", name: "No.", cell: (row) => <b>{row.number}</b> },
    { key: "subject", name: "Who it shows", cell: (row) => row.subject },
    { key: "why", name: "why", cell: (row) => row.why },
    { key: "price", name: "goes for", kind: "figure", cell: (row) => money(row.price) },
    { key: "gain", name: "beyond its work", kind: "figure", cell: (row) => gain(row.gain) },
  ];
  const listed = data.lines.filter((line) => line.pulled.length > 0);
  const others = data.lines.filter((line) => line.pulled.length === 0);
  return (
    <PageTitle
      title={`What to pull of ${data.title}`}
      verdict={data.verdict}
      crumbs={[
        { name: "Stock", to: "/stock" },
        { name: "What to pull", to: "/stock/-/pull" },
        { name: data.title },
      ]}
    >
      <WorkFields work={data.work} set={set} />
      {listed.map((line) => (
        <Section
          key={line.line}
          title={line.line}
          point={`${count(line.pulled.length)} of ${counted(line.cards, "card")}`}
        >
          <Box sx={{ fontSize: 13, color: "text.secondary", mb: 0.5 }}>
            {plain(line.verdict.sentence)} {plain(line.verdict.rests_on)}
          </Box>
          <DataTable
            label={`To pull of ${line.line}`}
            rows={line.pulled.slice(0, isAll(line) ? ALL_SHOWN : undefined)}
            columns={columns}
            keyOf={(row) => row.version}
            empty=""
          />
          {isAll(line) && <Box sx={{ mt: 0.5 }}>… and every other card of it.</Box>}
        </Section>
      ))}
      {others.length > 0 && (
        <Section title="Nothing to pull" point="">
          {others.map((line) => line.line).join(", ")}
        </Section>
      )}
      <Box sx={{ ...OFF_PAPER, display: "flex", gap: 1 }}>
        <Button color="inherit" variant="outlined" onClick={() => window.print()}>
          Print for the table
        </Button>
      </Box>
      <Box sx={{ fontSize: 13, color: "text.secondary", mt: 1 }}>
        {data.way ? `Net of what ${data.way} takes` : "At prices as they are"}, in {data.currency}. Prices are
        estimates.
      </Box>
    </PageTitle>
  );
}
