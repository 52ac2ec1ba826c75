import Button from "@mui/material/Button";
import { useFieldArray, useWatch, type Control } from "react-hook-form";
import { FieldRow } from "../../shared/FieldRow";
import { ChoiceField, DayField, MoneyField, WordsField } from "../../shared/forms/fields";
import { CHARGES, emptyCharge, type Draft } from "./draft";

const KINDS = Object.fromEntries(CHARGES.map((kind) => [kind, kind]));

interface Props {
  control: Control<Draft>;
  home: string;
  boughtOn: string;
}

/** What was paid, a row for each cost: in its currency, on its day, from its purse. */
export function ChargeRows({ control, home, boughtOn }: Props) {
  const { fields, append, remove } = useFieldArray({ control, name: "charges" });
  const charges = useWatch({ control, name: "charges" });
  return (
    <>
      {fields.map((field, at) => (
        <FieldRow key={field.id}>
          <ChoiceField
            control={control}
            name={`charges.${at}.kind`}
            label="Kind"
            choices={KINDS}
            width={110}
          />
          <MoneyField control={control} name={`charges.${at}.amount`} label="Amount" />
          <WordsField control={control} name={`charges.${at}.currency`} label="Currency" width={76} />
          {charges[at]?.currency.toUpperCase() !== home && (
            <MoneyField
              control={control}
              name={`charges.${at}.rate`}
              label={`Rate, ${home} for one`}
              width={130}
            />
          )}
          <DayField
            control={control}
            name={`charges.${at}.day`}
            label="Paid on"
            width={140}
            {...(charges[at]?.day ? {} : { placeholder: boughtOn })}
          />
          <WordsField control={control} name={`charges.${at}.purse`} label="Paid from" width={100} />
          {fields.length > 1 && (
            <Button
              color="inherit"
              onClick={() => remove(at)}
              aria-label={`Leave out: ${charges[at]?.kind ?? "cost"}`}
            >
              Leave out
            </Button>
          )}
        </FieldRow>
      ))}
      <Button
        color="inherit"
        onClick={() => append(emptyCharge("shipping", charges[0]?.currency ?? home, charges[0]?.purse))}
      >
        Another cost
      </Button>
    </>
  );
}
