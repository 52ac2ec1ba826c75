import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { DaysFromTo } from "../../shared/DaysFromTo";
import { FieldRow } from "../../shared/FieldRow";
import { count, day, gain, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { useAddress } from "../../shared/useAddress";
import { BooksTabs } from "./BooksTabs";
import { BY, nameOf, type By } from "./results";

type Sum = Schemas["SalesSumOut"];

/** What sales made: by way, month, year, lot, session, submission, set, subject, buyer; a statement of each. */
export default function ResultsPage() {
  const [params, change] = useAddress();
  const by = (params.get("by") ?? "way") as By;
  const only = params.get("only");
  const first = params.get("first") ?? "";
  const last = params.get("last") ?? "";
  const query = {
    by,
    ...(first ? { first } : {}),
    ...(last ? { last } : {}),
    ...(only === null ? {} : { only }),
  };
  const found = useQuery({
    queryKey: ["books", "sales", query],
    queryFn: ({ signal }) => take(client.GET("/api/books/sales", { params: { query }, signal })),
    placeholderData: keepPreviousData,
  });
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  const asked = new URLSearchParams(query).toString();
  return (
    <PageTitle
      title="Results"
      verdict={data.verdict}
      crumbs={[{ name: "Books", to: "/books" }, { name: "Results" }]}
    >
      <BooksTabs />
      <FieldRow>
        <ChoiceBox
          label="By"
          value={by}
          set={(value) => change({ by: value, only: null })}
          choices={BY}
          width={180}
        />
        <DaysFromTo first={first} last={last} />
        {only !== null && (
          <Button color="inherit" onClick={() => change({ only: null })} sx={{ mt: "20px" }}>
            All of them again
          </Button>
        )}
      </FieldRow>
      <Section
        title={only === null ? `By ${BY[by]}` : nameOf(by, only)}
        point={`${data.currency}${data.before ? `, ${count(data.before)} of before the books` : ""}`}
      >
        <DataTable
          label="Results"
          rows={data.rows}
          columns={columns(by, (name) => change({ only: name }))}
          keyOf={(row) => row.name}
          empty="Nothing was sold then."
          foot={
            <>
              <Button variant="outlined" color="inherit" href={`/api/books/sales.csv?${asked}`} download>
                Statement (CSV)
              </Button>
              <Button variant="outlined" color="inherit" href={`/api/books/sales.xlsx?${asked}`} download>
                Statement (XLSX)
              </Button>
            </>
          }
        />
      </Section>
      {data.things.length > 0 && (
        <Section title="Each thing" point="the newest first">
          <Table label="Each thing">
            <Heads
              of={[
                "Day",
                "what",
                { figure: "brought" },
                { figure: "fees, post, packing" },
                { figure: "had cost" },
                { figure: "made" },
                { figure: "days held" },
              ]}
            />
            <tbody>
              {data.things.map((it, at) => (
                <tr key={at} data-row>
                  <td className="day">{day(it.day)}</td>
                  <td>{it.document ? <Link to={`/selling/${it.document}`}>{it.name}</Link> : it.name}</td>
                  <td className="figure">{money(it.brought)}</td>
                  <td className="figure">{money(it.costs)}</td>
                  <td className="figure">{money(it.basis)}</td>
                  <td className="figure">{it.profit === null ? "unknown" : gain(Number(it.profit))}</td>
                  <td className="figure">{it.days === null ? "" : count(it.days)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Section>
      )}
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap", my: 2 }}>
        {(["entries", "documents"] as const).map((what) =>
          (["csv", "xlsx"] as const).map((kind) => (
            <Button key={what + kind} color="inherit" href={`/api/books/${what}.${kind}`} download>
              {what === "entries" ? "Journal" : "Documents"} ({kind.toUpperCase()})
            </Button>
          )),
        )}
      </Box>
      <Aside>
        This is a record of what happened, no tax advice: rules differ by place and by what you are to the tax
        office. Ask a qualified adviser.
      </Aside>
    </PageTitle>
  );
}

function columns(by: By, pick: (name: string) => void): Column<Sum>[] {
  return [
    {
      key: "name",
      name: BY[by],
      cell: (row) => (
        <Button
          color="inherit"
          size="small"
          onClick={() => pick(row.name)}
          sx={{ textAlign: "left", justifyContent: "flex-start", px: 0 }}
        >
          {nameOf(by, row.name)}
        </Button>
      ),
      text: (row) => nameOf(by, row.name),
    },
    { key: "count", name: "sold", kind: "figure", cell: (row) => count(row.count) },
    { key: "brought", name: "brought", kind: "figure", cell: (row) => money(row.brought) },
    { key: "fees", name: "fees", kind: "figure", cell: (row) => money(row.fees) },
    { key: "postage", name: "post", kind: "figure", cell: (row) => money(row.postage) },
    { key: "supplies", name: "packing", kind: "figure", cell: (row) => money(row.supplies) },
    { key: "basis", name: "had cost", kind: "figure", cell: (row) => money(row.basis) },
    {
      key: "profit",
      name: "made",
      kind: "figure",
      cell: (row) =>
        row.known === 0
          ? "unknown"
          : `${gain(Number(row.profit))}${row.known < row.count ? ` (of ${count(row.known)})` : ""}`,
    },
    {
      key: "days",
      name: "days held",
      kind: "figure",
      cell: (row) => (row.days === null ? "" : count(Math.round(row.days))),
    },
    {
      key: "hour",
      name: "an hour",
      kind: "figure",
      cell: (row) => (row.per_hour === null ? "" : money(row.per_hour)),
    },
  ];
}
