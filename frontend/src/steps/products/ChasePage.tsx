import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { faultOf, type Schemas } from "../../shared/api/client";
import { count, money, percent } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Quiet, Trouble } from "../../shared/states";
import { Table } from "../../shared/Table";
import { ChanceCurve } from "./ChanceCurve";
import { useChase, useRelease } from "./queries";

/** What it takes to pull one card, a few, or any of a line. */
export default function ChasePage() {
  const { release = "", format = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const line = params.get("line") ?? "";
  const number = params.get("number") ?? "";
  const detail = useRelease(release);
  const chase = useChase(release, format, line, number);
  if (detail.isPending) return <Quiet />;
  if (detail.isError) return <Trouble error={detail.error} again={() => void detail.refetch()} />;
  const found = detail.data.release.formats.find((item) => item.id === format);
  const crumbs = [
    { name: "Products", to: "/products" },
    { name: detail.data.release.title, to: `/products/${release}` },
    { name: found?.name ?? format, to: `/products/${release}/${format}` },
    { name: "Chase" },
  ];
  const data = chase.isError ? undefined : chase.data;
  return (
    <PageTitle
      title={`Chase ${data?.what ?? ""}`}
      verdict={data?.verdict}
      plain={chase.isError ? "That cannot be chased." : "Choose what to chase."}
      crumbs={crumbs}
    >
      <Choice
        key={line}
        lines={detail.data.lines}
        line={line}
        number={number}
        fault={chase.isError ? faultOf(chase.error) : null}
        choose={(fresh) => setParams(fresh, { replace: true })}
      />
      {data && <Working data={data} />}
    </PageTitle>
  );
}

interface ChoiceProps {
  lines: Schemas["LineOut"][];
  line: string;
  number: string;
  fault: string | null;
  choose: (fresh: { line: string; number: string }) => void;
}

function Choice({ lines, line, number, fault, choose }: ChoiceProps) {
  const [typed, setTyped] = useState(number);
  const commit = () => typed !== number && choose({ line, number: typed });
  return (
    <Box sx={{ display: "flex", gap: 2, mb: 3, flexWrap: "wrap" }}>
      <TextField
        select
        label="Line"
        value={lines.some((item) => item.id === line) ? line : ""}
        onChange={(event) => choose({ line: event.target.value, number: "" })}
        sx={{ minWidth: 220 }}
      >
        {lines.map((item) => (
          <MenuItem key={item.id} value={item.id}>
            {item.name}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label="Card number; several with commas"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={commit}
        onKeyDown={(event) => event.key === "Enter" && commit()}
        error={fault !== null}
        helperText={fault ?? "empty: any card of the line"}
        sx={{ minWidth: 280 }}
      />
    </Box>
  );
}

function Working({ data }: { data: Schemas["ChaseOut"] }) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 740px) 284px" },
        columnGap: 3.5,
      }}
    >
      <Box>
        <ChanceCurve curve={data.curve} needed={data.needed} />
        <Section title="How many for which chance" point="packs bought loose, or whole boxes">
          <Table label="Packs and boxes by chance">
            <thead>
              <tr>
                <th>Chance of at least one</th>
                <th className="figure">packs</th>
                <th className="figure">boxes</th>
                <th className="figure">boxes cost, {data.currency}</th>
              </tr>
            </thead>
            <tbody>
              {data.needed.map((need) => (
                <tr key={need.chance} data-row>
                  <td>
                    <span tabIndex={0} data-cell>
                      {percent(need.chance)}
                    </span>
                  </td>
                  <td className="figure">{need.packs === null ? "over ten million" : count(need.packs)}</td>
                  <td className="figure">{need.boxes === null ? "over ten million" : count(need.boxes)}</td>
                  <td className="figure">{money(need.spent)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Section>
      </Box>
      <Box component="aside" aria-label="Figures">
        <Section title="Pull it or buy it" point={data.currency}>
          <Rows
            rows={[
              ["One in so many boxes", count(Math.round(data.one_in_boxes * 10) / 10)],
              ["Chance in the first box", percent(data.first_box)],
              ["Boxes until the first, on average", count(Math.round(data.boxes_until_first * 10) / 10)],
              ["Net spend until the first", money(data.until_first)],
              ["Net spend per copy, in the long run", money(data.long_run)],
              ["To buy one", money(data.single)],
            ]}
          />
        </Section>
        <Typography variant="body2" sx={{ color: "text.secondary" }}>
          Net spend: the price of the boxes, landed, less what else they hold on average. Estimates, not
          advice.
        </Typography>
      </Box>
    </Box>
  );
}

function Rows({ rows }: { rows: [string, string][] }) {
  return rows.map(([name, value]) => (
    <Box key={name} sx={{ display: "flex", justifyContent: "space-between", gap: 2, py: 0.3, fontSize: 13 }}>
      <Box component="span" sx={{ color: "text.secondary" }}>
        {name}
      </Box>
      <b>{value}</b>
    </Box>
  ));
}
