import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import * as z from "zod/mini";
import { client, take, type Schemas } from "../../shared/api/client";
import { EntryRow } from "../../shared/forms/EntryRow";
import { WordsField } from "../../shared/forms/fields";
import { words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { count, counted, day, money, percent } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { PRICED } from "./kinds";

type Ladder = Schemas["LadderOut"];
type Rung = Ladder["rungs"][number];

interface Props {
  ladders: readonly Ladder[];
  gems: string;
  card: Omit<Schemas["PopulationsIn"], "text">;
  choose: (state: string) => void;
}

/** Each grader's grades, one above another: what they are worth, how many there are, where a lower one went for more. */
export function Graded({ ladders, gems, card, choose }: Props) {
  const { form, submit, busy, faults } = useEntry({
    draft: `populations of ${card.release} ${card.line} ${card.number}`,
    empty: { text: "" },
    shape: z.object({ text: words }),
    send: (body, key) =>
      take(
        client.POST("/api/prices/card/populations", {
          body: { ...card, ...body },
          headers: { "Idempotency-Key": key },
        }),
      ),
    keys: PRICED,
    text: ({ added }) => `${counted(added, "grade")} counted.`,
  });
  return (
    <Section title="Graded" point="worth by grade, and how many there are">
      {ladders.map((ladder) => (
        <Box key={ladder.grader} sx={{ mb: 2 }}>
          <Table label={`Grades of ${ladder.grader}`}>
            <Heads
              of={[
                ladder.grader,
                { figure: "sales" },
                { figure: "worth" },
                { figure: "fitted" },
                { figure: "copies" },
                { figure: "sold a year" },
              ]}
            />
            <tbody>
              {[...ladder.rungs].reverse().map((rung) => (
                <Row key={rung.grade} rung={rung} choose={() => choose(`${ladder.grader}:${rung.grade}`)} />
              ))}
            </tbody>
          </Table>
          <Box sx={{ fontSize: 12, color: "text.secondary", mt: 0.5 }}>
            {ladder.reversals.map(([lower, higher]) => (
              <div key={`${lower} ${higher}`}>
                {lower} went for more than {higher}: fitted to the same.
              </div>
            ))}
            {ladder.graded === null
              ? "How many there are was not looked up."
              : `${count(ladder.graded)} graded, ${count(ladder.gems ?? 0)} of them gems` +
                (ladder.gem_rate === null
                  ? ""
                  : `: ${percent(ladder.gem_rate)} (${percent(ladder.gem_low ?? 0)} to ${percent(ladder.gem_high ?? 0)})`) +
                (ladder.counted_on === null ? "." : `, counted ${day(ladder.counted_on)}.`)}
          </Box>
        </Box>
      ))}
      {gems && <Aside>{gems}</Aside>}
      <EntryRow submit={submit} busy={busy} faults={faults} act="Count" label="Populations">
        <WordsField
          control={form.control}
          name="text"
          label="How many there are, a line for each grader"
          hint="Plumbline 10:12 9:40 8:22, with a day if it is not of today"
          width={420}
          more={{ multiline: true, maxRows: 6 }}
        />
      </EntryRow>
    </Section>
  );
}

function Row({ rung, choose }: { rung: Rung; choose: () => void }) {
  const fitted = rung.fitted === null ? "" : `${rung.estimated ? "about " : ""}${money(rung.fitted)}`;
  return (
    <tr data-row>
      <td>
        <Button
          color="inherit"
          onClick={choose}
          sx={{ p: 0, minWidth: 24, minHeight: 24, justifyContent: "flex-start" }}
        >
          {rung.grade}
        </Button>
      </td>
      <td className="figure">{rung.used === 0 ? "none" : count(rung.used)}</td>
      <td className="figure">{rung.estimate === null ? "unknown" : money(rung.estimate)}</td>
      <td className="figure">{fitted}</td>
      <td className="figure">
        {rung.population === null ? "unknown" : count(rung.population)}
        {rung.grown !== null &&
          rung.grown !== 0 &&
          ` (${rung.grown > 0 ? "+" : "\u2212"}${count(Math.abs(rung.grown))})`}
      </td>
      <td className="figure">{rung.sold_per_year === null ? "" : percent(rung.sold_per_year)}</td>
    </tr>
  );
}
