import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useParams, useSearchParams } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import { gain, hits, money, percent } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Plot } from "../../shared/Plot";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { BasisChoice } from "./BasisChoice";
import { formatCrumbs } from "./crumbs";
import { PlanTabs } from "./PlanTabs";
import { useTrial, useTrialActs } from "./planning";
import { readView } from "./view";
import { useRelease } from "./queries";
import { Answer } from "../../shared/Answer";

type Trial = Schemas["TrialOut"];
type Add = ReturnType<typeof useTrialActs>["add"];

/** What if: odds and prices tried on a scratch copy, beside the sheet; kept as one change, or dropped. */
export default function TrialPage() {
  const { release = "", format = "" } = useParams();
  const [params] = useSearchParams();
  const trial = useTrial(release, format, readView(params));
  const acts = useTrialActs(release, trial.data?.version ?? 0);
  const detail = useRelease(release);
  if (!trial.data) return <Answer of={trial} />;
  if (!detail.data) return <Answer of={detail} />;
  const data = trial.data;
  return (
    <PageTitle
      title={`What if, ${data.format.name}`}
      verdict={data.verdict}
      crumbs={formatCrumbs(data, release, format, "What if")}
    >
      <PlanTabs release={release} format={format} />
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", mb: 2.5, flexWrap: "wrap" }}>
        <BasisChoice basis={data.basis} />
        <Box sx={{ flex: 1 }} />
        <Button
          variant="outlined"
          color="inherit"
          disabled={!data.edits.length}
          onClick={() => void acts.keep()}
        >
          Keep: make it the sheet
        </Button>
        <Button color="inherit" disabled={!data.edits.length} onClick={() => void acts.drop()}>
          Drop it
        </Button>
      </Box>
      <Box sx={{ maxWidth: 1052 }}>
        {data.stale.map((text) => (
          <Aside key={text}>{text}</Aside>
        ))}
        <Both data={data} />
        <Compared data={data} add={acts.add} />
        <Lines data={data} lines={detail.data.lines} add={acts.add} />
        <Edits data={data} lines={detail.data.lines} remove={acts.remove} />
      </Box>
    </PageTitle>
  );
}

/** What a box may hold, by the sheet and as it is tried, in one picture. */
function Both({ data }: { data: Trial }) {
  const { before, after } = data;
  if (![...before.curve, ...after.curve].some(({ amount }) => amount > 0))
    return <Aside>Nothing in it has a price yet, so there is no picture of what it holds.</Aside>;
  const prices = [
    ...(before.price === null ? [] : [{ x: before.price, text: "price" }]),
    ...(after.price === null || after.price === before.price
      ? []
      : [{ x: after.price, text: "price, tried" }]),
  ];
  return (
    <Section title="How often a box holds so much or more" point="the sheet dashed, what is tried in full">
      <Plot
        label={`Chance of at least so much: half of all boxes hold ${money(before.middle)} by the sheet, ${money(after.middle)} as tried`}
        lines={[
          {
            name: "the sheet",
            points: before.curve.map(({ amount, chance }) => [amount, chance] as const),
            tone: "soft",
            dashed: true,
          },
          {
            name: "tried",
            points: after.curve.map(({ amount, chance }) => [amount, chance] as const),
            tone: "ink",
          },
        ]}
        verticals={prices}
        xName={data.currency}
        xText={(value) => money(value)}
        yText={percent}
        yMax={1}
        yTicks={[0, 0.25, 0.5, 0.75, 1]}
      />
    </Section>
  );
}

function Compared({ data, add }: { data: Trial; add: Add }) {
  const { before, after } = data;
  const format = data.format.id;
  const rows: [string, string, string, string][] = [
    ["Chance of a loss", percent(before.loss), percent(after.loss), ""],
    ["Average", money(before.mean), money(after.mean), gain(after.mean - before.mean)],
    ["Middle", money(before.middle), money(after.middle), gain(after.middle - before.middle)],
    ["Most to pay", money(before.most), money(after.most), gain(after.most - before.most)],
  ];
  return (
    <Section title="One box" point={data.currency}>
      <Table label="The scratch copy beside the sheet">
        <Heads
          of={[{ hidden: "what" }, { figure: "the sheet" }, { figure: "tried" }, { figure: "change" }]}
        />
        <tbody>
          {rows.map(([name, old, fresh, change]) => (
            <tr key={name}>
              <td>{name}</td>
              <td className="figure">{old}</td>
              <td className="figure">
                <b>{fresh}</b>
              </td>
              <td className="figure">{change}</td>
            </tr>
          ))}
          <tr data-row>
            <td>Price of a box</td>
            <td className="figure">{money(before.price)}</td>
            <td className="figure">
              <EditableCell
                value={after.price === null ? "" : after.price.toFixed(2)}
                label="Price of a box, tried"
                save={(text) => add({ kind: "box_price", format, text })}
              />
            </td>
            <td />
          </tr>
          <tr data-row>
            <td>Packs that can be opened</td>
            <td className="figure">{percent(before.usable)}</td>
            <td className="figure">
              <EditableCell
                value={String(after.usable)}
                shown={percent(after.usable)}
                label="Usable packs, tried"
                save={(text) => add({ kind: "usable", format, text })}
              />
            </td>
            <td />
          </tr>
        </tbody>
      </Table>
    </Section>
  );
}

function Lines({ data, lines, add }: { data: Trial; lines: Schemas["LineOut"][]; add: Add }) {
  const old = new Map(data.before.by_line.map((share) => [share.line, share]));
  const fresh = new Map(data.after.by_line.map((share) => [share.line, share]));
  const factors = new Map(
    data.edits.filter((edit) => edit.kind === "line_prices").map((edit) => [edit.line, edit.text]),
  );
  return (
    <Section
      title="Try odds and prices"
      point="odds like 1:36 packs; all prices of a line times a factor, 0.8"
    >
      <Table label="Trials by line">
        <Heads
          of={[
            "Line",
            "odds, tried",
            { figure: "prices times" },
            { figure: "hits" },
            { figure: "value, the sheet" },
            { figure: "value, tried" },
            { figure: "change" },
          ]}
        />
        <tbody>
          {lines
            .filter((line) => old.has(line.id) || fresh.has(line.id) || line.id in data.after.odds)
            .map((line) => {
              const before = old.get(line.id)?.value ?? null;
              const after = fresh.get(line.id)?.value ?? null;
              return (
                <tr key={line.id} data-row>
                  <td>{line.name}</td>
                  <td>
                    {line.kind === "base" ? (
                      "all other slots"
                    ) : (
                      <EditableCell
                        value={data.after.odds[line.id] ?? ""}
                        shown={data.after.odds[line.id] || "by a guarantee"}
                        label={`Odds of ${line.name}, tried`}
                        align="left"
                        width={130}
                        save={(text) => add({ kind: "odds", line: line.id, format: data.format.id, text })}
                      />
                    )}
                  </td>
                  <td className="figure">
                    <EditableCell
                      value={factors.get(line.id) ?? "1"}
                      label={`Prices of ${line.name} times`}
                      width={60}
                      save={(text) => add({ kind: "line_prices", line: line.id, text })}
                    />
                  </td>
                  <td className="figure">{hits(fresh.get(line.id)?.hits)}</td>
                  <td className="figure">{money(before)}</td>
                  <td className="figure">{money(after)}</td>
                  <td className="figure">
                    {before === null || after === null || Math.abs(after - before) < 0.005
                      ? ""
                      : gain(after - before)}
                  </td>
                </tr>
              );
            })}
        </tbody>
      </Table>
    </Section>
  );
}

interface EditsProps {
  data: Trial;
  lines: Schemas["LineOut"][];
  remove: (number: number) => Promise<unknown>;
}

function Edits({ data, lines, remove }: EditsProps) {
  if (!data.edits.length) return null;
  const name = (id: string | null) => lines.find((line) => line.id === id)?.name ?? id ?? "";
  const words = (edit: Schemas["EditOut"]): string => {
    switch (edit.kind) {
      case "odds":
        return `odds of ${name(edit.line)}: ${edit.text}`;
      case "card_price":
        return `price of ${name(edit.line)} ${edit.number}: ${edit.text || "unknown"}`;
      case "line_prices":
        return `all prices of ${name(edit.line)} times ${edit.text}`;
      case "box_price":
        return `price of a box: ${edit.text || "unknown"}`;
      case "usable":
        return `packs that can be opened: ${edit.text}`;
    }
  };
  return (
    <Section title="What is tried" point={`${data.edits.length} of at most 500`}>
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {data.edits.map((edit, index) => (
          <Box
            component="li"
            key={words(edit)}
            sx={{
              display: "flex",
              alignItems: "center",
              gap: 2,
              borderBottom: 1,
              borderColor: "divider",
              py: 0.4,
            }}
          >
            <Box sx={{ flex: 1 }}>{words(edit)}</Box>
            <Button
              color="inherit"
              aria-label={`Take back: ${words(edit)}`}
              onClick={() => void remove(index)}
            >
              Take back
            </Button>
          </Box>
        ))}
      </Box>
    </Section>
  );
}
