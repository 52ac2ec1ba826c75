import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { faultOf, type Schemas } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { count, counted, money, percent, roughly } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Plot } from "../../shared/Plot";
import { heightAt } from "../../shared/plot";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { TwoColumns } from "../../shared/TwoColumns";
import { ValueField } from "../../shared/ValueField";
import { BasisChoice } from "./BasisChoice";
import { PlanTabs } from "./PlanTabs";
import { useLacked, useWanted } from "./planning";
import { readView } from "./view";
import { useChase, useRelease } from "./queries";
import { parseTargets, writeTargets, type Target } from "./targets";
import { Answer } from "../../shared/Answer";

/** What it takes to pull one card, any of a few, or any of a line. */
export default function ChasePage() {
  const { release = "", format = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const targets = params.get("targets") ?? "";
  const view = readView(params);
  const detail = useRelease(release);
  const chase = useChase(release, format, targets, view);
  if (!detail.data) return <Answer of={detail} />;
  const found = detail.data.release.formats.find((item) => item.id === format);
  const crumbs = [
    { name: "Products", to: "/products" },
    { name: detail.data.release.title, to: `/products/${release}` },
    { name: found?.name ?? format, to: `/products/${release}/${format}` },
    { name: "Chase" },
  ];
  const data = chase.isError || !targets ? undefined : chase.data;
  const choose = (fresh: Target[]) => {
    const next = new URLSearchParams(params);
    next.set("targets", writeTargets(fresh));
    setParams(next, { replace: true });
  };
  return (
    <PageTitle
      title={`Chase ${data?.what ?? ""}`}
      verdict={data?.verdict}
      plain={chase.isError ? "That cannot be chased." : "Choose what to chase."}
      crumbs={crumbs}
    >
      <PlanTabs release={release} format={format} />
      <Targets
        lines={detail.data.lines}
        targets={parseTargets(targets)}
        fault={chase.isError ? faultOf(chase.error) : null}
        choose={choose}
      />
      <Starts release={release} lines={detail.data.lines} choose={choose} />
      {data && <Working data={data} />}
    </PageTitle>
  );
}

/** Where to begin: what is on the list of wanted cards, and what a line still lacks. */
function Starts(props: { release: string; lines: Schemas["LineOut"][]; choose: (fresh: Target[]) => void }) {
  const { release, lines, choose } = props;
  const wanted = useWanted(release).data?.wanted ?? [];
  const byLine = new Map<string, string[]>();
  for (const { line, number } of wanted) byLine.set(line, [...(byLine.get(line) ?? []), number]);
  const targets = [...byLine].map(([line, numbers]) => ({ line, numbers: numbers.join(", ") }));
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "flex-end", mb: 2, fontSize: 13 }}>
      {targets.length > 0 && (
        <Button variant="outlined" color="inherit" onClick={() => choose(targets)}>
          What you want: {counted(wanted.length, "card")}
        </Button>
      )}
      <Lacking release={release} lines={lines} choose={choose} />
    </Box>
  );
}

const MOST_LACKING = 40;

function Lacking({
  release,
  lines,
  choose,
}: {
  release: string;
  lines: Schemas["LineOut"][];
  choose: (fresh: Target[]) => void;
}) {
  const [line, setLine] = useState("");
  const lacked = useLacked(release, line);
  return (
    <>
      <TextField
        select
        label="What you lack of"
        value={line}
        onChange={(event) => setLine(event.target.value)}
        sx={{ width: 200 }}
      >
        {lines.map((item) => (
          <MenuItem key={item.id} value={item.id}>
            {item.name}
          </MenuItem>
        ))}
      </TextField>
      {lacked && (
        <>
          <span>
            you hold {count(lacked.held.length)} of {count(lacked.held.length + lacked.lacking.length)}
          </span>
          {lacked.lacking.length > 0 && lacked.lacking.length <= MOST_LACKING && (
            <Button
              variant="outlined"
              color="inherit"
              onClick={() => choose([{ line, numbers: lacked.lacking.join(", ") }])}
            >
              Chase the {count(lacked.lacking.length)} that you lack
            </Button>
          )}
          {lacked.lacking.length > MOST_LACKING && (
            <span>
              too many to chase one by one: see what{" "}
              <Link to={`/products/${release}/-/set?line=${line}`}>completing the set</Link> takes
            </span>
          )}
        </>
      )}
    </>
  );
}

interface TargetsProps {
  lines: Schemas["LineOut"][];
  targets: Target[];
  fault: string | null;
  choose: (fresh: Target[]) => void;
}

function Targets({ lines, targets, fault, choose }: TargetsProps) {
  const shown = targets.length ? targets : [{ line: "", numbers: "" }];
  const set = (at: number, fresh: Target) => choose(shown.map((item, i) => (i === at ? fresh : item)));
  const free = lines.filter((item) => !targets.some((target) => target.line === item.id));
  return (
    <Box sx={{ mb: 2 }}>
      {shown.map((target, at) => (
        <Box key={at} sx={{ display: "flex", gap: 2, flexWrap: "wrap", alignItems: "flex-start" }}>
          <TextField
            select
            label={at === 0 ? "Line" : "or of the line"}
            value={lines.some((item) => item.id === target.line) ? target.line : ""}
            onChange={(event) => set(at, { line: event.target.value, numbers: "" })}
            sx={{ minWidth: 220 }}
          >
            {lines
              .filter((item) => item.id === target.line || free.includes(item))
              .map((item) => (
                <MenuItem key={item.id} value={item.id}>
                  {item.name}
                </MenuItem>
              ))}
          </TextField>
          <ValueField
            label="Card number; several with commas"
            value={target.numbers}
            commit={(numbers) => set(at, { ...target, numbers })}
            fault={at === shown.length - 1 ? fault : null}
            hint="empty: any card of the line"
            width={280}
          />
          {targets.length > 1 && (
            <Button
              color="inherit"
              onClick={() => choose(targets.filter((_, i) => i !== at))}
              sx={{ mt: 0.5 }}
            >
              Leave out
            </Button>
          )}
        </Box>
      ))}
      {targets.length > 0 && free.length > 0 && (
        <Button
          color="inherit"
          onClick={() => choose([...targets, { line: free[0]?.id ?? "", numbers: "" }])}
        >
          Or one of another line
        </Button>
      )}
    </Box>
  );
}

function Working({ data }: { data: Schemas["ChaseOut"] }) {
  const curve = [[0, 0] as const, ...data.curve.map((point) => [point.boxes, point.chance] as const)];
  const marks = data.needed.flatMap((need) =>
    need.boxes === null
      ? []
      : [{ x: need.boxes, y: heightAt(curve, need.boxes) ?? need.chance, text: count(need.boxes) }],
  );
  const main = (
    <>
      <Plot
        label={`Chance of at least one: ${data.needed.map((need) => `${percent(need.chance)} after ${need.boxes ?? "too many"} boxes`).join(", ")}`}
        lines={[{ name: "at least one", points: curve, tone: "gain" }]}
        marks={marks}
        xName="boxes"
        xText={(value) => count(value)}
        yText={percent}
        yMax={1}
        yTicks={[0, 0.5, 0.75, 0.9]}
      />
      <Section
        title="How many for which chance"
        point={
          data.pack
            ? `loose packs of the kind “${data.pack}”, or whole boxes`
            : "packs bought loose, or whole boxes"
        }
      >
        <Table label="Packs and boxes by chance">
          <Heads
            of={[
              "Chance of at least one",
              { figure: "packs" },
              { figure: "boxes" },
              { figure: `boxes cost, ${data.currency}` },
            ]}
          />
          <tbody>
            {data.needed.map((need) => (
              <tr key={need.chance} data-row>
                <td>
                  <span data-cell>{percent(need.chance)}</span>
                </td>
                <td className="figure">{need.packs === null ? "over ten million" : count(need.packs)}</td>
                <td className="figure">{need.boxes === null ? "over ten million" : count(need.boxes)}</td>
                <td className="figure">{money(need.spent)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Section>
      {data.of_one_box.length > 1 && (
        <Section title="Packs of one box" point="what is promised to the box lies in some of them">
          <Plot
            label="Chance of at least one against packs of one box"
            lines={[
              {
                name: "at least one",
                points: [[0, 0], ...data.of_one_box.map((item) => [item.packs, item.chance] as const)],
                tone: "gain",
              },
            ]}
            xName="packs"
            xText={(value) => count(value)}
            yText={percent}
            yMax={1}
            yTicks={[0, 0.5, 1]}
            height={180}
          />
        </Section>
      )}
    </>
  );
  const aside = (
    <>
      <Section title="Pull it or buy it" point={data.currency}>
        <Figures
          rows={[
            ["One in so many boxes", roughly(data.one_in_boxes)],
            ["Chance in the first box", percent(data.first_box)],
            ["Boxes until the first, on average", roughly(data.boxes_until_first)],
            ["Net spend until the first", money(data.until_first)],
            ["Net spend per copy, in the long run", money(data.long_run)],
            ["To buy one", money(data.single)],
          ]}
        />
      </Section>
      <BasisChoice basis={data.basis} />
      <Typography variant="body2" sx={{ color: "text.secondary", mt: 1.5 }}>
        Net spend: the price of the boxes, landed, less what else they hold on average. Estimates, not advice.
      </Typography>
    </>
  );
  return <TwoColumns main={main} aside={aside} />;
}
