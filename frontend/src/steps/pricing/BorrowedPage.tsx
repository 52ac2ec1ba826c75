import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useQuery } from "@tanstack/react-query";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { count, day, money, percent } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Progress } from "../../shared/Progress";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { isAlive, useStop } from "../../shared/longWork";
import { useAct } from "../../shared/useAct";
import { useAddress } from "../../shared/useAddress";
import { keyed, useOnce } from "../../shared/useOnce";
import { cardColumn } from "./CardLink";

type Lent = Schemas["LentReleaseOut"];
type Look = Schemas["NextLookOut"];

const RELEASES: Column<Lent>[] = [
  { key: "title", name: "Release", cell: (row) => row.title },
  { key: "sales", name: "sales", kind: "figure", cell: (row) => count(row.sales) },
  { key: "values", name: "lent", kind: "figure", cell: (row) => count(row.values) },
  { key: "within", name: "inside 80 %", kind: "figure", cell: (row) => percent(row.within) },
  { key: "of", name: "of held out", kind: "figure", cell: (row) => count(row.of) },
  {
    key: "spread",
    name: "a sale varies by",
    kind: "figure",
    cell: (row) => `x ${Math.exp(row.spread.sale).toFixed(2)}`,
  },
  { key: "say", name: "how honest", cell: (row) => row.honesty.replace(/^.*: /, "") },
];

/** What hardly sells, by what its mates sell for; what all is worth together, and what to look up to know it better. */
export default function BorrowedPage() {
  const found = useQuery({
    queryKey: ["prices", "borrowing"],
    queryFn: () => take(client.GET("/api/prices/borrowing")),
    refetchInterval: ({ state }) => (isAlive(state.data?.task) ? 800 : false),
  });
  const once = useOnce();
  const [params, change] = useAddress();
  const across = params.has("across");
  const begin = useAct(
    () => take(client.POST("/api/prices/borrowing", { params: { query: { across } }, ...keyed(once.key()) })),
    { keys: ["prices", "tasks"], done: once.made },
  );
  const stop = useStop(["prices"]);
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  const looks: Column<Look>[] = [
    cardColumn((row) => row.card),
    { key: "state", name: "state", cell: (row) => row.state },
    { key: "narrows", name: "takes off the doubt", kind: "figure", cell: (row) => percent(row.narrows) },
  ];
  return (
    <PageTitle
      title="Borrowed values"
      verdict={data.verdict}
      crumbs={[{ name: "Pricing", to: "/pricing" }, { name: "Borrowed values" }]}
    >
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "center", mb: 2 }}>
        <Button
          variant={data.summed ? "outlined" : "contained"}
          color={data.summed ? "inherit" : "primary"}
          disabled={begin.isPending || isAlive(data.task)}
          onClick={() => begin.mutate(undefined)}
        >
          {data.summed ? "Borrow anew" : "Borrow values"}
        </Button>
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={across}
              onChange={(event) => {
                once.made(); // another wish than the one that may be under way
                change({ across: event.target.checked ? "1" : null });
              }}
            />
          }
          label="releases that share subjects lend to each other"
        />
        {data.day && <span>as of {day(data.day)}</span>}
      </Box>
      {data.task && <Progress task={data.task} stop={() => stop.mutate(data.task!.number)} />}
      {data.summed && data.summed.middle > 0 && (
        <SumStrip summed={data.summed} after={data.after} currency={data.currency} />
      )}
      {data.look_ups.length > 0 && (
        <Section
          title="Look these up"
          point={`one sale of each: from ± ${percent(data.summed?.half_width)} to ± ${percent(data.after?.half_width)}`}
        >
          <DataTable
            label="Look these up"
            rows={data.look_ups}
            columns={looks}
            keyOf={(row) => `${row.card.version} ${row.state}`}
            empty=""
          />
        </Section>
      )}
      {data.summed && (
        <Section
          title="How honest it is"
          point={data.too_few ? `${count(data.too_few)} releases have fewer than 20 sales in a year` : ""}
        >
          <DataTable
            label="Releases"
            rows={data.releases}
            columns={RELEASES}
            keyOf={(row) => row.key}
            empty="No release has 20 sales in a year: bring in more prices."
          />
          <Aside>
            Estimates. Each version’s last sale was held out and predicted from all others; between 75 and 85
            % inside is right. Nothing borrowed is ever booked, and three sales of its own in the window
            replace it.
          </Aside>
        </Section>
      )}
    </PageTitle>
  );
}

/** The sum with its 80 %, now and after the look-ups, on one scale. */
function SumStrip({
  summed,
  after,
  currency,
}: {
  summed: Schemas["SummedOut"];
  after: Schemas["SummedOut"] | null;
  currency: string;
}) {
  const rows = [{ name: "now", it: summed }, ...(after ? [{ name: "after 20 look-ups", it: after }] : [])];
  const low = Math.min(...rows.map(({ it }) => it.low));
  const high = Math.max(...rows.map(({ it }) => it.high));
  const room = (high - low) * 0.08 || 1;
  const at = (value: number) => `${((value - low + room) / (high - low + 2 * room)) * 100}%`;
  return (
    <Section title="All that is held" point={`80 %, in ${currency}`}>
      {rows.map(({ name, it }) => (
        <Box key={name} sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.5, flexWrap: "wrap" }}>
          <Box sx={{ width: 120, fontSize: 13 }}>{name}</Box>
          <Box
            role="img"
            aria-label={`${name}: ${money(it.middle)}, from ${money(it.low)} to ${money(it.high)}`}
            sx={{ position: "relative", flex: 1, minWidth: 200, height: 26 }}
          >
            <Box
              sx={{
                position: "absolute",
                left: 0,
                right: 0,
                top: 12.5,
                borderTop: 1,
                borderColor: "divider",
              }}
            />
            <Box
              sx={{
                position: "absolute",
                left: at(it.low),
                width: `calc(${at(it.high)} - ${at(it.low)})`,
                top: 8,
                height: 10,
                bgcolor: "tone.gain",
                opacity: 0.35,
              }}
            />
            <Box
              sx={{
                position: "absolute",
                left: at(it.middle),
                top: 3,
                height: 20,
                borderLeft: 2,
                borderColor: "tone.ink",
              }}
            />
          </Box>
          <Box sx={{ width: 260, fontSize: 13, textAlign: "right" }}>
            {money(it.low)} – <b>{money(it.middle)}</b> – {money(it.high)}
          </Box>
        </Box>
      ))}
    </Section>
  );
}
