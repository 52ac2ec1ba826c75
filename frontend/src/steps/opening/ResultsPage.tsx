import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { faultAt } from "../../shared/faults";
import { hits, percent } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { ValueField } from "../../shared/ValueField";
import { useOpenings } from "./queries";
import { Weights } from "./Weights";
import { besideStated } from "./whisker";
import { Answer } from "../../shared/Answer";

/** Odds against results over all finished sessions of a format, and whether weight tells. */
export default function ResultsPage() {
  const [params, setParams] = useSearchParams();
  const shelf = useQuery({ queryKey: ["shelf"], queryFn: () => take(client.GET("/api/releases")) });
  const sessions = useOpenings();
  const choices = (shelf.data?.releases ?? []).flatMap((release) =>
    release.formats.map((format) => ({
      key: `${release.id}/${format.id}`,
      name: `${release.title}, ${format.name}`,
    })),
  );
  const latest = sessions.data?.sessions.find((session) => session.state === "done");
  const chosen =
    params.get("of") ?? (latest ? `${latest.release}/${latest.format}` : (choices[0]?.key ?? ""));
  const [release = "", format = ""] = chosen.split("/");
  const strength = params.get("strength") || "3";
  const results = useQuery({
    queryKey: ["sessions", "results", chosen, strength],
    queryFn: () =>
      // What is no number is sent as it is, to be refused.
      take(
        client.GET("/api/results", { params: { query: { release, format, strength: strength as never } } }),
      ),
    enabled: format !== "",
    retry: false,
  });
  const set = (name: string, value: string) => {
    const fresh = new URLSearchParams(params);
    fresh.set(name, value);
    setParams(fresh, { replace: true });
  };
  if (!shelf.data) return <Answer of={shelf} />;
  if (!sessions.data) return <Answer of={sessions} />;
  return (
    <PageTitle
      title="Odds against results"
      verdict={results.data?.verdict}
      plain={
        results.isError && !faultAt(results.error, "strength")
          ? inWords(results.error)
          : "Odds against results"
      }
      crumbs={[{ name: "Opening", to: "/opening" }, { name: "Odds against results" }]}
    >
      <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap" }}>
        <TextField
          select
          label="Format"
          value={choices.some((item) => item.key === chosen) ? chosen : ""}
          onChange={(event) => set("of", event.target.value)}
          sx={{ minWidth: 300 }}
        >
          {choices.map((item) => (
            <MenuItem key={item.key} value={item.key}>
              {item.name}
            </MenuItem>
          ))}
        </TextField>
        <ValueField
          label="Stated odds count as so many expected hits"
          value={strength}
          commit={(text) => set("strength", text)}
          fault={faultAt(results.error, "strength")}
          width={290}
        />
      </Box>
      {results.data && <Lines data={results.data} />}
      {format && (
        <Against
          release={release}
          format={format}
          others={choices.filter((item) => item.key.startsWith(`${release}/`) && item.key !== chosen)}
          second={params.get("against") ?? ""}
          choose={(key) => set("against", key)}
        />
      )}
      {format && <Weights release={release} format={format} />}
    </PageTitle>
  );
}

function Lines({ data }: { data: Schemas["ResultsOut"] }) {
  const per = (rate: number | null) => (rate ? `1:${(1 / rate).toFixed(rate < 0.01 ? 0 : 1)}` : "unknown");
  return (
    <Section title={`${data.sessions} finished sessions`} point={`${data.packs} packs`}>
      <Table label="Odds against results">
        <thead>
          <tr>
            <th scope="col">Line</th>
            <th scope="col" className="figure">
              stated
            </th>
            <th scope="col" className="figure">
              came
            </th>
            <th scope="col" className="figure">
              expected
            </th>
            <th scope="col" className="figure">
              rate seen, 95 %
            </th>
            <th aria-hidden>less and more than stated</th>
            <th scope="col" className="figure">
              by luck
            </th>
            <th scope="col" className="figure">
              corrected
            </th>
            <th scope="col" className="figure">
              your odds now, 95 %
            </th>
          </tr>
        </thead>
        <tbody>
          {data.results.map((item) => (
            <tr key={item.line} data-row>
              <td>
                <span data-cell>{item.name}</span>
              </td>
              <td className="figure">{per(item.rate)}</td>
              <td className="figure">{item.observed}</td>
              <td className="figure">{hits(item.expected)}</td>
              <td className="figure">
                {item.right !== null
                  ? item.right
                    ? "all as promised"
                    : "not as promised"
                  : item.low === null || item.high === null
                    ? ""
                    : `${percent(item.low)} to ${percent(item.high)}`}
              </td>
              <td aria-hidden>
                <Whisker item={item} />
              </td>
              <td className="figure">{item.p_value === null ? "" : percent(item.p_value)}</td>
              <td className="figure">{item.corrected === null ? "" : percent(item.corrected)}</td>
              <td className="figure">
                {item.posterior !== null &&
                  `${per(item.posterior)} (${per(item.posterior_high)} to ${per(item.posterior_low)})`}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}

/** The rate seen with its interval beside the stated one, which is the line in the middle; what the figures say. */
function Whisker({ item }: { item: Schemas["ResultOut"] }) {
  if (item.low === null || item.high === null || !item.packs) return null;
  const x = (rate: number) => 4 + 132 * besideStated(rate, item.rate);
  const seen = item.observed / item.packs;
  const isOdd = item.corrected !== null && item.corrected < 0.05;
  return (
    <svg width={140} height={16} style={{ display: "block" }}>
      <line x1={70} x2={70} y1={0} y2={16} style={{ stroke: "var(--mui-palette-tone-ink)" }} />
      <line
        x1={x(item.low)}
        x2={x(item.high)}
        y1={8}
        y2={8}
        style={{ stroke: "var(--mui-palette-tone-soft)", strokeWidth: 2 }}
      />
      <circle
        cx={x(seen)}
        cy={8}
        r={4}
        style={{ fill: `var(--mui-palette-tone-${isOdd ? "flag" : "gain"})` }}
      />
    </svg>
  );
}

interface AgainstProps {
  release: string;
  format: string;
  others: { key: string; name: string }[];
  second: string;
  choose: (format: string) => void;
}

/** The same lines in another format of the release: per pack, and per what was paid. */
function Against({ release, format, others, second, choose }: AgainstProps) {
  const known = others.some((item) => item.key === `${release}/${second}`);
  const query = { release, first: format, second };
  const compared = useQuery({
    queryKey: ["sessions", "compared", query],
    queryFn: () => take(client.GET("/api/results/compared", { params: { query } })),
    enabled: known,
    retry: false,
  });
  const times = (ratio: number | null) => (ratio === null ? "no end" : `${ratio.toFixed(2)} ×`);
  if (others.length === 0) return null;
  return (
    <Section title="Against another format" point="how many times as often a line came here">
      <TextField
        select
        label="Against"
        value={known ? second : ""}
        onChange={(event) => choose(event.target.value)}
        sx={{ minWidth: 300, my: 1 }}
      >
        {others.map((item) => (
          <MenuItem key={item.key} value={item.key.split("/")[1]}>
            {item.name}
          </MenuItem>
        ))}
      </TextField>
      {compared.isError && <Aside>{inWords(compared.error)}</Aside>}
      {compared.data && (
        <Table label="Two formats against each other">
          <Heads
            of={[
              "Line",
              { figure: "here" },
              { figure: "there" },
              { figure: "per pack" },
              { figure: "by luck" },
              { figure: "per money paid" },
              { figure: "by luck" },
            ]}
          />
          <tbody>
            {compared.data.lines.map((item) => (
              <tr key={item.line} data-row>
                <td>
                  <span data-cell>{item.name}</span>
                </td>
                <td className="figure">{item.first_hits}</td>
                <td className="figure">{item.second_hits}</td>
                <td className="figure">{times(item.ratio)}</td>
                <td className="figure">{percent(item.p_value)}</td>
                <td className="figure">
                  {item.money_p_value === null ? "unknown" : times(item.money_ratio)}
                </td>
                <td className="figure">{item.money_p_value === null ? "" : percent(item.money_p_value)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </Section>
  );
}
