import { EntryRow } from "../shared/forms/EntryRow";
import { useState, type ReactNode } from "react";
import { useFormState } from "react-hook-form";
import * as z from "zod/mini";
import { client, take, type Schemas } from "../shared/api/client";
import { asPercent } from "../shared/format";
import { ChoiceField, MoneyField, PercentField } from "../shared/forms/fields";
import { figure, maybeAmount, maybeWords, share, words } from "../shared/forms/shapes";
import { useEntry, type EntryForm } from "../shared/forms/useEntry";
import { Section } from "../shared/Section";
import { useWays, wayNames } from "../shared/ways";
import { PREFERRED, toPreferences } from "../steps/products/queries";

type Preferences = Schemas["PreferencesOut"];
type Fields = Schemas["PreferencesFields"];
type NumberField = Exclude<
  { [K in keyof Preferences]: Preferences[K] extends number ? K : never }[keyof Preferences],
  "version"
>;

interface Field {
  name: NumberField;
  label: string;
  percent?: boolean;
}

interface Grouped {
  title: string;
  point: string;
  fields: Field[];
}

export const GROUPS: Grouped[] = [
  {
    title: "What is not worth selling",
    point: "used by “net, cheap cards as bulk”",
    fields: [
      { name: "floor", label: "Least net worth handling" },
      { name: "bulk", label: "A bulk card brings" },
      { name: "sells", label: "Of the hits sell", percent: true },
    ],
  },
  {
    title: "Your time",
    point: "an hourly rate of 0 leaves it out",
    fields: [
      { name: "hourly_rate", label: "Your rate an hour" },
      { name: "minutes_per_box", label: "Minutes to open a box" },
      { name: "minutes_per_sale", label: "Minutes for a sale" },
    ],
  },
  {
    title: "Until you sell",
    point: "prices of fresh releases fall; many copies of one card do not all sell at the same price",
    fields: [
      { name: "months", label: "Months until the sale" },
      { name: "decay", label: "Prices fall a month by", percent: true },
      { name: "depth", label: "Each further copy sells for less by", percent: true },
    ],
  },
  {
    title: "How unsure prices are",
    point: "about so far either way, two times in three",
    fields: [
      { name: "own_spread", label: "Each price by itself", percent: true },
      { name: "market_spread", label: "The market as a whole", percent: true },
    ],
  },
  {
    title: "Boxes that stay sealed",
    point: "assumptions of your own",
    fields: [
      { name: "growth", label: "Grow a year by", percent: true },
      { name: "years", label: "Kept for, years" },
      { name: "keeping", label: "Keeping one costs a year" },
    ],
  },
];

const asShare = z.pipe(share, z.transform(Number));

/** Send a part of what the owner says; the rest stays as it is. Taken back, the part is as it was. */
function usePart<In extends Record<string, string>>(
  title: string,
  preferences: Preferences,
  values: In,
  shape: z.ZodMiniType<Partial<Fields>, In>,
) {
  const put = (from: Preferences, part: Partial<Fields>) =>
    take(client.PUT("/api/preferences", { body: { ...toPreferences(from), ...part } }));
  const before = Object.fromEntries(
    Object.keys(values).map((name) => [name, preferences[name as keyof Preferences]]),
  );
  return useEntry<In, Partial<Fields>, Preferences>({
    stays: true,
    draft: `settings ${title}`,
    empty: values,
    shape,
    send: (part) => put(preferences, part),
    keys: PREFERRED,
    text: `Kept: ${title.charAt(0).toLowerCase()}${title.slice(1)}.`,
    undo: (_, saved) => put(saved, before),
  });
}

function Part<In extends Record<string, string>>(props: {
  title: string;
  point: string;
  entry: EntryForm<In>;
  children: ReactNode;
}) {
  const { form, submit, busy, faults } = props.entry;
  const { isDirty } = useFormState({ control: form.control });
  return (
    <Section title={props.title} point={props.point}>
      <EntryRow
        submit={submit}
        busy={busy}
        faults={faults}
        act="Keep it"
        label={props.title}
        disabled={!isDirty}
      >
        {props.children}
      </EntryRow>
    </Section>
  );
}

/** Figures that belong together. What is typed stays, whatever else is saved meanwhile. */
export function Group({ group, preferences }: { group: Grouped; preferences: Preferences }) {
  const values = Object.fromEntries(
    group.fields.map(({ name, percent }) => [
      name,
      percent ? asPercent(preferences[name]) : String(preferences[name]),
    ]),
  );
  const [shape] = useState(() =>
    z.object(Object.fromEntries(group.fields.map(({ name, percent }) => [name, percent ? asShare : figure]))),
  );
  const entry = usePart(group.title, preferences, values, shape as never);
  const { control } = entry.form;
  return (
    <Part title={group.title} point={group.point} entry={entry}>
      {group.fields.map(({ name, label, percent }) =>
        percent ? (
          <PercentField key={name} control={control} name={name} label={label} width={230} />
        ) : (
          <MoneyField key={name} control={control} name={name} label={label} width={230} />
        ),
      )}
    </Part>
  );
}

const BASES = {
  gross: "gross: market prices",
  net: "net of a way of selling",
  floor: "net, cheap cards as bulk",
};
const WORTH = z.object({
  basis: z.pipe(
    words,
    z.transform((basis) => basis as Fields["basis"]),
  ),
  way: maybeWords,
});

/** What values mean where a page does not ask. */
export function Worth({ preferences }: { preferences: Preferences }) {
  const ways = useWays();
  const values = { basis: preferences.basis as string, way: preferences.way ?? "" };
  const title = "What a pull is worth";
  const entry = usePart(title, preferences, values, WORTH as never);
  const { control } = entry.form;
  const known = wayNames(ways.data);
  return (
    <Part title={title} point="unless a page asks otherwise" entry={entry}>
      <ChoiceField control={control} name="basis" label="Values are" choices={BASES} width={260} />
      <ChoiceField
        control={control}
        name="way"
        label="You usually sell through"
        choices={{ "": "the first one", ...known }}
        width={220}
      />
    </Part>
  );
}

const LIMIT = z.object({ monthly_limit: maybeAmount });

/** How much a month may cost. */
export function Limit({ preferences }: { preferences: Preferences }) {
  const title = "A limit for each month";
  const entry = usePart(
    title,
    preferences,
    { monthly_limit: preferences.monthly_limit ?? "" },
    LIMIT as never,
  );
  return (
    <Part title={title} point="you are told before you book beyond it" entry={entry}>
      <MoneyField
        control={entry.form.control}
        name="monthly_limit"
        label="Spending limit a month"
        currency={preferences.currency}
        hint="empty: no limit"
        width={230}
      />
    </Part>
  );
}
