import * as z from "zod/mini";
import { useState } from "react";
import Box from "@mui/material/Box";
import { client, take } from "../../shared/api/client";
import { day, money } from "../../shared/format";
import { EntryRow } from "../../shared/forms/EntryRow";
import { ChoiceField, DayField, MoneyField, WordsField } from "../../shared/forms/fields";
import { amount, code, day as dayShape, maybeAmount, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useToday } from "../../shared/useToday";
import { KEYS } from "./queries";
import type { Submission } from "./submission";

const KINDS = {
  service: "service",
  shipping: "a parcel",
  duty: "duty",
  tax: "tax",
  other: "something else",
};

/** The bill part by part; each lands on the cards that it was for, to the cent. */
export function Bills({ data }: { data: Submission }) {
  const today = useToday();
  const [shape] = useState(() =>
    z.object({
      kind: words,
      amount,
      currency: code,
      day: dayShape(today),
      purse: words,
      rate: maybeAmount,
      over: words,
    }),
  );
  const { form, submit, busy, faults } = useEntry({
    draft: `a bill of ${data.number}`,
    empty: {
      kind: "service",
      amount: "",
      currency: data.grader_currency,
      day: today,
      purse: "bank",
      rate: "",
      over: "",
    },
    shape,
    send: ({ over, kind, ...said }) => {
      const lines = over
        .split(/[\s,;]+/)
        .filter(Boolean)
        .map(Number);
      return take(
        client.POST("/api/submissions/{number}/bills", {
          params: { path: { number: data.number } },
          body: {
            charges: [
              {
                ...said,
                kind: kind as keyof typeof KINDS,
                over:
                  lines.length > 0
                    ? lines.map((line) => data.cards.find((it) => it.line === line)?.item ?? 1)
                    : null,
              },
            ],
          },
        }),
      );
    },
    keys: KEYS,
    text: "Booked.",
  });
  const { control } = form;
  return (
    <Section title="The bill" point="each part over the cards that it was for, to the cent">
      {data.charges.length === 0 ? (
        <Box sx={{ py: 0.5, color: "text.secondary" }}>Nothing is billed yet.</Box>
      ) : (
        <Table label="The bill">
          <Heads of={["for", "day", { figure: "amount" }, { figure: "at home" }]} />
          <tbody>
            {data.charges.map((it, at) => (
              <tr key={at} data-row>
                <td data-cell>{it.kind}</td>
                <td className="day">{day(it.day)}</td>
                <td className="figure">
                  {money(it.amount)} {it.currency}
                </td>
                <td className="figure">{money(it.home)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <EntryRow submit={submit} busy={busy} faults={faults} act="Book it">
        <ChoiceField control={control} name="kind" label="For" choices={KINDS} width={140} />
        <MoneyField control={control} name="amount" label="Amount" />
        <WordsField control={control} name="currency" label="Currency" width={80} />
        <DayField control={control} name="day" label="Day" />
        <WordsField control={control} name="over" label="Over nos." hint="empty: all" width={110} />
        <WordsField control={control} name="purse" label="Paid from" width={100} />
        <MoneyField control={control} name="rate" label="Rate" hint="empty: of the day" />
      </EntryRow>
    </Section>
  );
}
