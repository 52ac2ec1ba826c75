import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { Ask } from "../../shared/Ask";
import { client, take, type Schemas } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { day, gain, money, percent } from "../../shared/format";
import { Photos } from "../../shared/Photos";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { KEYS } from "./queries";

type Way = Schemas["WeighedOut"];

const WAYS: Record<Way["kind"], string> = {
  sell: "Sell it as it is",
  keep: "Keep it",
  resubmit: "Crack it out and send it again",
  cross: "Cross it over, never lower",
  review: "Ask the same grader to look again",
};

const COLUMNS: Column<Way>[] = [
  { key: "kind", name: "What to do", cell: (row) => WAYS[row.kind] },
  { key: "net", name: "leaves about", kind: "figure", cell: (row) => money(row.net) },
  { key: "gain", name: "beyond selling", kind: "figure", cell: (row) => gain(row.gain) },
  { key: "worse", name: "leaves less in", kind: "figure", cell: (row) => percent(row.worse) },
  {
    key: "months",
    name: "months",
    kind: "figure",
    cell: (row) => (row.kind === "sell" ? "now" : row.months === null ? "not said" : row.months.toFixed(1)),
  },
];

/** A slab that came back: its chain of grades, and whether a second opinion pays. */
export default function OpinionPage() {
  const number = Number(useParams().number);
  const [asking, setAsking] = useState(false);
  const found = useQuery({
    queryKey: ["grading", "opinion", number],
    queryFn: () => take(client.GET("/api/items/{number}/opinion", { params: { path: { number } } })),
  });
  const crack = useAct(
    () => take(client.POST("/api/items/{number}/cracked", { params: { path: { number } } })),
    {
      keys: KEYS,
      text: "It is raw again; its former grade stays on its record.",
      done: () => setAsking(false),
    },
  );
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  return (
    <PageTitle
      title={data.name}
      {...(data.verdict ? { verdict: data.verdict } : { plain: data.missing ?? data.name })}
      crumbs={[
        { name: "Grading", to: "/grading" },
        { name: data.name, to: `/stock/${data.item}` },
        { name: "What now?" },
      ]}
    >
      <Section title="What can be done" point={`worth ${money(data.value)} as it is, ${data.currency}`}>
        <DataTable
          label="What can be done"
          rows={data.ways}
          columns={COLUMNS}
          keyOf={(row) => row.kind}
          empty={<>{data.missing}.</>}
        />
      </Section>
      <Section title="Its grades" point="all of them, in their order">
        <Table label="Its grades">
          <Heads of={["day", "grader", "grade", "certificate", ""]} />
          <tbody>
            {data.labels.map((it, at) => (
              <tr key={at} data-row>
                <td className="day">{day(it.day)}</td>
                <td data-cell>{it.grader}</td>
                <td>
                  <b>{it.grade}</b>
                  {it.subgrades && ` (${Object.values(it.subgrades).join(" / ")})`}
                </td>
                <td>{it.certificate}</td>
                <td>{it.removed ? "cracked off" : ""}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Section>
      <Photos item={data.item} />
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Button variant="outlined" color="inherit" onClick={() => setAsking(true)}>
          I cracked it out
        </Button>
        <Link to={`/stock/${data.item}`}>The card in stock</Link>
      </Box>
      <Aside>
        Whoever buys it is told of former grades. Cracking a holder throws splinters: eye protection, gloves,
        nobody near.
      </Aside>
      {asking && (
        <Ask
          title="Is it out of its holder?"
          act="It is cracked out"
          busy={crack.isPending}
          go={() => crack.mutate(undefined)}
          close={() => setAsking(false)}
        >
          Its label stays on record as one that was cracked off, and it counts as raw. This can be taken back.
        </Ask>
      )}
    </PageTitle>
  );
}
