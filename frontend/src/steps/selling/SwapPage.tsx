import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useFieldArray, useWatch } from "react-hook-form";
import { useNavigate } from "react-router";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { cardName, CardSearch } from "../../shared/CardSearch";
import { FieldRow } from "../../shared/FieldRow";
import { day as inDays, money } from "../../shared/format";
import { CheckField, DayField, MoneyField, OtherFaults, WordsField } from "../../shared/forms/fields";
import { day, maybeAmount, maybeWords, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { keyed } from "../../shared/useOnce";
import { useToday } from "../../shared/useToday";
import { ItemSearch } from "./ItemSearch";
import { LISTED } from "./listings";
import { SellingTabs } from "./SellingTabs";
import { ThingRow } from "./ThingRow";

interface Got {
  name: string;
  release: string | null;
  line: string | null;
  number: string | null;
  variant: string;
  value: string;
}

/** A trade is written down: what is given, what comes for it, and the cash that evens it. */
export default function SwapPage() {
  const today = useToday();
  const navigate = useNavigate();
  const { form, submit, busy, faults, clear } = useEntry({
    draft: "a trade",
    empty: {
      day: inDays(today),
      given: [] as { item: number; name: string; worth: string }[],
      got: [] as Got[],
      sought: "",
      party: "",
      cash: "",
      comes_in: false,
      purse: "cash",
    },
    shape: z.object({
      day: day(today),
      given: z.array(z.object({ item: z.number(), name: z.string(), worth: z.string() })),
      got: z.array(
        z.object({
          name: words,
          release: z.nullable(z.string()),
          line: z.nullable(z.string()),
          number: z.nullable(z.string()),
          variant: z.string(),
          value: maybeAmount,
        }),
      ),
      sought: z.string(),
      party: maybeWords,
      cash: maybeAmount,
      comes_in: z.boolean(),
      purse: words,
    }),
    send: ({ given, got, day: on, party, cash, comes_in, purse }, key) =>
      take(
        client.POST("/api/trades", {
          body: {
            day: on,
            party,
            cash,
            comes_in,
            purse,
            given: given.map((it) => it.item),
            got: got.map((it) => ({ ...it, condition: null })),
          },
          ...keyed(key),
        }),
      ),
    keys: LISTED,
    text: "It is traded.",
    done: ({ items }) => void navigate(items.length === 1 ? `/stock/${items[0]}` : "/stock"),
  });
  const { control } = form;
  const given = useFieldArray({ control, name: "given" });
  const got = useFieldArray({ control, name: "got" });
  const sought = useWatch({ control, name: "sought" });
  const gotNow = useWatch({ control, name: "got" });
  const add = (it: Omit<Got, "value">) => {
    got.append({ ...it, value: "" });
    form.setValue("sought", "");
  };
  return (
    <PageTitle
      title="A trade"
      plain="What you give, what comes for it, and the cash that evens it."
      crumbs={[{ name: "Selling", to: "/selling" }, { name: "A trade" }]}
    >
      <SellingTabs />
      <Box component="form" noValidate onSubmit={submit} aria-label="A trade">
        <Section title="You give" point="it leaves at what it cost">
          {given.fields.map((field, at) => (
            <ThingRow
              key={field.id}
              name={field.name}
              more={field.worth && `, worth ${money(field.worth)}`}
              leave={() => given.remove(at)}
            />
          ))}
          <ItemSearch
            label={
              given.fields.length ? "And what else you give" : "What you give, by its name, number or place"
            }
            pick={(item) => {
              if (form.getValues("given").some((it) => it.item === item.number)) return;
              given.append({ item: item.number, name: item.name, worth: item.value ?? "" });
            }}
          />
        </Section>
        <Section title="You get" point="the cost goes over by what each is worth">
          {got.fields.map((field, at) => (
            <ThingRow key={field.id} name={gotNow[at]?.name ?? field.name} leave={() => got.remove(at)}>
              <MoneyField
                control={control}
                name={`got.${at}.value`}
                label="Worth, about"
                hint="empty: unknown"
              />
            </ThingRow>
          ))}
          <Box sx={{ display: "flex", gap: 1, alignItems: "flex-start", flexWrap: "wrap" }}>
            <CardSearch
              label={
                got.fields.length ? "And what else you get" : "What you get, by number, subject or any words"
              }
              value={sought}
              type={(text) => form.setValue("sought", text)}
              pick={(card) =>
                add({
                  name: cardName(card),
                  release: card.release,
                  line: card.line,
                  number: card.number,
                  variant: card.variant,
                })
              }
              width={360}
            />
            <Button
              color="inherit"
              disabled={!sought.trim()}
              onClick={() =>
                add({ name: sought.trim(), release: null, line: null, number: null, variant: "" })
              }
              sx={{ mt: "20px" }}
            >
              Take it by these words
            </Button>
          </Box>
        </Section>
        <Section title="With whom, and the cash" point="in your currency">
          <FieldRow>
            <DayField control={control} name="day" label="Traded on" />
            <WordsField control={control} name="party" label="With" width={200} />
            <MoneyField control={control} name="cash" label="Cash that evens it" hint="empty: none" />
            <Box sx={{ mt: "20px" }}>
              <CheckField control={control} name="comes_in" label="it is paid to you" />
            </Box>
            <WordsField control={control} name="purse" label="Purse" width={110} />
          </FieldRow>
        </Section>
        <Box sx={{ display: "flex", gap: 1 }}>
          <Button
            type="submit"
            variant="contained"
            disabled={busy || given.fields.length === 0 || got.fields.length === 0}
          >
            It is traded
          </Button>
          <Button color="inherit" onClick={clear}>
            Empty it
          </Button>
        </Box>
        <OtherFaults faults={faults} />
      </Box>
      <Aside>
        Both sides at the same standard: whoever does not know what they have, above all a minor, is owed a
        fair trade. What both sides are worth, and the cash that evens it, is worked out under Pricing, A
        trade.
      </Aside>
    </PageTitle>
  );
}
