import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DAY_FIELD } from "../../shared/dayField";
import { FieldRow } from "../../shared/FieldRow";
import { count, counted, day } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { useDebounced } from "../../shared/useDebounced";
import { useDraft } from "../../shared/useDraft";
import { keyed, useOnce } from "../../shared/useOnce";
import { PRICED } from "./kinds";
import { takenOf, toRows, type AllSaid } from "./pages";
import { namesOf, Proposals } from "./Proposals";
import { TableFile } from "../../shared/TableFile";
import { COLUMNS, countsOf, sayColumn, takesState, type ColumnSaid } from "./tables";
import { NOTHING_SAID, WholeFields } from "./WholeFields";

const EMPTY = { ...NOTHING_SAID, text: "", columns: null as ColumnSaid[] | null, grader: "", day: "" };
const NO_RESULTS: Schemas["TableOut"]["results"] = [];
const NO_COUNTS: Schemas["TableOut"]["counts"] = [];

/** A table of prices or of graded copies: what its columns mean is guessed, shown and corrected, and remembered. */
export default function TablePage() {
  const [page, setPage, forget] = useDraft("a table of prices", EMPTY);
  const [said, setSaid] = useState<AllSaid>({});
  const text = useDebounced(page.text, 200);
  const { market, grader, columns, ...rest } = page;
  const asked = {
    ...rest,
    text,
    columns,
    market: market.trim() || null,
    grader: grader.trim() || null,
    day: page.day || null,
  };
  const read = useQuery({
    queryKey: ["pasted", "table", asked],
    queryFn: ({ signal }) => take(client.POST("/api/prices/table/reading", { body: asked, signal })),
    enabled: text.trim() !== "",
    placeholderData: (before) => before,
    retry: false,
  });
  const data = text.trim() === "" || read.isError ? undefined : read.data;
  const results = data?.results ?? NO_RESULTS;
  const counts = countsOf(data?.counts ?? NO_COUNTS);
  const taken = takenOf(results, said);
  const begin = (words: string) => {
    setPage({ ...page, text: words, columns: null });
    setSaid({});
  };
  const once = useOnce();
  const keep = useAct(
    (rows: Schemas["RowIn"][]) =>
      take(
        client.POST("/api/prices/table", {
          body: { text, columns: data?.columns.map(sayColumn) ?? [], market: asked.market, rows, counts },
          ...keyed(once.key()),
        }),
      ),
    {
      keys: PRICED,
      text: ({ added }) =>
        [
          added > 0 && `${counted(added, "price")} kept.`,
          counts.length > 0 && `${counted(counts.length, "count")} kept.`,
        ]
          .filter(Boolean)
          .join(" "),
      undo: async (_, { batch }) => {
        if (batch) await take(client.DELETE("/api/prices/batches/{batch}", { params: { path: { batch } } }));
      },
      done: () => {
        once.made();
        forget();
        setPage({ ...page, text: "", columns: null });
        setSaid({});
      },
    },
  );
  const many = taken.size + counts.length;
  const send = () => {
    if (many > 0 && !keep.isPending) keep.mutate(toRows(results, said));
  };
  const say = (at: number, more: Partial<ColumnSaid>) => {
    const now = data?.columns.map(sayColumn) ?? [];
    setPage({
      ...page,
      columns: now.map((column, place) => (place === at ? { ...column, ...more } : column)),
    });
    setSaid({});
  };
  const named = namesOf(data?.cards ?? []);
  const asksDay = !data?.columns.some(({ means }) => means === "day");
  const asksGrader = data?.columns.some(
    ({ means }) => means === "copies" || means === "grade" || means === "price",
  );
  return (
    <PageTitle
      title="A table of prices"
      {...(data
        ? { verdict: data.verdict }
        : { plain: "Paste a table, or choose a file: a list of sales, a book, or graded copies." })}
      crumbs={[{ name: "Pricing", to: "/pricing" }, { name: "A table of prices" }]}
    >
      <Box
        onKeyDown={(event) => {
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
            event.preventDefault();
            send();
          }
        }}
      >
        <TableFile
          label="A table of prices"
          said="CSV, XLSX or a list of sales as JSON; or paste its cells below."
          done={begin}
        />
        <TextField
          label="The table, its cells parted by tabs, semicolons or commas"
          value={page.text}
          onChange={(event) => begin(event.target.value)}
          autoFocus
          multiline
          minRows={3}
          maxRows={data ? 4 : 12}
          fullWidth
          sx={{ mt: 1, "& textarea": { whiteSpace: "pre", overflowX: "auto" } }}
        />
        {read.isError && text.trim() !== "" && (
          <Box role="alert" sx={{ color: "error.main", fontSize: 13, mt: 0.5 }}>
            {inWords(read.error)}
          </Box>
        )}
        {data && (
          <Section
            title="What its columns mean"
            point={
              data.guessed ? "guessed: mend what is wrong" : "as you said it; kept for the next such table"
            }
          >
            <Table label="What its columns mean">
              <Heads of={["Column", "First in it", "It means", "Of"]} />
              <tbody>
                {data.columns.map((column, at) => (
                  <tr key={at} data-row>
                    <td>
                      <span data-cell>{column.head}</span>
                    </td>
                    <td>{column.first.filter(Boolean).slice(0, 2).join(", ").slice(0, 60)}</td>
                    <td>
                      <ChoiceBox
                        label={`${column.head} means`}
                        value={column.means}
                        set={(means) => say(at, { means: means as ColumnSaid["means"] })}
                        choices={COLUMNS}
                        width={210}
                        bare
                      />
                    </td>
                    <td>
                      {takesState(column.means) && (
                        <TextField
                          variant="standard"
                          value={column.of ?? ""}
                          placeholder="any"
                          onChange={(event) => say(at, { of: event.target.value.slice(0, 60) || null })}
                          slotProps={{ htmlInput: { "aria-label": `${column.head} is of the state` } }}
                          sx={{ width: 130 }}
                        />
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </Table>
            <FieldRow>
              {asksGrader && (
                <TextField
                  label="Whose grades, if not said"
                  value={page.grader}
                  onChange={(event) => setPage({ ...page, grader: event.target.value.slice(0, 40) })}
                  sx={{ width: 190 }}
                />
              )}
              {asksDay && (
                <TextField
                  {...DAY_FIELD}
                  label="Day, if not said"
                  value={page.day}
                  onChange={(event) => setPage({ ...page, day: event.target.value })}
                  sx={{ width: 160 }}
                />
              )}
              <WholeFields said={page} say={(more) => setPage({ ...page, ...more })} />
            </FieldRow>
          </Section>
        )}
        {results.length > 0 && (
          <Section title="What it holds" point={`${count(taken.size)} of ${count(results.length)} are taken`}>
            <Proposals results={results} cards={data?.cards ?? []} said={said} setSaid={setSaid} />
          </Section>
        )}
        {data && data.counts.length > 0 && (
          <Section
            title="Graded copies"
            point={`${count(counts.length)} of ${count(data.counts.length)} are ready`}
          >
            <Table label="Graded copies">
              <Heads of={["What it says", "Card", "Grade", { figure: "copies" }, "Day"]} />
              <tbody>
                {data.counts.slice(0, 200).map((item) => (
                  <tr key={item.row} data-row>
                    <td>
                      <span data-cell>{item.title}</span>
                      {(item.refused ?? item.doubt) && (
                        <Box sx={{ fontSize: 12, color: "text.secondary" }}>{item.refused ?? item.doubt}</Box>
                      )}
                    </td>
                    <td>{item.version === null ? "none" : named(item.version)}</td>
                    <td>
                      {item.grader} {item.grade}
                    </td>
                    <td className="figure">{item.count === null ? "" : count(item.count)}</td>
                    <td className="day">{item.day && day(item.day)}</td>
                  </tr>
                ))}
              </tbody>
            </Table>
            <Aside>
              A count is not taken back: one of a later day stands beside it, one of the same day in its
              place.
            </Aside>
          </Section>
        )}
        {data && (results.length > 0 || data.counts.length > 0) && (
          <Button variant="contained" disabled={many === 0 || keep.isPending} onClick={send} sx={{ mt: 1 }}>
            Keep {count(many)} (Ctrl Enter)
          </Button>
        )}
      </Box>
    </PageTitle>
  );
}
