import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import type { Schemas } from "../../shared/api/client";
import { hits, money, percent } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { PayingRule } from "./PayingRule";

/** The figures beside the picture: this holding, the most to pay, pack, box and case, and what is unknown. */
export function BoxFigures({ answer }: { answer: Schemas["AnswerOut"] }) {
  const bound = answer.lower_bound ? "at least " : "about ";
  const name = answer.unit === "pack" ? "One pack" : answer.boxes === 1 ? "One box" : `${answer.boxes} boxes`;
  return (
    <Box component="aside" aria-label="Figures">
      <Section title={name} point={`${answer.currency}, before selling costs`}>
        <Figures
          rows={[
            ["Chance of a loss", answer.loss === null ? "no price" : percent(answer.loss)],
            ["Middle", bound + money(answer.quantiles["0.5"])],
            ["Average", bound + money(answer.mean)],
            ["Spread (standard deviation)", money(answer.deviation)],
            ["Worst tenth, on average", money(answer.worst_tenth)],
            ["1 in 20 is under", money(answer.quantiles["0.05"])],
            ["1 in 20 is over", money(answer.quantiles["0.95"])],
          ]}
        />
      </Section>
      <Section title="Most to pay" point="sticker price">
        <PayingRule answer={answer} />
      </Section>
      <Section title="Pack, box, case" point="most to pay">
        <Box
          component="table"
          sx={{
            width: "100%",
            borderSpacing: 0,
            fontSize: 13,
            "& td, & th": { py: 0.4, textAlign: "right", fontWeight: 400 },
            "& :first-of-type": { textAlign: "left" },
            "& thead th": { fontSize: 12, color: "text.secondary" },
          }}
        >
          <thead>
            <tr>
              <th />
              <th>loss</th>
              <th>most</th>
              <th>a pack</th>
            </tr>
          </thead>
          <tbody>
            {answer.units.map((unit) => (
              <tr key={unit.name}>
                <th scope="row">{unit.name}</th>
                <td>{unit.loss === null ? "no price" : percent(unit.loss)}</td>
                <td>
                  <b>{money(unit.most)}</b>
                </td>
                <td>{money(unit.most_per_pack)}</td>
              </tr>
            ))}
          </tbody>
        </Box>
        {answer.price !== null && answer.unit === "boxes" && answer.format.packs_per_box > 1 && (
          <Figures rows={[["Today’s price, a pack", money(answer.price / answer.format.packs_per_box)]]} />
        )}
      </Section>
      <Section title="If the market moves" point="chance of a loss">
        <Figures
          rows={answer.market.map(({ factor, loss }) => [
            MARKETS[String(factor)] ?? `times ${factor}`,
            loss === null ? "no price" : percent(loss),
          ])}
        />
      </Section>
      <Doubts answer={answer} />
    </Box>
  );
}

const MARKETS: Record<string, string> = { "0.5": "half, by the sale", "1": "as today", "1.5": "half again" };

function Figures({ rows }: { rows: [string, ReactNode][] }) {
  return (
    <Box
      component="dl"
      sx={{
        m: 0,
        display: "grid",
        gridTemplateColumns: "1fr auto",
        rowGap: 0.6,
        fontSize: 13,
        "& dt": { color: "text.secondary" },
        "& dd": { m: 0, fontWeight: 600, textAlign: "right" },
      }}
    >
      {rows.map(([name, value]) => [<dt key={name}>{name}</dt>, <dd key={`${name} value`}>{value}</dd>])}
    </Box>
  );
}

/** What is unknown, what was assumed, and that this is a game of chance. */
function Doubts({ answer }: { answer: Schemas["AnswerOut"] }) {
  const assumed = answer.assumed.reduce((sum, item) => sum + item.cards.length, 0);
  return (
    <Aside>
      {answer.unknown.map((item) => (
        <Box key={item.line + item.matter} sx={{ mb: 0.75 }}>
          {item.matter === "split" ? "Split unknown" : "Left out"}: <b>{item.name}</b>, {item.why}
          {item.hits !== null && ` (${hits(item.hits)} hits expected)`}.
        </Box>
      ))}
      {answer.low && (
        <Box sx={{ mb: 0.75 }}>
          {assumed} unknown {assumed === 1 ? "price counts" : "prices count"} at the average of{" "}
          {assumed === 1 ? "its" : "their"} line (
          {answer.assumed.map((item) => `${item.name} ${item.cards.join(", ")}`).join("; ")}). At the line’s
          lowest instead: average {money(answer.low.mean)}, middle {money(answer.low.middle)}, most to pay{" "}
          {money(answer.low.most)}
          {answer.low.loss !== null && `, loss ${percent(answer.low.loss)}`}.
        </Box>
      )}
      Opening is a game of chance. These are estimates from prices and odds, not advice.
    </Aside>
  );
}
