import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { Figures } from "../../shared/Figures";
import { count, counted, day, percent } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Plot } from "../../shared/Plot";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { TwoColumns } from "../../shared/TwoColumns";
import { GradingTabs } from "./GradingTabs";

type Rate = Schemas["GemRateOut"];
type Outcome = Schemas["OutcomeOut"];

const RATES: Column<Rate>[] = [
  { key: "name", name: "Of", cell: (row) => row.name || "no release" },
  { key: "of", name: "cards", kind: "figure", cell: (row) => count(row.of) },
  { key: "gems", name: "top grades", kind: "figure", cell: (row) => count(row.gems) },
  { key: "share", name: "came true", kind: "figure", cell: (row) => percent(row.share) },
  {
    key: "interval",
    name: "95 %",
    kind: "figure",
    cell: (row) => `${percent(row.low)} to ${percent(row.high)}`,
  },
  { key: "said", name: "you said", kind: "figure", cell: (row) => percent(row.said) },
];

const OUTCOMES: Column<Outcome>[] = [
  { key: "item", name: "Card", cell: (row) => <Link to={`/stock/${row.item}`}>no. {row.item}</Link> },
  { key: "release", name: "of", cell: (row) => row.release },
  { key: "grader", name: "grader", cell: (row) => row.grader },
  { key: "day", name: "day", kind: "day", cell: (row) => day(row.day) },
  { key: "gem", name: "top grade, you said", kind: "figure", cell: (row) => percent(row.gem) },
  { key: "likely", name: "likeliest", kind: "figure", cell: (row) => row.likely },
  { key: "grade", name: "came back as", kind: "figure", cell: (row) => <b>{row.grade}</b> },
];

const BY = { grader: "By grader", release: "By set", quarter: "By time", bucket: "By what was said" };

/** How good the eye is: what was said of cards before they went, against what came back. */
export default function RecordPage() {
  const found = useQuery({
    queryKey: ["grading", "record"],
    queryFn: () => take(client.GET("/api/grading/record")),
  });
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  const fit = data.calibration;
  return (
    <PageTitle
      title="Your record"
      verdict={data.verdict}
      crumbs={[{ name: "Grading", to: "/grading" }, { name: "Your record" }]}
    >
      <GradingTabs />
      {!fit && (
        <Box sx={{ color: "text.secondary" }}>
          What is expected of a card is kept when its submission is posted; once its grade is in, it is judged
          here.
        </Box>
      )}
      {fit && (
        <TwoColumns
          main={
            <>
              <Section title="Reliability" point="said against came true, in the groups that the data make">
                <Plot
                  label="What came true over what was said"
                  lines={[
                    {
                      name: "as it came",
                      points: fit.groups.map((it) => [it.said, it.came] as const),
                      tone: "gain",
                    },
                    {
                      name: "if you were right",
                      points: [
                        [0, 0],
                        [1, 1],
                      ],
                      tone: "soft",
                      dashed: true,
                    },
                  ]}
                  xName="said"
                  xText={(x) => percent(x)}
                  yText={(y) => percent(y)}
                  yMax={1}
                  height={240}
                />
              </Section>
              {(Object.keys(BY) as (keyof typeof BY)[]).map((by) => (
                <Section key={by} title={BY[by]} point="">
                  <DataTable
                    label={BY[by]}
                    rows={data.rates[by] ?? []}
                    columns={RATES}
                    keyOf={(row) => row.name}
                    empty="Nothing yet."
                  />
                </Section>
              ))}
              <Section title="Every card" point="the newest first">
                <DataTable
                  label="Predicted and received"
                  rows={data.outcomes.slice(0, 200)}
                  columns={OUTCOMES}
                  keyOf={(row) => `${row.item} ${row.day}`}
                  empty=""
                />
              </Section>
            </>
          }
          aside={
            <Section title="The score" point={counted(fit.of, "card")}>
              <Figures
                rows={[
                  ["Brier score, 0 is best", fit.brier.toFixed(3)],
                  ["off by calibration", fit.miscalibration.toFixed(3)],
                  ["told apart", `−${fit.discrimination.toFixed(3)}`],
                  ["nobody could know", fit.uncertainty.toFixed(3)],
                  ["Chances should shift by", `x ${Math.exp(fit.shrunk).toFixed(2)} odds`],
                ]}
              />
              <Aside>
                The shift is applied to what the next card is thought to get, shrunk towards none by how few
                came back.
              </Aside>
              {data.spreads.map((it) => (
                <Box key={it.grader} sx={{ fontSize: 13 }}>
                  {it.grader} differs from itself by {it.deviation.toFixed(2)} grades, over {count(it.cards)}{" "}
                  cards seen twice.
                </Box>
              ))}
            </Section>
          }
        />
      )}
    </PageTitle>
  );
}
