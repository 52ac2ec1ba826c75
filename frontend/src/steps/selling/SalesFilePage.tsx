import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { faultAt } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { count, counted, day, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { TableFile } from "../../shared/TableFile";
import { useAct } from "../../shared/useAct";
import { useDebounced } from "../../shared/useDebounced";
import { useDraft } from "../../shared/useDraft";
import { LISTED } from "./listings";
import { MEANINGS, rowsTaken, type SaleColumn } from "./salesFile";
import { SellingTabs } from "./SellingTabs";
import { WayChoice, useWay } from "./WayChoice";

/** Sales come in as a market writes them down: what each column means is guessed, shown, and remembered. */
export default function SalesFilePage() {
  const { way, name } = useWay();
  const [text, setText, forget] = useDraft("sales", "");
  const [columns, setColumns] = useState<SaleColumn[] | null>(null);
  const [monthFirst, setMonthFirst] = useState(false);
  const [owes, setOwes] = useState(true);
  const [turned, setTurned] = useState<Readonly<Record<number, boolean>>>({});
  const [before, setBefore] = useState(false);
  const [unsaid, setUnsaid] = useState<"" | "none" | "usual">("");
  const sent = useDebounced(text, 400);
  const body = { text: sent, way, columns, month_first: monthFirst };
  const found = useQuery({
    queryKey: ["sales-file", body],
    queryFn: ({ signal }) => take(client.POST("/api/sales-files", { body, signal })),
    enabled: sent.trim() !== "" && way !== "",
    placeholderData: (last) => last,
    retry: false,
  });
  const read = sent.trim() === "" ? undefined : found.data;
  const chosen = read ? rowsTaken(read.rows, turned, before) : { rows: [], before: [] };
  const bring = useAct(
    () =>
      take(
        client.POST("/api/sales-files/taken", {
          body: { ...body, ...chosen, market: owes ? name : null, unsaid_fees: unsaid || null },
        }),
      ),
    {
      keys: [...LISTED, "sales-file", "past-sales"],
      quiet: true,
      text: (made) => saidOf(made),
      done: (made) => {
        if (made.left.length === 0) {
          setText("");
          forget();
          setColumns(null);
        }
      },
    },
  );
  return (
    <PageTitle
      title="A file of sales"
      plain="What a market sold for you, from its own list."
      crumbs={[{ name: "Selling", to: "/selling" }, { name: "A file of sales" }]}
    >
      <SellingTabs />
      <FieldRow>
        <WayChoice />
        <FormControlLabel
          sx={{ mt: "20px" }}
          control={<Checkbox checked={owes} onChange={(event) => setOwes(event.target.checked)} />}
          label="it pays out later"
        />
        <FormControlLabel
          sx={{ mt: "20px" }}
          control={
            <Checkbox checked={monthFirst} onChange={(event) => setMonthFirst(event.target.checked)} />
          }
          label="11/3 is the 3rd of November"
        />
        <FormControlLabel
          sx={{ mt: "20px" }}
          control={<Checkbox checked={before} onChange={(event) => setBefore(event.target.checked)} />}
          label="what is not here was sold before the books began"
        />
      </FieldRow>
      <TextField
        label="Its rows, pasted"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setColumns(null);
        }}
        multiline
        minRows={5}
        maxRows={12}
        sx={{ width: 1, maxWidth: 900, my: 1 }}
        slotProps={{ htmlInput: { spellCheck: false, style: { fontFamily: "monospace", fontSize: 13 } } }}
      />
      <TableFile label="A file of sales" said="CSV, XLSX or JSON" done={(found_) => setText(found_)} />
      {found.error && sent.trim() !== "" && <Box role="alert">{inWords(found.error)}</Box>}
      {read && (
        <Section
          title={counted(read.rows.length, "row")}
          point={read.remembered ? "its columns as last time" : "say what a column means where it is wrong"}
        >
          <Box sx={{ overflowX: "auto" }}>
            <Table label="Columns">
              <tbody>
                <tr>
                  {read.columns.map((means, at) => (
                    <td key={at}>
                      <ChoiceBox
                        bare
                        label={`What “${read.head[at] ?? `column ${at + 1}`}” means`}
                        value={means}
                        set={(value) =>
                          setColumns(
                            read.columns.map((old, place) => (place === at ? (value as SaleColumn) : old)),
                          )
                        }
                        choices={MEANINGS}
                        width={120}
                      />
                    </td>
                  ))}
                </tr>
                <tr>
                  {read.head.map((head, at) => (
                    <td key={at}>{read.has_head ? head : `column ${at + 1}`}</td>
                  ))}
                </tr>
              </tbody>
            </Table>
          </Box>
          <Rows rows={read.rows} taken={chosen} turn={(at, on) => setTurned({ ...turned, [at]: on })} />
          {read.rows.some(({ row }) => row.fees === null && row.refused === null) && (
            <ChoiceBox
              label="Where no row says what was kept"
              value={unsaid}
              set={(value) => setUnsaid(value as typeof unsaid)}
              choices={{ "": "say it here", none: "nothing was kept", usual: `what ${name} usually keeps` }}
              width={240}
            />
          )}
          {bring.error && (
            <Box role="alert" sx={{ color: "tone.lossText" }}>
              {faultAt(bring.error, "unsaid_fees") ?? inWords(bring.error)}
            </Box>
          )}
          <Button
            variant="contained"
            sx={{ mt: 1, display: "block" }}
            disabled={bring.isPending || found.isFetching || chosen.rows.length + chosen.before.length === 0}
            onClick={() => bring.mutate(undefined)}
          >
            Take {count(chosen.rows.length + chosen.before.length)} in
          </Button>
        </Section>
      )}
      {bring.data && bring.data.left.length > 0 && (
        <Box role="status">
          {bring.data.left.map((it) => (
            <div key={it.row}>
              Row {it.row} was not taken: {it.why}
            </div>
          ))}
        </Box>
      )}
      <Past />
    </PageTitle>
  );
}

function saidOf(made: Schemas["SalesTakenOut"]): string {
  const parts = [
    made.orders.length ? counted(made.orders.length, "order") : "",
    made.past ? `${counted(made.past, "result")} of before the books` : "",
  ].filter(Boolean);
  const left = made.left.length ? ` ${counted(made.left.length, "row was", "rows were")} not taken.` : "";
  return `${parts.join(" and ") || "Nothing new"} came in.${left}`;
}

interface RowsProps {
  rows: readonly Schemas["ReadSaleOut"][];
  taken: { rows: readonly number[]; before: readonly number[] };
  turn: (at: number, on: boolean) => void;
}

function Rows({ rows, taken, turn }: RowsProps) {
  return (
    <Table label="Sales">
      <Heads of={[{ hidden: "taken" }, "Day", "order", "what", "buyer", { figure: "sold for" }, "it is"]} />
      <tbody>
        {rows.slice(0, 300).map(({ row, listing, items, problem, is_there }) => {
          const isBefore = taken.before.includes(row.at);
          const isIn = isBefore || taken.rows.includes(row.at);
          return (
            <tr key={row.at} data-row>
              <td>
                <Checkbox
                  checked={isIn}
                  disabled={row.refused !== null || is_there || (problem !== null && !isBefore)}
                  onChange={(event) => turn(row.at, event.target.checked)}
                  slotProps={{ input: { "aria-label": `Take row ${row.at} in` } }}
                />
              </td>
              <td className="day">{row.day ? day(row.day) : ""}</td>
              <td>{row.order}</td>
              <td>{row.title || row.listing}</td>
              <td>{row.buyer}</td>
              <td className="figure">{money(row.price)}</td>
              <td>
                {isBefore ? (
                  "sold before the books began"
                ) : problem !== null ? (
                  problem
                ) : listing !== null ? (
                  <Link to={`/selling/-/listings/${listing}`}>its listing</Link>
                ) : (
                  <Link to={`/stock/${items[0]}`}>in stock</Link>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}

function Past() {
  const past = useQuery({ queryKey: ["past-sales"], queryFn: () => take(client.GET("/api/past-sales")) });
  const drop = useAct(
    (number: number) => take(client.DELETE("/api/past-sales/{number}", { params: { path: { number } } })),
    { keys: ["past-sales", "books"], text: "It is forgotten." },
  );
  if (!past.data?.sales.length) return null;
  return (
    <Section title="Sold before the books began" point={`results without entries, ${past.data.currency}`}>
      <Table label="Sold before the books began">
        <Heads
          of={[
            "Day",
            "what",
            "where",
            { figure: "brought" },
            { figure: "fees, post" },
            { figure: "had cost" },
            { figure: "made" },
            { hidden: "actions" },
          ]}
        />
        <tbody>
          {past.data.sales.slice(0, 200).map((it) => (
            <tr key={it.number} data-row>
              <td className="day">{day(it.sold_on)}</td>
              <td>{it.name}</td>
              <td>{it.way}</td>
              <td className="figure">{money(it.brought)}</td>
              <td className="figure">{money(it.costs)}</td>
              <td className="figure">{money(it.basis)}</td>
              <td className="figure">{money(it.profit)}</td>
              <td className="figure">
                <Button
                  size="small"
                  color="inherit"
                  aria-label={`Forget ${it.name}`}
                  disabled={drop.isPending}
                  onClick={() => drop.mutate(it.number)}
                >
                  Forget
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}
