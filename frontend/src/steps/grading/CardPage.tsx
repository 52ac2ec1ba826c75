import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { Figures } from "../../shared/Figures";
import { priceOf } from "../../shared/cardPages";
import { axisMoney, gain, money, percent } from "../../shared/format";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { PageTitle } from "../../shared/PageTitle";
import { newest } from "../../shared/photos";
import { Plot } from "../../shared/Plot";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { plain } from "../../shared/VerdictLine";
import { gemOf, likeliest } from "./chances";
import { Chances } from "./Chances";
import { Cleaning } from "./Cleaning";
import { NoPicture, pair, Picture, type Side } from "./Measuring";
import { GraderChoice, useAsked } from "./GraderChoice";
import { close, type Close } from "./queries";

/** A card looked at closely before it goes: measured, marked, and whether it is worth grading. */
export default function CardPage() {
  const number = Number(useParams().number);
  const asked = useAsked();
  const found = useQuery({ ...close(number, asked), placeholderData: keepPreviousData });
  if (!found.data) return <Answer of={found} />;
  return <Shown data={found.data} />;
}

function Shown({ data }: { data: Close }) {
  const [side, setSide] = useState<Side>("front");
  useKey("b", "front or back", () => setSide((now) => (now === "front" ? "back" : "front")));
  const photo = newest(data.photos, side);
  return (
    <PageTitle
      title={data.name}
      verdict={data.verdict}
      crumbs={[
        { name: "Grading", to: "/grading" },
        { name: "Worth grading", to: "/grading/-/worth" },
        { name: data.name },
      ]}
    >
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 420px) minmax(0, 1fr)" },
          columnGap: 3.5,
          rowGap: 2,
        }}
      >
        <Box>
          <Box role="group" aria-label="Side" sx={{ display: "flex", gap: 1, mb: 1 }}>
            {(["front", "back"] as const).map((name) => (
              <Button
                key={name}
                color="inherit"
                aria-pressed={side === name}
                onClick={() => setSide(name)}
                sx={{
                  borderRadius: 0,
                  borderBottom: 3,
                  borderColor: side === name ? "tone.marker" : "transparent",
                  fontWeight: side === name ? 700 : 400,
                }}
              >
                {name}
              </Button>
            ))}
            <Box sx={{ alignSelf: "center", fontSize: 13, color: "text.secondary" }}>
              <Key>B</Key> turns it
            </Box>
          </Box>
          {photo ? (
            <Picture key={photo.number} photo={photo} data={data} side={side} />
          ) : (
            <NoPicture item={data.item} side={side} />
          )}
        </Box>
        <Box>
          <Measures data={data} />
          <Flaws data={data} />
          <Worth data={data} />
          <Chances data={data} />
          <Cleaning item={data.item} />
        </Box>
      </Box>
    </PageTitle>
  );
}

const SIZES = {
  right: () => "as its line should be",
  short: ([wide, high]: readonly number[]) => `under ${wide} x ${high}: trimmed?`,
  aslant: () => "taken aslant: not sure",
} as const;

function Measures({ data }: { data: Close }) {
  const told = data.sides.find((it) => it.found?.size);
  const size = told?.found?.size;
  const grader = data.graders.find((it) => it.grader === data.grader);
  return (
    <Section title="Measured" point={`what ${grader?.name} allows`}>
      {data.sides.length === 0 ? (
        <Box sx={{ py: 1, color: "text.secondary" }}>
          Nothing yet: without a picture its centering is only guessed.
        </Box>
      ) : (
        <Table label="Measured">
          <Heads of={["side", { figure: "left to right" }, { figure: "top to bottom" }, "allows"]} />
          <tbody>
            {data.sides.map((it) => (
              <tr key={it.side} data-row>
                <td>{it.side}</td>
                <td className="figure">
                  <b data-cell>{it.found ? pair(it.found.left_right) : ""}</b>
                </td>
                <td className="figure">
                  <b>{it.found ? pair(it.found.top_bottom) : ""}</b>
                </td>
                <td>{it.found ? (it.allows ? `a ${it.allows}` : "") : it.refused}</td>
              </tr>
            ))}
            <tr data-row>
              <td>size</td>
              <td className="figure">{size ? `${size[0]!.toFixed(1)} x ${size[1]!.toFixed(1)} mm` : ""}</td>
              <td />
              <td>{told?.size_says ? SIZES[told.size_says](data.size) : "not told by the picture"}</td>
            </tr>
          </tbody>
        </Table>
      )}
    </Section>
  );
}

function Flaws({ data }: { data: Close }) {
  return (
    <Section
      title="Flaws"
      point={
        <Link to={`/stock/${data.item}/condition`}>{data.flaws.length ? "mark more" : "mark them"}</Link>
      }
    >
      {data.faults.length > 0 && <Aside>Known of this release: {data.faults.join("; ")}</Aside>}
      {data.usual && <Aside>{data.usual}</Aside>}
      {data.flaws.length === 0 ? (
        <Box sx={{ py: 0.5, color: "text.secondary" }}>None is marked.</Box>
      ) : (
        <Box component="ul" sx={{ m: 0, pl: 2.25 }}>
          {data.flaws.map((flaw, at) => (
            <li key={at}>{flaw.words}</li>
          ))}
        </Box>
      )}
      <Box sx={{ fontSize: 13, color: "text.secondary", mt: 0.5 }}>{plain(data.pre_verdict.sentence)}</Box>
    </Section>
  );
}

function Worth({ data }: { data: Close }) {
  const { curve, rate } = data;
  return (
    <Section title="Is it worth it?" point={`gain in ${data.currency} over the chance of the top grade`}>
      <GraderChoice grader={data.grader} tier={data.tier} />
      {data.gain === null && (
        <Box sx={{ my: 0.5 }}>
          <Link to={priceOf(data)}>Look up what it goes for</Link>, raw and by grade.
        </Box>
      )}
      {curve && (
        <Plot
          label="What grading gains over the chance of the top grade"
          lines={[
            { name: "gain", points: curve.gem.map((x, at) => [x, curve.gain[at]!] as const), tone: "gain" },
          ]}
          marks={data.gain === null ? [] : [{ x: data.grades[0]!.chance, y: data.gain, text: "this card" }]}
          verticals={data.even === null ? [] : [{ x: data.even, text: `even at ${percent(data.even)}` }]}
          bands={
            rate && rate.of >= 5
              ? [
                  {
                    from: rate.low,
                    to: rate.high,
                    text: `you: ${percent(rate.low)} to ${percent(rate.high)}`,
                  },
                ]
              : []
          }
          xName="chance"
          xText={(x) => percent(x)}
          yText={(y) => axisMoney(Math.round(y))}
          height={210}
        />
      )}
      <Table label="By grade">
        <Heads of={["grade", { figure: "chance" }, { figure: "brings" }, { figure: "leaves" }, "best"]} />
        <tbody>
          {data.grades
            .filter((it) => it.chance >= 0.002)
            .map((it) => (
              <tr key={it.grade} data-row>
                <td data-cell>{it.grade}</td>
                <td className="figure">{percent(it.chance)}</td>
                <td className="figure">
                  {it.guessed ? "about " : ""}
                  {money(it.value)}
                </td>
                <td className="figure">{it.net === null ? "" : money(it.net)}</td>
                <td>{it.action === "crack" ? "crack, sell raw" : it.action}</td>
              </tr>
            ))}
        </tbody>
      </Table>
      <Box sx={{ mt: 1.5 }}>
        <Figures
          rows={[
            ["Raw now", money(data.raw)],
            ["The fee, with duty", money(data.fee)],
            ["All that it costs", money(data.cost)],
            ["Gain", gain(data.gain)],
            ["A month", gain(data.per_month)],
          ]}
        />
      </Box>
      <Others data={data} />
    </Section>
  );
}

/** What the other graders may make of it. */
function Others({ data }: { data: Close }) {
  if (data.graders.length < 2) return null;
  return (
    <Box sx={{ mt: 2 }}>
      <Table label="By grader">
        <Heads of={["grader", { figure: "strictly" }, { figure: "leniently" }, { figure: "top grade" }]} />
        <tbody>
          {data.graders.map((it) => {
            const [strict, lenient] = [likeliest(it.strict), likeliest(it.lenient)];
            return (
              <tr key={it.grader} data-row>
                <td data-cell>{it.name}</td>
                <td className="figure">{strict && `${strict[0]} in ${percent(strict[1])}`}</td>
                <td className="figure">{lenient && `${lenient[0]} in ${percent(lenient[1])}`}</td>
                <td className="figure">{percent(gemOf(it.chances))}</td>
              </tr>
            );
          })}
        </tbody>
      </Table>
    </Box>
  );
}
