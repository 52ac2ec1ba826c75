import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { client, take, type Schemas } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { day, gain, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { TakeBack } from "../../shared/TakeBack";
import { TwoColumns } from "../../shared/TwoColumns";
import { Answer } from "../../shared/Answer";

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
      <TwoColumns
        main={
          <>
            <Lots title="Lots" lots={data.lots} sum={data.all_lots} path="/buying" currency={data.currency} />
            <Lots
              title="Sessions"
              lots={data.sessions}
              sum={data.all_sessions}
              path="/opening"
              currency={data.currency}
            />
            <Section
              title="Newest entries"
              point={`the newest ${data.entries.length}; all of them are in the files`}
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

/** How far a lot stands above or below its cost, from the middle: what the figure beside it says, to look at. */
function Bar({ value, most }: { value: number; most: number }) {
  const width = (Math.abs(value) / most) * 50;
  return (
    <Box sx={{ position: "relative", height: 14, width: 100 }}>
      <Box sx={{ position: "absolute", left: 50, top: -4, bottom: -4, width: "1px", bgcolor: "divider" }} />
      <Box
        sx={{
          position: "absolute",
          top: 2,
          bottom: 2,
          left: `${value < 0 ? 50 - width : 50}px`,
          width: `${width}px`, // a bare number up to 1 would be a share
          bgcolor: value < 0 ? "tone.loss" : "tone.gain",
        }}
      />
    </Box>
  );
}

function Lots({
  title,
  lots,
  sum,
  path,
  currency,
}: {
  title: string;
  lots: Schemas["LotOut"][];
  sum: Schemas["LotSumOut"];
  path: string;
  currency: string;
}) {
  const most = Math.max(...lots.map((lot) => Math.abs(Number(lot.unrealised ?? 0))), 1);
  return (
    <Section title={title} point={`what is still held of each, ${currency}`}>
      {lots.length === 0 && <Box sx={{ py: 1, color: "text.secondary" }}>None yet.</Box>}
      {lots.length > 0 && (
        <Table label={title}>
          <thead>
            <tr>
              <th scope="col">Day</th>
              <th scope="col">What</th>
              <th scope="col" className="figure">
                cost
              </th>
              <th scope="col" className="figure">
                still carried
              </th>
              <th scope="col" className="figure">
                about worth
              </th>
              <th scope="col" className="figure">
                unrealised
              </th>
              <th aria-hidden style={{ width: 110 }} />
            </tr>
          </thead>
          <tbody>
            {lots.map((lot) => (
              <tr key={lot.number} data-row>
                <td style={{ whiteSpace: "nowrap" }}>{day(lot.day)}</td>
                <td>
                  <Link data-cell to={`${path}/${lot.number}`}>
                    {lot.name}
                  </Link>
                </td>
                <td className="figure">{money(lot.cost)}</td>
                <td className="figure">{money(lot.basis)}</td>
                <td className="figure">
                  {lot.unknown_value > 0 && "≥ "}
                  {money(lot.value)}
                </td>
                <td className="figure">
                  <Box
                    component="span"
                    sx={{
                      color:
                        lot.unrealised === null
                          ? "text.secondary"
                          : Number(lot.unrealised) === 0
                            ? undefined
                            : Number(lot.unrealised) < 0
                              ? "tone.lossText"
                              : "tone.gainText",
                    }}
                  >
                    {lot.unrealised === null ? "unknown" : gain(Number(lot.unrealised))}
                  </Box>
                </td>
                <td aria-hidden>
                  <Bar value={Number(lot.unrealised ?? 0)} most={most} />
                </td>
              </tr>
            ))}
            <Sum sum={sum} />
          </tbody>
        </Table>
      )}
    </Section>
  );
}

/** All of them together; what nobody knows is said, not left out in silence. */
function Sum({ sum }: { sum: Schemas["LotSumOut"] }) {
  const figure = (amount: string, known: boolean) => `${known ? "" : "≥ "}${money(amount)}`;
  return (
    <tr>
      <td />
      <td>
        <b>In all</b>
        {sum.known < sum.lots && ` (unrealised: of ${sum.known} of ${sum.lots})`}
      </td>
      <td className="figure">{figure(sum.cost, sum.cost_known)}</td>
      <td className="figure">{figure(sum.basis, sum.basis_known)}</td>
      <td className="figure">{figure(sum.value, sum.value_known)}</td>
      <td className="figure">{gain(Number(sum.unrealised))}</td>
      <td />
    </tr>
  );
}
