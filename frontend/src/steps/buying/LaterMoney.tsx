import { EntryRow } from "../../shared/forms/EntryRow";
import { useState } from "react";
import { useWatch } from "react-hook-form";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { ChoiceField, DayField, MoneyField, WordsField } from "../../shared/forms/fields";
import { amount, code, day, maybeAmount, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { keyed } from "../../shared/useOnce";
import { useToday } from "../../shared/useToday";
import { CHARGES } from "./draft";
import { KEYS, type Purchase } from "./queries";

const KINDS = { refund: "a refund", ...Object.fromEntries(CHARGES.map((kind) => [kind, kind])) };

/** Money that moves after a purchase was booked: a refund lowers what is left of its cost, duty that comes later raises it. */
export function LaterMoney({ data, home }: { data: Purchase; home: string }) {
  const today = useToday();
  const [shape] = useState(() =>
    z.pipe(
      z.object({
        kind: z.string(),
        amount,
        currency: code,
        rate: z.string(),
        day: day(today),
        purse: words,
      }),
      z.transform((typed, context) => {
        if (typed.currency === home) return { ...typed, rate: null }; // what is not shown is not sent
        const rate = maybeAmount.safeParse(typed.rate);
        if (rate.success) return { ...typed, rate: rate.data };
        const message = rate.error.issues[0]?.message ?? "";
        context.issues.push({ code: "custom", message, input: typed.rate, path: ["rate"] });
        return z.NEVER;
      }),
    ),
  );
  const { form, submit, busy, faults } = useEntry({
    draft: `later-${data.number}`,
    empty: {
      kind: "refund",
      amount: "",
      currency: data.charges[0]?.currency ?? home,
      rate: "",
      day: today,
      purse: data.charges[0]?.purse ?? "bank",
    },
    shape,
    send: ({ kind, ...rest }, key) => {
      const params = { path: { number: data.number } };
      const body = { ...rest, version: data.version };
      return kind === "refund"
        ? take(client.POST("/api/purchases/{number}/refund", { params, body, ...keyed(key) }))
        : take(
            client.POST("/api/purchases/{number}/charges", {
              params,
              body: { ...body, kind: kind as (typeof CHARGES)[number] },
              ...keyed(key),
            }),
          );
    },
    keys: [...KEYS, "spending"],
    text: "Booked.",
  });
  const { control } = form;
  const [kind, currency] = useWatch({ control, name: ["kind", "currency"] });
  return (
    <Section title="Money that moves later" point="refund, duty, return postage">
      <EntryRow submit={submit} busy={busy} faults={faults} act="Book it">
        <ChoiceField control={control} name="kind" label="What" choices={KINDS} width={125} />
        <MoneyField control={control} name="amount" label="Amount" width={105} />
        <WordsField control={control} name="currency" label="in" width={64} />
        {currency.toUpperCase() !== home && (
          <MoneyField control={control} name="rate" label={`Rate, ${home} for one`} width={130} />
        )}
        <DayField control={control} name="day" label="On" width={150} />
        <WordsField
          control={control}
          name="purse"
          label={kind === "refund" ? "Into" : "Paid from"}
          width={90}
        />
      </EntryRow>
    </Section>
  );
}
