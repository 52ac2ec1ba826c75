import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { count, day } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { SellingTabs } from "./SellingTabs";

type Row = Schemas["ParcelRowOut"];

const PLACES: Partial<Record<string, string>> = {
  purchase: "/buying",
  submission: "/grading",
  order: "/selling",
};

function Whose({ row }: { row: Row }) {
  const place = PLACES[row.kind];
  return place && row.kind !== "purchase" ? (
    <Link to={`${place}/${row.document}`}>{row.text}</Link>
  ) : (
    row.text
  );
}

const COLUMNS: Column<Row>[] = [
  { key: "what", name: "Parcel", cell: (row) => <Whose row={row} />, text: (row) => row.text },
  { key: "way", name: "way", cell: (row) => (row.direction === "out" ? "out" : "to you") },
  { key: "things", name: "things", kind: "figure", cell: (row) => count(row.things) },
  {
    key: "carrier",
    name: "by",
    cell: (row) => [row.carrier, row.tracking].filter(Boolean).join(", "),
  },
  { key: "sent", name: "posted", kind: "day", cell: (row) => (row.sent_on ? day(row.sent_on) : "") },
  {
    key: "due",
    name: "due",
    kind: "day",
    cell: (row) => (row.due_on ? <>{row.late ? <b>{day(row.due_on)}, late</b> : day(row.due_on)}</> : ""),
    text: (row) => row.due_on ?? "",
  },
  {
    key: "there",
    name: "there",
    kind: "day",
    cell: (row) =>
      row.received_on
        ? `${day(row.received_on)}${row.days === null ? "" : `, ${count(row.days)} days`}`
        : "not yet",
  },
  {
    key: "claim",
    name: "claim by",
    kind: "day",
    cell: (row) => (row.claim_until && !row.received_on ? day(row.claim_until) : ""),
  },
];

/** Parcels both ways: posted, due, late, and until when they can be claimed for. */
export default function ParcelsPage() {
  const found = useQuery({ queryKey: ["parcels"], queryFn: () => take(client.GET("/api/parcels")) });
  if (!found.data) return <Answer of={found} />;
  return (
    <PageTitle
      title="Parcels"
      verdict={found.data.verdict}
      crumbs={[{ name: "Selling", to: "/selling" }, { name: "Parcels" }]}
    >
      <SellingTabs />
      <Section title="On their way" point="and what arrived in the last thirty days">
        <DataTable
          label="Parcels"
          rows={found.data.parcels.map((it, at) => ({ ...it, at }))}
          columns={COLUMNS}
          keyOf={(row) => row.at}
          empty="No parcel is on its way."
          foot={
            <Button variant="outlined" color="inherit" href="/api/parcels.ics" download>
              Days due and last days of claims (iCalendar)
            </Button>
          }
        />
      </Section>
      {found.data.classes.length > 0 && (
        <Section title="What they say of each class" point="how many were claimed for, days against promise">
          <Table label="Classes">
            <Heads
              of={[
                "Class",
                { figure: "parcels" },
                { figure: "claims" },
                { figure: "of a hundred, 95 %" },
                { figure: "days promised" },
                { figure: "days taken" },
                { figure: "late" },
              ]}
            />
            <tbody>
              {found.data.classes.map((it) => (
                <tr key={it.name}>
                  <td>{it.name}</td>
                  <td className="figure">{count(it.parcels)}</td>
                  <td className="figure">{count(it.claims)}</td>
                  <td className="figure">
                    {(it.low * 100).toFixed(0)} to {(it.high * 100).toFixed(0)}
                  </td>
                  <td className="figure">{it.promised === null ? "" : it.promised.toFixed(1)}</td>
                  <td className="figure">{it.took === null ? "" : it.took.toFixed(1)}</td>
                  <td className="figure">{count(it.late)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
          <Aside>
            The chance of a loss that packing counts with is the carrier’s own, moved by these as they grow.
          </Aside>
        </Section>
      )}
    </PageTitle>
  );
}
