import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { client, take, type Schemas } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { Figures } from "../../shared/Figures";
import { day, gain, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { TakeBack } from "../../shared/TakeBack";
import { TwoColumns } from "../../shared/TwoColumns";
import { Answer } from "../../shared/Answer";
import { BooksTabs } from "./BooksTabs";

const LINES = 12; // of an entry that are shown

/** What it all cost and is worth: lots, sessions, balances and the newest entries. */
export default function BooksPage() {
  const books = useQuery({ queryKey: ["books"], queryFn: () => take(client.GET("/api/books")) });
  if (!books.data) return <Answer of={books} />;
  const data = books.data;
  const account = (line: { account: string; purse: string | null }) =>
    `${line.account.replaceAll("_", " ")}${line.purse ? `, ${line.purse}` : ""}`;
  return (
    <PageTitle title="Books" verdict={data.verdict} crumbs={[{ name: "Books" }]}>
      <BooksTabs />
      <Lots title="Lots" lots={data.lots} sum={data.all_lots} path="/buying" currency={data.currency} />
      <Lots
        title="Sessions"
        lots={data.sessions}
        sum={data.all_sessions}
        path="/opening"
        currency={data.currency}
      />
      <Section title="Months" point={`what went out and came in, ${data.currency}`}>
        <DataTable
          label="Months"
          rows={data.months}
          columns={MONTHS}
          keyOf={({ month }) => month}
          empty="Nothing is booked yet."
        />
      </Section>
      <TwoColumns
        main={
          <>
            <Section
              title="Newest entries"
              point={
                data.entries.length < data.entries_in_all
                  ? `the newest ${data.entries.length} of ${data.entries_in_all}; all of them are in the files`
                  : `all ${data.entries_in_all}`
              }
            >
              <Table label="Entries">
                <Heads of={["Day", "What", "account", { figure: data.currency }, { hidden: "actions" }]} />
                <tbody>
                  {data.entries.map((entry) =>
                    (entry.lines.length ? entry.lines.slice(0, LINES) : [null]).map((line, index) => (
                      <tr key={`${entry.number} ${index}`} data-row>
                        <td className="day">{index === 0 ? day(entry.day) : ""}</td>
                        <td>
                          {index === 0 && entry.text}
                          {index === 0 && <Things entry={entry} />}
                          {index === LINES - 1 && entry.lines.length > LINES && (
                            <Box component="span" sx={{ color: "text.secondary" }}>
                              and {entry.lines.length - LINES} lines more, in the files
                            </Box>
                          )}
                        </td>
                        <td>
                          {line ? account(line) : "no money moved"}
                          {line?.currency && ` (${money(line.original)} ${line.currency})`}
                        </td>
                        <td className="figure">{line ? money(line.amount) : ""}</td>
                        <td className="figure">
                          {index === 0 && <TakeBack entry={entry.number} booked={entry} />}
                        </td>
                      </tr>
                    )),
                  )}
                </tbody>
              </Table>
            </Section>
          </>
        }
        aside={
          <>
            <Section title="Balances" point={data.currency}>
              <Figures rows={data.balances.map((item) => [account(item), money(item.amount)] as const)} />
            </Section>
            <Section title="Files" point="open formats">
              <Box sx={{ display: "flex", flexDirection: "column", gap: 1, alignItems: "flex-start", mt: 1 }}>
                <Button variant="outlined" color="inherit" href="/api/books/ledger.txt" download>
                  Plain-text ledger
                </Button>
                <Button variant="outlined" color="inherit" href="/api/books/entries.csv" download>
                  All lines as CSV
                </Button>
              </Box>
            </Section>
            <Aside>
              {Number(data.off) === 0 && Number(data.stock_off) === 0
                ? "The books balance, and stock is the sum of what is held."
                : `The books are off by ${money(data.off)}, stock by ${money(data.stock_off)}.`}{" "}
              This is no tax advice: ask a qualified adviser.
            </Aside>
          </>
        }
      />
    </PageTitle>
  );
}

/** The things that an entry is about, the first few by name. */
function Things({ entry }: { entry: Schemas["EntryOut"] }) {
  if (entry.things.length === 0) return null;
  const more = entry.all_things - entry.things.length;
  return (
    <Box sx={{ color: "text.secondary", fontSize: 12 }}>
      {entry.things.map((thing, at) => (
        <span key={thing.item}>
          {at > 0 && ", "}
          <Link to={`/stock/${thing.item}`}>{thing.name}</Link>
        </span>
      ))}
      {more > 0 && ` and ${more} more`}
    </Box>
  );
}

type Lot = Schemas["LotOut"];

/** A result of money: gain and loss told apart by sign and colour, what is not known by its word. */
function Result({ amount }: { amount: string | null }) {
  if (amount === null)
    return (
      <Box component="span" sx={{ color: "text.secondary" }}>
        unknown
      </Box>
    );
  const value = Number(amount);
  return (
    <Box
      component="span"
      sx={{ color: value === 0 ? undefined : value < 0 ? "tone.lossText" : "tone.gainText" }}
    >
      {gain(value)}
    </Box>
  );
}

const result = (amount: string | null) => (amount === null ? "unknown" : gain(Number(amount)));
const some = (amount: string) => (Number(amount) === 0 ? "" : money(amount));

/** What came of each: paid, back, gone, still held; what happened apart from what is only said. */
function lotColumns(path: string): Column<Lot>[] {
  const gone = (lot: Lot) =>
    [
      Number(lot.fun) ? `${money(lot.fun)} for fun` : "",
      Number(lot.lost) ? `${money(lot.lost)} lost` : "",
      Number(lot.awaited) ? `${money(lot.awaited)} sent back` : "",
    ]
      .filter(Boolean)
      .join(", ");
  const worth = (lot: Lot) => `${lot.unknown_value > 0 ? "≥ " : ""}${money(lot.value)}`;
  return [
    { key: "day", name: "Day", kind: "day", cell: (lot) => day(lot.day) },
    {
      key: "name",
      name: "What",
      cell: (lot) => (
        <Box component="span" sx={{ display: "inline-block", minWidth: { sm: 150 } }}>
          <Link to={`${path}/${lot.number}`}>{lot.name}</Link>
        </Box>
      ),
      text: (lot) => lot.name,
    },
    { key: "paid", name: "paid", kind: "figure", cell: (lot) => money(lot.paid) },
    { key: "back", name: "back", kind: "figure", cell: (lot) => some(lot.back) },
    { key: "gone", name: "gone", kind: "figure", cell: gone },
    { key: "basis", name: "still carried", kind: "figure", cell: (lot) => money(lot.basis) },
    { key: "value", name: "about worth", kind: "figure", cell: worth },
    {
      key: "realised",
      name: "realised",
      kind: "figure",
      cell: (lot) => <Result amount={lot.realised} />,
      text: (lot) => result(lot.realised),
    },
    {
      key: "unrealised",
      name: "unrealised",
      kind: "figure",
      cell: (lot) => <Result amount={lot.unrealised} />,
      text: (lot) => result(lot.unrealised),
    },
  ];
}

interface LotsProps {
  title: string;
  lots: Lot[];
  sum: Schemas["LotSumOut"];
  path: string;
  currency: string;
}

function Lots({ title, lots, sum, path, currency }: LotsProps) {
  return (
    <Section title={title} point={`what came of each, ${currency}`}>
      <Bars lots={lots} />
      <DataTable
        label={title}
        rows={lots}
        columns={lotColumns(path)}
        keyOf={(lot) => lot.number}
        empty="None yet."
        foot={lots.length > 0 && <Sum sum={sum} />}
      />
    </Section>
  );
}

/** Results of the newest lots, realised and unrealised together, from the middle. */
function Bars({ lots }: { lots: Lot[] }) {
  const known = lots.filter((lot) => lot.total !== null).slice(0, 12);
  if (known.length < 2) return null;
  const most = Math.max(...known.map((lot) => Math.abs(Number(lot.total))), 1);
  return (
    <Box role="img" aria-label="What each came to" sx={{ mb: 1.5, maxWidth: 640, fontSize: 12 }}>
      {known.map((lot) => {
        const value = Number(lot.total);
        const width = (Math.abs(value) / most) * 50;
        return (
          <Box
            key={lot.number}
            sx={{ display: "grid", gridTemplateColumns: "minmax(0, 160px) minmax(60px, 1fr) 84px", gap: 1 }}
          >
            <Box sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{lot.name}</Box>
            <Box sx={{ position: "relative" }}>
              <Box
                sx={{
                  position: "absolute",
                  left: "50%",
                  top: 0,
                  bottom: 0,
                  width: "1px",
                  bgcolor: "divider",
                }}
              />
              <Box
                sx={{
                  position: "absolute",
                  top: 3,
                  bottom: 3,
                  left: `${value < 0 ? 50 - width : 50}%`,
                  width: `${width}%`,
                  bgcolor: value < 0 ? "tone.loss" : "tone.gain",
                }}
              />
            </Box>
            <Box sx={{ textAlign: "right", fontVariantNumeric: "tabular-nums" }}>
              <Result amount={lot.total} />
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}

/** All of them together; what nobody knows is said, not left out in silence. */
function Sum({ sum }: { sum: Schemas["LotSumOut"] }) {
  const figure = (amount: string, known: boolean) => `${known ? "" : "≥ "}${money(amount)}`;
  const gone = Number(sum.fun) + Number(sum.lost) + Number(sum.awaited);
  return (
    <Box sx={{ fontSize: 13 }}>
      <b>In all</b>: paid {figure(sum.paid, sum.paid_known)}, back {money(sum.back)}, gone {money(gone)},
      still carried {figure(sum.basis, sum.basis_known)}, about worth {figure(sum.value, sum.value_known)}.
      Realised <Result amount={sum.realised} />, unrealised <Result amount={sum.unrealised} />, together{" "}
      <Result amount={sum.total} />
      {sum.known < sum.lots && ` (of the ${sum.known} of ${sum.lots} of which all is known)`}.
    </Box>
  );
}

const MONTHS: Column<Schemas["MonthOut"]>[] = [
  { key: "month", name: "Month", kind: "day", cell: ({ month }) => monthOf(month) },
  { key: "paid", name: "paid", kind: "figure", cell: ({ paid }) => some(paid) },
  { key: "back", name: "back", kind: "figure", cell: ({ back }) => some(back) },
  { key: "fun", name: "for fun", kind: "figure", cell: ({ fun }) => some(fun) },
  { key: "lost", name: "lost", kind: "figure", cell: ({ lost }) => some(lost) },
  {
    key: "realised",
    name: "realised",
    kind: "figure",
    cell: ({ realised }) => <Result amount={realised} />,
    text: ({ realised }) => result(realised),
  },
  { key: "held", name: "held at its end, at cost", kind: "figure", cell: ({ held }) => money(held) },
];

function monthOf(first: string): string {
  return new Date(`${first}T00:00:00Z`).toLocaleDateString("en-GB", {
    month: "short",
    year: "numeric",
    timeZone: "UTC",
  });
}
