import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useParams, useSearchParams } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { money, percent } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Plot } from "../../shared/Plot";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Table } from "../../shared/Table";
import { TwoColumns } from "../../shared/TwoColumns";
import { BasisChoice } from "./BasisChoice";
import { formatCrumbs } from "./crumbs";
import { PlanTabs } from "./PlanTabs";
import { useSureness } from "./planning";
import { readView } from "./view";
import { SimulationPanel } from "./SimulationPanel";
import { Answer } from "../../shared/Answer";

/** How sure a loss is: by pack, box, three boxes and case; as the market moves; because prices are uncertain. */
export default function SurenessPage() {
  const { release = "", format = "" } = useParams();
  const [params] = useSearchParams();
  const price = Number(params.get("price") ?? NaN);
  const view = readView(params);
  const sure = useSureness(release, format, view, Number.isFinite(price) ? price : null);
  const [factor, setFactor] = useState(0.5);
  if (!sure.data) return <Answer of={sure} />;
  const data = sure.data;
  return (
    <PageTitle
      title={`How sure, ${data.format.name}`}
      verdict={data.verdict}
      links={{ guess: `/products/${release}/${format}#guesses` }}
      crumbs={formatCrumbs(data, release, format, "How sure")}
    >
      <PlanTabs release={release} format={format} />
      <TwoColumns
        main={
          <>
            <Curves data={data} factor={factor} setFactor={setFactor} />
            <Holdings data={data} />
            <SimulationPanel release={release} format={format} view={view} currency={data.currency} />
          </>
        }
        aside={<Spread data={data} />}
      />
    </PageTitle>
  );
}

function Curves({
  data,
  factor,
  setFactor,
}: {
  data: Schemas["SurenessOut"];
  factor: number;
  setFactor: (factor: number) => void;
}) {
  const { curves, outlay } = data;
  const row = (value: number) => {
    const at = curves.factors.indexOf(value);
    return curves.prices.map((price, i) => [price, curves.chances[at]?.[i] ?? 0] as const);
  };
  const chance = curves.at_price?.[curves.factors.indexOf(factor)];
  const lines = [{ name: "as today", points: row(1), tone: "ink" as const }];
  const moved = { name: `at ${Math.round(factor * 100)} %`, points: row(factor), tone: "loss" as const };
  return (
    <>
      <Plot
        label={`Chance that a box brings back at least a price, today and with the market at ${percent(factor)}`}
        lines={factor === 1 ? lines : [...lines, { ...moved, tone: factor < 1 ? "loss" : "gain" }]}
        verticals={outlay === null ? [] : [{ x: outlay, text: `costs ${money(outlay)}` }]}
        xName={`price, ${data.currency}`}
        xText={(value) => String(Math.round(value))}
        yText={percent}
        yMax={1}
        yTicks={[0, 0.25, 0.5, 0.75, 1]}
      />
      <Box sx={{ display: "flex", alignItems: "center", gap: 2.5, mb: 3, flexWrap: "wrap" }}>
        <Typography component="label" variant="body2" id="market-factor" sx={{ flex: "none" }}>
          When you sell, prices stand at
        </Typography>
        <Slider
          aria-labelledby="market-factor"
          value={factor}
          min={curves.factors[0]}
          max={curves.factors.at(-1)}
          step={0.1}
          marks={[{ value: 0.5 }, { value: 1 }, { value: 1.5 }]}
          getAriaValueText={(value) => `${Math.round(value * 100)} % of today's`}
          onChange={(_, value) => setFactor(Math.round(Number(value) * 10) / 10)}
          color="primary"
          size="small"
          sx={{ width: 220 }}
        />
        <span>
          <b>{Math.round(factor * 100)} %</b> of today’s:{" "}
          {chance === undefined ? (
            "no price to judge by"
          ) : (
            <>
              a box loses in <b>{percent(1 - chance)}</b>
            </>
          )}
        </span>
      </Box>
    </>
  );
}

function Holdings({ data }: { data: Schemas["SurenessOut"] }) {
  return (
    <Section title="By how much you open" point="at today’s market">
      <Table label="Chance of a loss by holding">
        <thead>
          <tr>
            <th scope="col">Opened</th>
            <th scope="col" className="figure">
              costs, {data.currency}
            </th>
            <th scope="col" className="figure">
              holds on average
            </th>
            <th scope="col" className="figure">
              chance of a loss
            </th>
            <th scope="col" style={{ width: "30%" }} />
          </tr>
        </thead>
        <tbody>
          {data.holdings.map((item) => (
            <tr key={item.name} data-row>
              <td>
                <span data-cell>{item.name}</span>
              </td>
              <td className="figure">{money(item.outlay)}</td>
              <td className="figure">{money(item.mean)}</td>
              <td className="figure">{item.loss === null ? "no price" : percent(item.loss)}</td>
              <td>
                <Box sx={{ height: 10, width: `${(item.loss ?? 0) * 100}%`, bgcolor: "tone.loss" }} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}

function Spread({ data }: { data: Schemas["SurenessOut"] }) {
  return (
    <>
      <Section title="Because prices are uncertain" point={data.currency}>
        <Figures
          rows={[
            ["Average, low (1 in 20 under)", money(data.spread.low)],
            ["Average, middle", money(data.spread.middle)],
            ["Average, high (1 in 20 over)", money(data.spread.high)],
            [
              "Loss, over uncertain markets",
              data.mixed_loss === null ? "no price" : percent(data.mixed_loss),
            ],
          ]}
        />
      </Section>
      <BasisChoice basis={data.basis} />
      <Aside>
        Each price may be off by about {percent(data.own_spread)} by itself, and all of them together by about{" "}
        {percent(data.market_spread)} until you sell; change that under Settings. Opening is a game of chance;
        these are estimates, not advice.
      </Aside>
    </>
  );
}
