import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useState } from "react";
import { type Schemas } from "../../shared/api/client";
import { count, money, percent } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { useSimulation } from "./planning";
import { SimulationState } from "./SimulationState";
import { type View } from "./view";

interface Props {
  release: string;
  format: string;
  view: View;
  currency: string;
}

const BOXES = 1_000_000;
const WORLDS = 200;
const isOfBoxes = (task: Schemas["TaskOut"]) => task.kind === "boxes" || task.kind === "worlds";

/** Long simulations of a box: as it is packed, and over worlds of prices. */
export function SimulationPanel({ release, format, view, currency }: Props) {
  const [noRepeats, setNoRepeats] = useState(true);
  const [even, setEven] = useState(false);
  const simulation = useSimulation(release, format, isOfBoxes);
  const { current } = simulation;
  const running = current?.state === "waiting" || current?.state === "running" || simulation.begin.isPending;
  const ask = (body: Partial<Schemas["SimulationIn"]> & Pick<Schemas["SimulationIn"], "kind" | "count">) =>
    simulation.begin.mutate({ seed: 1, no_repeats: true, even: false, ...view, ...body });
  return (
    <Section title="Try it many times" point="simulated in the background, the same each time">
      <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, fontSize: 13 }}>
        <Button
          variant="outlined"
          color="inherit"
          disabled={running}
          onClick={() => ask({ kind: "boxes", count: BOXES, no_repeats: noRepeats, even })}
        >
          Open {count(BOXES)} boxes
        </Button>
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={noRepeats}
              onChange={(event) => setNoRepeats(event.target.checked)}
            />
          }
          label="no card twice in a box"
        />
        <FormControlLabel
          control={
            <Checkbox size="small" checked={even} onChange={(event) => setEven(event.target.checked)} />
          }
          label="hits spread evenly"
        />
        <Button
          variant="outlined"
          color="inherit"
          disabled={running}
          onClick={() => ask({ kind: "worlds", count: WORLDS })}
        >
          {count(WORLDS)} worlds of prices
        </Button>
      </Box>
      <SimulationState of={simulation} />
      {current?.state === "done" && !current.is_current && (
        <Aside>Prices, odds or settings were changed since this was simulated: ask again.</Aside>
      )}
      {current?.state === "done" && current.kind === "boxes" && (
        <BoxesResult result={current.result as unknown as Boxes} currency={currency} />
      )}
      {current?.state === "done" && current.kind === "worlds" && (
        <WorldsResult result={current.result as unknown as Worlds} currency={currency} />
      )}
    </Section>
  );
}

interface Side {
  mean: number;
  deviation: number;
  quantiles: Record<string, number>;
  worst_tenth: number;
  loss: number | null;
}

interface Boxes extends Side {
  boxes: number;
  mean_error: number | null;
  loss_error: number | null;
  exact: Side;
}

/** Twice a standard error; too few boxes tell none, and nothing is said. */
function within(error: number | null, times: number): string {
  return error === null ? "" : ` ± ${(error * times).toFixed(2)}`;
}

function BoxesResult({ result, currency }: { result: Boxes; currency: string }) {
  const rows: [string, string, string][] = [
    [
      "Chance of a loss",
      result.loss === null ? "no price" : percent(result.loss) + within(result.loss_error, 200),
      result.exact.loss === null ? "no price" : percent(result.exact.loss),
    ],
    ["Average", money(result.mean) + within(result.mean_error, 2), money(result.exact.mean)],
    ["Spread (standard deviation)", money(result.deviation), money(result.exact.deviation)],
    ["Worst tenth, on average", money(result.worst_tenth), money(result.exact.worst_tenth)],
    ...Object.entries(result.quantiles).map(([share, amount]): [string, string, string] => [
      `${Number(share) * 100} % are under`,
      money(amount),
      money(result.exact.quantiles[share]),
    ]),
  ];
  return (
    <Table label="Simulated boxes beside the exact answer">
      <Heads
        of={[
          `${count(result.boxes)} boxes`,
          { figure: `simulated, ${currency}` },
          { figure: "exact, cards at random" },
        ]}
      />
      <tbody>
        {rows.map(([name, simulated, exact]) => (
          <tr key={name}>
            <td>{name}</td>
            <td className="figure">{simulated}</td>
            <td className="figure">{exact}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

interface Band {
  low: number;
  middle: number;
  high: number;
}

interface Worlds {
  worlds: number;
  mean: Band;
  most: Band;
  loss: Band | null;
}

function WorldsResult({ result, currency }: { result: Worlds; currency: string }) {
  const rows = [
    ["Chance of a loss", result.loss, percent],
    [`Average, ${currency}`, result.mean, money],
    [`Most to pay, ${currency}`, result.most, money],
  ] as const;
  return (
    <Table label="How far the answers may be off">
      <Heads
        of={[
          `Over ${count(result.worlds)} worlds of prices`,
          { figure: "1 in 20 under" },
          { figure: "middle" },
          { figure: "1 in 20 over" },
        ]}
      />
      <tbody>
        {rows.map(([name, band, show]) => (
          <tr key={name}>
            <td>{name}</td>
            {(["low", "middle", "high"] as const).map((end) => (
              <td key={end} className="figure">
                {band === null ? "no price" : show(band[end])}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
