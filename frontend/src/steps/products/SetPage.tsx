import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useParams, useSearchParams } from "react-router";
import { faultOf, type Schemas } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { count, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Plot } from "../../shared/Plot";
import { Section } from "../../shared/Section";
import { Aside, Quiet } from "../../shared/states";
import { TwoColumns } from "../../shared/TwoColumns";
import { ValueField } from "../../shared/ValueField";
import { BasisChoice } from "./BasisChoice";
import { PlanTabs } from "./PlanTabs";
import { useLacked, useSet, useSimulation } from "./planning";
import { readView, type View } from "./view";
import { useRelease } from "./queries";
import { SimulationState } from "./SimulationState";
import { Answer } from "../../shared/Answer";

/** What it takes to complete a set from packs: all of a line, or the rainbow of one card. */
export default function SetPage() {
  const { release = "", format = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const view = readView(params);
  const asked = {
    line: params.get("line") ?? "",
    number: params.get("number") ?? "",
    repeats: params.get("repeats") === "yes",
    held: params.get("held") === "yes",
  };
  const lacked = useLacked(release, asked.line);
  const detail = useRelease(release);
  const set = useSet(release, format, view, asked);
  if (!detail.data) return <Answer of={detail} />;
  const lines = detail.data.lines;
  const choose = (change: Partial<typeof asked>) => {
    const next = { ...asked, ...change };
    const fresh = new URLSearchParams(params);
    fresh.set("line", next.line);
    if (next.number) fresh.set("number", next.number);
    else fresh.delete("number");
    if (next.repeats) fresh.set("repeats", "yes");
    else fresh.delete("repeats");
    if (next.held) fresh.set("held", "yes");
    else fresh.delete("held");
    setParams(fresh, { replace: true });
  };
  const found = detail.data.release.formats.find((item) => item.id === format);
  const data = set.isError || !asked.line ? undefined : set.data;
  const isBase = lines.find((item) => item.id === asked.line)?.kind === "base";
  return (
    <PageTitle
      title={`Set, ${data?.name ?? ""}`}
      verdict={data?.verdict}
      links={{ guess: `/products/${release}/${format}#guesses` }}
      plain={set.isError ? "That set cannot be worked out." : "Choose the set that you want."}
      crumbs={[
        { name: "Products", to: "/products" },
        { name: detail.data.release.title, to: `/products/${release}` },
        { name: found?.name ?? format, to: `/products/${release}/${format}` },
        { name: "A set" },
      ]}
    >
      <PlanTabs release={release} format={format} />
      <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap", alignItems: "flex-start" }}>
        <TextField
          select
          label="Line"
          value={lines.some((item) => item.id === asked.line) ? asked.line : ""}
          onChange={(event) => choose({ line: event.target.value, number: "" })}
          error={set.isError}
          helperText={set.isError ? faultOf(set.error) : " "}
          sx={{ minWidth: 220 }}
        >
          {lines.map((item) => (
            <MenuItem key={item.id} value={item.id}>
              {item.name}
            </MenuItem>
          ))}
        </TextField>
        {isBase && (
          <ValueField
            label="Rainbow of card number"
            value={asked.number}
            commit={(number) => choose({ number })}
            hint="empty: the whole base"
            width={220}
          />
        )}
        {!asked.number && (
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={asked.repeats}
                onChange={(event) => choose({ repeats: event.target.checked })}
              />
            }
            label="a pack may hold a card twice"
          />
        )}
      </Box>
      {asked.line && lacked && (asked.number || lacked.held.length > 0) && (
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={asked.held}
              onChange={(event) => choose({ held: event.target.checked })}
            />
          }
          label={
            asked.number
              ? "begin with those that you hold"
              : `begin with the ${count(lacked.held.length)} of ${count(lacked.held.length + lacked.lacking.length)} that you hold`
          }
        />
      )}
      {asked.line && set.isPending && <Quiet />}
      {data && (
        <Working
          data={data}
          release={release}
          format={format}
          line={asked.line}
          view={view}
          fromHeld={asked.held}
        />
      )}
    </PageTitle>
  );
}

interface WorkingProps {
  data: Schemas["SetOut"];
  release: string;
  format: string;
  line: string;
  view: View;
  /** It begins with what is held. */
  fromHeld: boolean;
}

function Working({ data, release, format, line, view, fromHeld }: WorkingProps) {
  const many = data.unit === "box" ? "boxes" : "packs";
  const reach = 1.25 * Math.max(data.nine_tenths ?? 0, data.mean, data.stop?.packs ?? 0);
  const curve = data.curve.filter((point) => point.packs <= reach);
  const costs = curve.flatMap((point) => (point.cost === null ? [] : [[point.packs, point.cost] as const]));
  const main = (
    <>
      <Plot
        label={`Cards found and spare copies against ${many} opened`}
        lines={[
          { name: "cards found", points: curve.map((p) => [p.packs, p.found] as const), tone: "gain" },
          {
            name: "spare copies",
            points: curve
              .filter((p) => p.spares <= data.cards * 1.3)
              .map((p) => [p.packs, p.spares] as const),
            tone: "soft",
            dashed: true,
          },
        ]}
        verticals={[{ x: data.mean, text: `complete after ${count(data.mean)} on average` }]}
        xName={many}
        xText={(value) => count(value)}
        yText={(value) => count(Math.round(value))}
        yMax={data.cards * 1.3}
      />
      {costs.length > 1 && data.stop && (
        <Section
          title="Where to stop and buy the rest"
          point={`net cost with the rest bought, ${data.currency}`}
        >
          <Plot
            label={`Net cost of stopping after so many ${many} and buying the rest`}
            lines={[{ name: "in all", points: costs, tone: "ink" }]}
            marks={[
              {
                x: data.stop.packs,
                y: data.stop.cost ?? 0,
                text: data.stop.packs === 0 ? "buy all" : `stop at ${count(data.stop.packs)}`,
              },
            ]}
            xName={many}
            xText={(value) => count(value)}
            yText={(value) => count(Math.round(value))}
            height={200}
          />
        </Section>
      )}
      {!data.repeats && data.way === "exact" ? null : data.unit === "pack" &&
        !data.name.includes("rainbow") ? (
        <WithoutRepeats release={release} format={format} line={line} view={view} fromHeld={fromHeld} />
      ) : null}
    </>
  );
  const aside = (
    <>
      <Section title="Until it is complete" point={many}>
        <Figures
          rows={[
            [
              "Average",
              data.error === null ? count(data.mean) : `${count(data.mean)} ± ${(2 * data.error).toFixed(1)}`,
            ],
            ["Half are done by", data.half === null ? "unknown" : count(data.half)],
            ["Nine in ten are done by", data.nine_tenths === null ? "unknown" : count(data.nine_tenths)],
            [`Price of a ${data.unit}, landed`, money(data.price)],
            ["To buy all singly", money(data.buy_all)],
            ...(data.stop
              ? ([
                  ["Best stop", data.stop.packs === 0 ? "at once" : `${count(data.stop.packs)} ${many}`],
                  ["Cost in all by then", money(data.stop.cost)],
                  ["Cards found by then", count(Math.round(data.stop.found))],
                ] as const)
              : []),
          ]}
        />
      </Section>
      <BasisChoice basis={data.basis} />
      <Aside>
        {data.way === "exact" ? "Worked out exactly" : "Simulated"}
        {data.short > 0 && `; ${data.short} short prints come less often`}. The cost counts what everything
        else in the packs is worth, and spare copies, by the same basis. Estimates, not advice.
      </Aside>
    </>
  );
  return <TwoColumns main={main} aside={aside} />;
}

const RUNS = 2_000;

/** Without repeats inside a pack and with many weights only a simulation tells. */
function WithoutRepeats({ release, format, line, view, fromHeld }: Omit<WorkingProps, "data">) {
  const simulation = useSimulation(release, format, (task) => {
    const asked = task.asked as { line?: string; held?: boolean };
    return task.kind === "set" && asked.line === line && Boolean(asked.held) === fromHeld;
  });
  const { current } = simulation;
  const result = current?.result as { mean: number; error: number; nine_tenths: number } | null | undefined;
  return (
    <Section title="Without repeats inside a pack" point="simulated pack by pack">
      <Button
        variant="outlined"
        color="inherit"
        disabled={simulation.begin.isPending || current?.state === "running" || current?.state === "waiting"}
        onClick={() =>
          simulation.begin.mutate({
            kind: "set",
            count: RUNS,
            line,
            held: fromHeld,
            seed: 1,
            no_repeats: true,
            even: false,
            ...view,
          })
        }
      >
        Collect it {count(RUNS)} times
      </Button>
      <SimulationState of={simulation} />
      {current?.state === "done" && result && (
        <Box sx={{ mt: 1.5 }}>
          On average <b>{count(result.mean)}</b> packs, give or take {(2 * result.error).toFixed(1)}; nine in
          ten are done by {count(result.nine_tenths)}.
        </Box>
      )}
    </Section>
  );
}
