import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import type { Schemas } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { money, percent } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Doubts } from "./Doubts";
import { PayingRule } from "./PayingRule";

/** The figures beside the picture: this holding, the most to pay, pack, box and case, and what is unknown. */
export function BoxFigures({ answer, children }: { answer: Schemas["AnswerOut"]; children?: ReactNode }) {
  const bound = answer.lower_bound ? "at least " : "about ";
  const name = answer.unit === "pack" ? "One pack" : answer.boxes === 1 ? "One box" : `${answer.boxes} boxes`;
  return (
    <>
      <Section title={name} point={`${answer.currency}, ${answer.basis.basis === "gross" ? "gross" : "net"}`}>
        <Figures
          rows={[
            [
              "Chance of a loss",
              answer.loss === null ? "no price" : (answer.lower_bound ? "up to " : "") + percent(answer.loss),
            ],
            ...(answer.outlay !== null && answer.landed !== null && answer.outlay > answer.landed + 0.004
              ? [["Cost, with your time", money(answer.outlay)] as const]
              : []),
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
            "& tbody th": { textAlign: "left" },
            "& thead th": { fontSize: 12, color: "text.secondary" },
          }}
        >
          <thead>
            <tr>
              <th scope="col" aria-label="actions" />
              <th scope="col">loss</th>
              <th scope="col">most</th>
              <th scope="col">a pack</th>
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
      {children}
      <Doubts answer={answer} />
    </>
  );
}
