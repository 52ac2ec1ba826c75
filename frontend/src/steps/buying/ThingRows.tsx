import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useEffect, useRef, useState } from "react";
import { useController, useFieldArray, useWatch, type UseFormReturn } from "react-hook-form";
import { FieldRow } from "../../shared/FieldRow";
import { cardName, CardSearch } from "../../shared/CardSearch";
import { CONDITIONS } from "../../shared/ConditionChoice";
import { CheckField, ChoiceField, CountField, MoneyField, WordsField } from "../../shared/forms/fields";
import { money } from "../../shared/format";
import { useFormats } from "../../shared/useFormats";
import { asksFor, EMPTY_THING, worthOfAll, type Draft } from "./draft";

interface Props {
  form: UseFormReturn<Draft>;
  shares: readonly string[] | undefined;
}

/** What came for the money, a row for each thing, with what a division needs to know of it. */
export function ThingRows({ form, shares }: Props) {
  const { fields, append, remove } = useFieldArray({ control: form.control, name: "things" });
  return (
    <>
      {fields.map((field, at) => (
        <ThingRow
          key={field.id}
          form={form}
          at={at}
          share={shares?.[at]}
          leaveOut={fields.length > 1 ? () => remove(at) : undefined}
        />
      ))}
      <Button color="inherit" onClick={() => append({ ...EMPTY_THING, what: "card" })}>
        Another thing
      </Button>
    </>
  );
}

const STATES = { "": "not said", ...Object.fromEntries(CONDITIONS.map((state) => [state, state])) };

interface RowProps {
  form: UseFormReturn<Draft>;
  at: number;
  share: string | undefined;
  leaveOut: (() => void) | undefined;
}

function ThingRow({ form, at, share, leaveOut }: RowProps) {
  const { control, setValue } = form;
  const formats = useFormats();
  const [more, setMore] = useState(false);
  const thing = useWatch({ control, name: `things.${at}` });
  const asked = asksFor(useWatch({ control, name: "method" }));
  const errors = form.formState.errors.things?.[at];
  const isCard = thing.what === "card" || thing.what === "stack";
  // Wrong or filled in where it is folded away: it unfolds.
  const isOpen = more || Boolean(errors?.serial ?? errors?.place ?? errors?.condition) || thing.gift;
  const choices: Record<string, string> = {
    card: "a single card",
    stack: "a stack of cards",
    other: "something else",
    ...Object.fromEntries((formats.data ?? []).map((it) => [`${it.release}/${it.format}`, it.name])),
  };
  const formatOf = (what: string) => formats.data?.find((item) => `${item.release}/${item.format}` === what);
  const put = (change: Partial<Draft["things"][number]>) => {
    for (const [name, value] of Object.entries(change))
      setValue(`things.${at}.${name as "name"}`, value as string, { shouldDirty: true });
  };
  const choose = (what: string) => {
    const found = formatOf(what);
    put({
      release: null,
      line: null,
      number: null,
      variant: null,
      ...(what === "card" ? { count: "1" } : {}),
    });
    if (found) put({ name: found.name, value: worthOfAll(found.price, thing.count) });
  };
  // What was filled in by the price of one follows how many there are; what somebody typed stays.
  const price = formatOf(thing.what)?.price;
  const counted = useRef(thing.count);
  useEffect(() => {
    const filled = worthOfAll(price, counted.current);
    counted.current = thing.count;
    const now = worthOfAll(price, thing.count);
    if (now !== "" && thing.value === filled && now !== filled) setValue(`things.${at}.value`, now);
  }, [at, price, setValue, thing.count, thing.value]);
  return (
    <FieldRow ruled>
      <ChoiceField
        control={control}
        name={`things.${at}.what`}
        label="What it is"
        choices={choices}
        onChosen={choose}
        width={210}
      />
      {isCard ? (
        <CardName form={form} at={at} />
      ) : (
        !thing.what.includes("/") && (
          <WordsField control={control} name={`things.${at}.name`} label="In words" width={200} />
        )
      )}
      {thing.what !== "card" && <CountField control={control} name={`things.${at}.count`} label="How many" />}
      <MoneyField
        control={control}
        name={`things.${at}.value`}
        label={thing.what === "card" ? "Worth, about" : "Worth of all, about"}
        width={120}
      />
      {asked.fixed && <MoneyField control={control} name={`things.${at}.fixed`} label="Its part, by hand" />}
      {asked.weight && <MoneyField control={control} name={`things.${at}.weight`} label="Weight of each" />}
      {isOpen && isCard && (
        <ChoiceField
          control={control}
          name={`things.${at}.condition`}
          label="Condition"
          choices={STATES}
          width={110}
        />
      )}
      {isOpen && thing.what === "card" && (
        <WordsField control={control} name={`things.${at}.serial`} label="Serial number" width={110} />
      )}
      {isOpen && <WordsField control={control} name={`things.${at}.place`} label="Place" width={110} />}
      {isOpen && <CheckField control={control} name={`things.${at}.gift`} label="a gift: carries no cost" />}
      {!isOpen && (
        <Button
          color="inherit"
          onClick={() => setMore(true)}
          aria-label={`More of: ${thing.name || "thing"}`}
        >
          More
        </Button>
      )}
      <Box sx={{ flex: 1 }} />
      {share !== undefined && (
        <Box sx={{ pt: "23px", textAlign: "right" }}>
          carries <b>{money(share)}</b>
        </Box>
      )}
      {leaveOut && (
        <Button color="inherit" onClick={leaveOut} aria-label={`Leave out: ${thing.name || "thing"}`}>
          Leave out
        </Button>
      )}
    </FieldRow>
  );
}

/** Any card by number or subject, or any words; what is typed on after a card was chosen is words again. */
function CardName({ form, at }: { form: UseFormReturn<Draft>; at: number }) {
  const { field, fieldState } = useController({ control: form.control, name: `things.${at}.name` });
  const of = (name: "release" | "line" | "number" | "variant" | "value") => `things.${at}.${name}` as const;
  const value = useWatch({ control: form.control, name: of("value") });
  const { release, line, number, variant } = useWatch({ control: form.control, name: `things.${at}` });
  return (
    <CardSearch
      label="Card, by number or subject"
      value={field.value}
      type={(text) => {
        field.onChange(text);
        for (const name of ["release", "line", "number", "variant"] as const) form.setValue(of(name), null);
      }}
      pick={(card) => {
        field.onChange(cardName(card));
        form.setValue(of("release"), card.release);
        form.setValue(of("line"), card.line);
        form.setValue(of("number"), card.number);
        form.setValue(of("variant"), card.variant || null);
        if (!value) form.setValue(of("value"), worthOfAll(card.price, form.getValues(`things.${at}.count`)));
      }}
      width={260}
      comesIn={{
        chosen: release && line && number ? { release, line, number, variant: variant ?? "" } : null,
      }}
      {...(fieldState.error?.message ? { fault: fieldState.error.message } : {})}
    />
  );
}
