import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Figures } from "../../shared/Figures";
import { gain, hits, money, oneIn, percent } from "../../shared/format";
import { holds, losesIn } from "../../shared/prospect";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { plain } from "../../shared/VerdictLine";
import { type Opening } from "./entering";

/** What may still come, by line: in all packs left, in one of them, and what that is worth. */
export function StillInside({ data }: { data: Opening }) {
  const packs = data.left_packs === 1 ? "the pack" : `the ${data.left_packs} packs`;
  return (
    <Section
      title="Still in there"
      point={`${data.currency}, in ${packs} left, about ${money(data.left_per_pack)} a pack`}
    >
      <Table label="Still in there">
        <Heads of={["Line", { figure: "expected" }, { figure: "a pack" }, { figure: "about" }]} />
        <tbody>
          {data.left.map((item) => (
            <tr key={item.line} data-row>
              <td>
                <span data-cell>{item.name}</span>
              </td>
              <td className="figure">{hits(item.hits)}</td>
              <td className="figure">{oneIn(data.left_packs / item.hits, "packs")}</td>
              <td className="figure">{money(item.value)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      {data.chances.length > 0 && <SomePacks chances={data.chances} />}
    </Section>
  );
}

/** How likely some of the packs left of this box hold at least one of what it still owes. */
function SomePacks({ chances }: { chances: Opening["chances"] }) {
  const [packs, setPacks] = useState(1);
  const taken = Math.min(packs, chances.length);
  const said = chances[taken - 1];
  return (
    <Box sx={{ mt: 1.5, fontSize: 13, display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
      <TextField
        select
        variant="standard"
        value={taken}
        onChange={(event) => setPacks(Number(event.target.value))}
        slotProps={{ select: { native: true }, htmlInput: { "aria-label": "How many of the packs left" } }}
      >
        {chances.map((_, at) => (
          <option key={at} value={at + 1}>
            {at + 1}
          </option>
        ))}
      </TextField>
      <span aria-live="polite">{said && plain(said.sentence)}</span>
    </Box>
  );
}

/** One box before the first pack: what was paid, what it sells for as it is, what it may hold. */
export function BeforeIt({
  prospect,
  currency,
}: {
  prospect: NonNullable<Opening["prospect"]>;
  currency: string;
}) {
  return (
    <>
      <Section title="One box" point={currency}>
        <Figures
          rows={[
            ["Paid", money(prospect.paid)],
            ["Sealed, today", money(prospect.sealed)],
            ["Most to pay by your rule", money(prospect.most)],
            ["Opened, on average", holds(prospect)],
            ["Chance of less than paid", losesIn(prospect)],
          ]}
        />
      </Section>
      <Aside>{CARE}</Aside>
    </>
  );
}

export const CARE = `Cut wrappers away from your fingers; keep a blade off the cards. Average lines do not remember: a dry box
  owes nothing.`;

const atLeast = (isBound: boolean) => (isBound ? "≥ " : "");

export function Account({ data, running }: { data: Opening; running: boolean }) {
  const end = data.pulled_worth + data.left_value - Number(data.cost ?? NaN);
  const bound = atLeast(data.pulled_unknown > 0 || (running && data.left_lower_bound));
  return (
    <>
      <Section title={running ? "Running account" : "Account"} point={`about, ${data.currency}`}>
        <Figures
          rows={[
            ["Cost of this", money(data.cost)],
            [
              running ? "Pulled so far" : "Pulled",
              atLeast(data.pulled_unknown > 0) + money(data.pulled_worth),
            ],
            ...(running
              ? ([
                  ["Still expected", atLeast(data.left_lower_bound) + money(data.left_value)],
                  ["Where it will end, about", data.cost === null ? "unknown" : bound + gain(end)],
                ] as const)
              : ([["Result", data.cost === null ? "unknown" : bound + gain(end)]] as const)),
            ...(data.luck === null ? [] : ([["Such boxes that hold less", percent(data.luck)]] as const)),
            ...(Number(data.entertainment) > 0
              ? ([["For fun", percent(Number(data.entertainment))]] as const)
              : []),
          ]}
        />
      </Section>
      <Section title="Against the odds" point="came, of expected">
        <Figures
          rows={data.results.map((item) => [
            item.name,
            `${item.observed} of ${hits(item.expected)}${item.p_more !== null && item.observed > item.expected && item.p_more < 0.1 ? `, by luck ${percent(item.p_more)}` : ""}`,
          ])}
        />
      </Section>
      <Aside>{CARE}</Aside>
    </>
  );
}
