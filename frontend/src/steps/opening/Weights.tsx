import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { day } from "../../shared/format";
import { EntryRow } from "../../shared/forms/EntryRow";
import { CheckField, ChoiceField, MoneyField } from "../../shared/forms/fields";
import { figure, shape } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { keyed, useOnce } from "../../shared/useOnce";
import { plain } from "../../shared/VerdictLine";

const HELD: Record<string, boolean> = { yes: true, no: false };
const HELD_WORDS = { "": "not known yet", yes: "yes", no: "no" };
const WEIGHT = z.object({
  grams: figure,
  held_hit: shape((text) => ({ value: HELD[text] ?? null })),
  sure: z.boolean(),
});

const FEW = 8;

interface Corrected {
  number: number;
  grams: number;
  held_hit: boolean | null;
  /** What stood there, to take it back. */
  was: boolean | null;
}

/** The owner's own weights of a format, and whether they told which box held a hit. */
export function Weights({ release, format }: { release: string; format: string }) {
  const query = { release, format, unit: "box" as const };
  const [more, setMore] = useState(false);
  const weights = useQuery({
    queryKey: ["weights", query],
    queryFn: () => take(client.GET("/api/weights", { params: { query } })),
  });
  const log = (grams: number | null, held_hit: boolean | null, sure: boolean, key: string) =>
    take(client.POST("/api/weights", { body: { ...query, grams, held_hit, sure }, ...keyed(key) }));
  const { form, submit, busy, faults } = useEntry({
    draft: `weight of ${release}/${format}`,
    empty: { grams: "", held_hit: "", sure: false },
    shape: WEIGHT,
    send: ({ grams, held_hit, sure }, key) => log(grams, held_hit, sure, key),
    keys: ["weights"],
    text: (found) => `${found.weights[0]?.grams ?? ""} g logged.`,
  });
  const once = useOnce();
  const scale = useAct(
    () => log(null, HELD[form.getValues("held_hit")] ?? null, form.getValues("sure"), once.key()),
    {
      keys: ["weights"],
      text: (found) => `${found.weights[0]?.grams ?? ""} g logged.`,
      done: once.made,
    },
  );
  const drop = useAct(
    (number: number) => take(client.DELETE("/api/weights/{number}", { params: { path: { number } } })),
    {
      keys: ["weights"],
      text: "The weight was taken back.",
      undo: (number) => take(client.POST("/api/weights/{number}/restore", { params: { path: { number } } })),
    },
  );
  const put = ({ number, held_hit }: Corrected) =>
    take(client.PUT("/api/weights/{number}", { params: { path: { number } }, body: { held_hit } }));
  const correct = useAct(put, {
    keys: ["weights"],
    told: ({ grams }) => `Kept: what ${grams} g held.`,
    undo: ({ was, ...weight }) => put({ ...weight, was, held_hit: was }),
  });
  const all = weights.data?.weights ?? [];
  return (
    <Section title="Does weight tell?" point="from your own boxes">
      {weights.data && (
        <Box sx={{ py: 1 }}>
          <b>{plain(weights.data.verdict.sentence)}</b> {plain(weights.data.verdict.rests_on)}
        </Box>
      )}
      <EntryRow
        submit={submit}
        busy={busy}
        faults={faults}
        act="Log it"
        after={
          <>
            <Button color="inherit" disabled={scale.isPending} onClick={() => scale.mutate(undefined)}>
              Read the scale
            </Button>
          </>
        }
      >
        <MoneyField control={form.control} name="grams" label="Weight of a box, g" width={170} />
        <ChoiceField
          control={form.control}
          name="held_hit"
          label="It held a hit"
          choices={HELD_WORDS}
          width={150}
        />
        {form.formState.errors.grams && <CheckField control={form.control} name="sure" label="It is right" />}
      </EntryRow>
      {all.length > 0 && (
        <Table label="Weights">
          <Heads of={["Day", { figure: "g" }, "It held a hit", { hidden: "actions" }]} />
          <tbody>
            {all.slice(0, more ? undefined : FEW).map((weight) => (
              <tr key={weight.number} data-row>
                <td className="day">{day(weight.day)}</td>
                <td className="figure">{weight.grams}</td>
                <td>
                  <ChoiceBox
                    label={`${weight.grams} g held a hit`}
                    value={weight.held_hit === null ? "" : weight.held_hit ? "yes" : "no"}
                    set={(text) =>
                      correct.mutate({ ...weight, was: weight.held_hit, held_hit: HELD[text] ?? null })
                    }
                    choices={HELD_WORDS}
                    width={170}
                  />
                </td>
                <td className="figure">
                  <Button color="inherit" data-cell onClick={() => drop.mutate(weight.number)} sx={{ py: 0 }}>
                    Take {weight.grams} g back
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {all.length > FEW && (
        <Button color="inherit" onClick={() => setMore(!more)}>
          {more ? "The newest only" : `All ${all.length}`}
        </Button>
      )}
      <Aside>
        {weights.data?.weights.length ?? 0} weighed. Weights are never a promise; do not sell sifted packs as
        untouched.
      </Aside>
    </Section>
  );
}
