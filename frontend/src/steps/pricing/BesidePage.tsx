import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { Answer } from "../../shared/Answer";
import { client, take } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { count, day, gain, money, percent } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Plot } from "../../shared/Plot";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useAddress } from "../../shared/useAddress";
import { useDebounced } from "../../shared/useDebounced";
import { ordered, shares, type Beside } from "./beside";
import { CardLink, cardWords } from "./CardLink";

const TAKE = 50;
const AMOUNT = /^\d{1,7}([.,]\d{1,3})?$/;

function Under({ children }: { children: string }) {
  return <Box sx={{ fontSize: 12, color: "text.secondary" }}>{children}</Box>;
}

/** Many cards side by side: what a set is worth and how top-heavy it is, raw against graded against what grading costs. */
export default function BesidePage() {
  const [asked, change] = useAddress();
  const release = asked.get("release") ?? "";
  const grader = asked.get("grader") ?? "";
  const typed = asked.get("cost") ?? "";
  const cost = useDebounced(typed, 250);
  const isAmount = cost === "" || AMOUNT.test(cost);
  const query = {
    ...(release ? { release } : {}),
    ...(asked.get("state") ? { state: asked.get("state") ?? "" } : {}),
    ...(grader ? { grader } : {}),
    ...(grader && cost && isAmount ? { cost: cost.replace(",", ".") } : {}),
  };
  const found = useQuery({
    queryKey: ["prices", "beside", query],
    queryFn: () => take(client.GET("/api/prices/side-by-side", { params: { query } })),
    placeholderData: (before) => before,
  });
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  const by = asked.get("by") ?? "value";
  const descending = asked.get("up") === null;
  const start = Number(asked.get("start") ?? 0);
  const rows = ordered(data.rows, by, descending);
  const titles = Object.fromEntries(data.releases.map(({ key, title }) => [key, title]));
  const columns: Column<Beside>[] = [
    {
      key: "card",
      name: "Card",
      cell: ({ card }) => (
        <>
          <CardLink card={card} />
          {!release && <Under>{card.release_title}</Under>}
        </>
      ),
      text: ({ card }) => `${cardWords(card)}, ${card.release_title}`,
    },
    {
      key: "held",
      name: "held",
      kind: "figure",
      sort: "held",
      cell: (row) => (row.held ? count(row.held) : ""),
    },
    {
      key: "value",
      name: data.state,
      kind: "figure",
      sort: "value",
      cell: (row) => (row.value === null ? "unknown" : money(row.value)),
    },
    { key: "day", name: "Of", kind: "day", cell: (row) => (row.day === null ? "" : day(row.day)) },
    ...data.grades.map((grade): Column<Beside> => ({
      key: `grade ${grade}`,
      name: grade,
      kind: "figure",
      sort: `grade ${grade}`,
      cell: (row) => (
        <>
          {row.graded[grade] === undefined ? "" : money(row.graded[grade])}
          {row.gains[grade] !== undefined && <Under>{gain(Number(row.gains[grade]))}</Under>}
        </>
      ),
      text: (row) => row.graded[grade] ?? "",
    })),
    ...(query.cost ? [{ key: "least", name: "Gains from", cell: (row: Beside) => row.least ?? "" }] : []),
  ];
  const points = shares(data.rows);
  return (
    <PageTitle
      title="Side by side"
      verdict={data.verdict}
      crumbs={[{ name: "Pricing", to: "/pricing" }, { name: "Side by side" }]}
    >
      <FieldRow>
        <ChoiceBox
          label="Cards"
          value={release}
          set={(value) => change({ release: value, start: null })}
          choices={{ "": "all that you hold", ...titles }}
          width={260}
        />
        <ChoiceBox
          label="Raw in"
          value={data.state}
          set={(state) => change({ state })}
          choices={{ NM: "NM", LP: "LP", MP: "MP", HP: "HP", DM: "DM" }}
          width={110}
        />
        <ChoiceBox
          label="Beside them, graded by"
          value={grader}
          set={(value) => change({ grader: value })}
          choices={{ "": "nobody", ...Object.fromEntries(data.graders.map((name) => [name, name])) }}
          width={190}
        />
        {grader && (
          <TextField
            label={`Grading costs in all, ${data.currency}`}
            value={typed}
            onChange={(event) => change({ cost: event.target.value })}
            error={!isAmount}
            helperText={isAmount ? "fee, post both ways, insurance" : "write an amount, like 24.50"}
            slotProps={{ htmlInput: { inputMode: "decimal" } }}
            sx={{ width: 210 }}
          />
        )}
      </FieldRow>
      {points.length > 2 && (
        <Plot
          label="Which share of the value the dearest cards hold"
          lines={[{ name: "share of the value", points, tone: "gain" }]}
          xName="of the dearest cards"
          xText={(value) => count(Math.round(value))}
          yText={percent}
          yMax={1}
          height={180}
        />
      )}
      <Section
        title="The cards"
        point={
          data.all_of > data.rows.length
            ? `the first ${count(data.rows.length)} of ${count(data.all_of)}`
            : ""
        }
      >
        <DataTable
          label="The cards"
          rows={rows.slice(start, start + TAKE)}
          columns={columns}
          keyOf={(row) => row.card.version}
          sorting={{
            by,
            descending,
            set: (column, down) => change({ by: column, up: down ? null : "1", start: null }),
          }}
          paging={{
            start,
            take: TAKE,
            total: rows.length,
            more: start + TAKE < rows.length,
            set: (at) => change({ start: at ? String(at) : null }),
          }}
          empty={release ? "No card of it is named yet." : "You hold no card whose version is known."}
        />
      </Section>
      {grader && (
        <Aside>
          Under each grade stands what it gains: what it sells for, less the raw card and what grading costs.
          Empty: not known. Which grade a card makes nobody knows beforehand.
        </Aside>
      )}
    </PageTitle>
  );
}
