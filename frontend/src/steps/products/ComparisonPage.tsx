import Box from "@mui/material/Box";
import { useParams, useSearchParams } from "react-router";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { age, day, hits, money, percent } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Plot } from "../../shared/Plot";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Table } from "../../shared/Table";
import { ValueField } from "../../shared/ValueField";
import { Guesses } from "./FormatRows";
import { BasisChoice } from "./BasisChoice";
import { ReleaseTabs } from "./PlanTabs";
import { useComparison } from "./planning";
import { readView } from "./view";
import { Answer } from "../../shared/Answer";

type Facts = Schemas["FormatFactsOut"];

/** Formats of a release side by side: per pack, per card, per unit of money, and what is only in one of them. */
export default function ComparisonPage() {
  const { release = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const rare = Number(params.get("rare")) || 50;
  const comparison = useComparison(release, readView(params), rare);
  if (!comparison.data) return <Answer of={comparison} />;
  const data = comparison.data;
  const setRare = (text: string) => {
    const fresh = new URLSearchParams(params);
    fresh.set("rare", text);
    setParams(fresh, { replace: true });
  };
  return (
    <PageTitle
      title={`Formats of ${data.release_title}`}
      verdict={data.verdict}
      crumbs={[
        { name: "Products", to: "/products" },
        { name: data.release_title, to: `/products/${release}` },
        { name: "Formats side by side" },
      ]}
    >
      <ReleaseTabs release={release} />
      <Returns formats={data.formats} />
      <Overlaid formats={data.formats} />
      <Box sx={{ display: "flex", gap: 3, alignItems: "center", mb: 2, flexWrap: "wrap" }}>
        <BasisChoice basis={data.basis} />
        <ValueField
          label="Rare: less than one in so many packs"
          value={String(rare)}
          commit={setRare}
          fault={/^\d{1,6}(\.\d+)?$/.test(params.get("rare") ?? "50") ? null : "a number of packs"}
          width={250}
        />
      </Box>
      <Section
        title="Side by side"
        point={`${data.currency}, one of each; prices of ${day(data.priced_on)}, ${age(data.priced_on, new Date())}`}
      >
        <SideBySide release={release} formats={data.formats} />
      </Section>
      {data.refused.map((item) => (
        <Aside key={item.name}>
          <b>{item.name}</b> cannot be valued: {item.why}
        </Aside>
      ))}
      <Aside>
        A higher hit rate can go with poorer hits: look at the value, not at the count. Estimates, not advice.
      </Aside>
    </PageTitle>
  );
}

/** What comes back of each unit of money, as bars: the picture of the page. */
function Returns({ formats }: { formats: Facts[] }) {
  const priced = formats.filter((item) => item.returned !== null);
  const most = Math.max(1, ...priced.map((item) => item.returned ?? 0));
  return (
    <Box
      role="img"
      aria-label="What comes back of each unit of money, by format"
      sx={{ mb: 3, maxWidth: 900 }}
    >
      {priced.map((item) => (
        <Box
          key={item.format.id}
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "130px minmax(0, 1fr) 250px" },
            alignItems: "center",
            gap: 1.5,
            py: 0.6,
            fontSize: 13,
          }}
        >
          <b>{item.format.name}</b>
          <Box sx={{ position: "relative", height: 18, bgcolor: "divider" }}>
            <Box
              sx={{
                height: 18,
                width: `${((item.returned ?? 0) / most) * 100}%`,
                bgcolor: (item.returned ?? 0) >= 1 ? "tone.gain" : "tone.loss",
              }}
            />
            <Box
              sx={{
                position: "absolute",
                top: -3,
                bottom: -3,
                left: `${(1 / most) * 100}%`,
                borderLeft: 3,
                borderColor: "tone.flag",
              }}
            />
          </Box>
          <span>
            {item.lower_bound && "≥ "}
            {percent(item.returned)} comes back, loses in {atMost(item)}
            {percent(item.loss)}
          </span>
        </Box>
      ))}
    </Box>
  );
}

const atMost = (item: Facts) => (item.lower_bound ? "≤ " : "");

const TONES = ["ink", "gain", "loss", "soft"] as const;

/** What each format may give back for what it costs, one over the other. */
function Overlaid({ formats }: { formats: Facts[] }) {
  const priced = formats.filter((item) => item.outlay !== null && item.outlay > 0);
  if (priced.length === 0) return null;
  return (
    <Section title="How often so much of the money comes back" point="or more; each against its own cost">
      <Plot
        label={`Chance that at least the cost comes back: ${priced.map((item) => `${item.format.name} ${percent(item.loss === null ? null : 1 - item.loss)}`).join(", ")}`}
        lines={priced.map((item, at) => ({
          name: item.format.name,
          points: item.curve.map(({ amount, chance }) => [amount / (item.outlay ?? 1), chance] as const),
          tone: TONES[at % TONES.length]!,
          dashed: at >= TONES.length,
        }))}
        verticals={[{ x: 1, text: "what it costs" }]}
        xName="of its cost"
        xText={(value) => `${Math.round(value * 100)} %`}
        yText={percent}
        yMax={1}
        yTicks={[0, 0.25, 0.5, 0.75, 1]}
      />
    </Section>
  );
}

function SideBySide({ release, formats }: { release: string; formats: Facts[] }) {
  const bound = (item: Facts) => (item.lower_bound ? "≥ " : "");
  const rows: [string, (item: Facts) => string][] = [
    ["Chance of a loss", (item) => (item.loss === null ? "no price" : atMost(item) + percent(item.loss))],
    ["Comes back of what it costs", (item) => `${bound(item)}${percent(item.returned)}`],
    ["Price", (item) => money(item.price)],
    ["Cost of a pack", (item) => money(item.per_pack)],
    ["Cost of a card", (item) => money(item.per_card)],
    ["Average", (item) => bound(item) + money(item.mean)],
    ["Middle", (item) => bound(item) + money(item.middle)],
    ["Average of a pack", (item) => bound(item) + money(item.mean_per_pack)],
    ["Average of a card", (item) => bound(item) + money(item.mean_per_card)],
    ["Hits in a box", (item) => hits(item.hits)],
    ["Rare hits in a box", (item) => hits(item.rare)],
    ["Cost of a hit", (item) => money(item.cost_per_hit)],
  ];
  return (
    <Table label="Formats side by side">
      <thead>
        <tr>
          <th scope="col" aria-label="actions" />
          {formats.map((item) => (
            <th scope="col" key={item.format.id} className="figure">
              <Link to={`/products/${release}/${item.format.id}`}>{item.format.name}</Link>
              <br />
              {item.format.contents}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, show]) => (
          <tr key={name} data-row>
            <td>
              <span data-cell>{name}</span>
            </td>
            {formats.map((item) => (
              <td key={item.format.id} className="figure">
                {show(item)}
              </td>
            ))}
          </tr>
        ))}
        {formats.some((item) => item.guesses.length > 0) && (
          <tr>
            <td>Rests on</td>
            {formats.map((item) => (
              <td key={item.format.id} className="figure" style={{ whiteSpace: "normal" }}>
                <Guesses guesses={item.guesses} to={`/products/${release}/${item.format.id}#guesses`} />
              </td>
            ))}
          </tr>
        )}
        <tr>
          <td>Only here</td>
          {formats.map((item) => (
            <td key={item.format.id} className="figure" style={{ whiteSpace: "normal" }}>
              {item.only_here.join(", ") || "nothing"}
            </td>
          ))}
        </tr>
      </tbody>
    </Table>
  );
}
