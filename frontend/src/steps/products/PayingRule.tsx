import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useWatch } from "react-hook-form";
import * as z from "zod/mini";
import { client, take, type Schemas } from "../../shared/api/client";
import { ChoiceField, MoneyField, OtherFaults, PercentField } from "../../shared/forms/fields";
import { figure, share } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { asPercent, money, percent } from "../../shared/format";
import { PREFERRED, toPreferences, usePreferences } from "./queries";

/** The most to pay by the owner's rule, and the rule itself, which is changed here. */
export function PayingRule({ answer }: { answer: Schemas["AnswerOut"] }) {
  const [open, setOpen] = useState(false);
  const { rule, most } = answer;
  const words =
    rule.standard === "chance"
      ? `break even with at least ${percent(rule.chance)}`
      : `the average beats the price${rule.margin > 0 ? ` by ${percent(rule.margin)}` : ""}`;
  return (
    <Box sx={{ fontSize: 13 }}>
      <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "baseline" }}>
        <span>Your rule: {words}</span>
        <b>{money(most.sticker)}</b>
      </Box>
      {Math.abs(most.landed - most.sticker) > 0.005 && (
        <Box sx={{ color: "text.secondary" }}>landed {money(most.landed)}, with shipping and tax</Box>
      )}
      <Box sx={{ color: "text.secondary" }}>
        by chance {money(most.by_chance)}, by average {money(most.by_average)}, landed
      </Box>
      {open ? (
        <RuleForm close={() => setOpen(false)} />
      ) : (
        <Button color="inherit" sx={{ px: 0, minWidth: 0 }} onClick={() => setOpen(true)}>
          Change the rule
        </Button>
      )}
    </Box>
  );
}

function RuleForm({ close }: { close: () => void }) {
  const preferences = usePreferences();
  return preferences.data ? <LoadedForm preferences={preferences.data} close={close} /> : null;
}

const SHAPE = z.object({
  standard: z.enum(["chance", "average"]),
  chance: share,
  margin: share,
  shipping: figure,
  tax: share,
});

function LoadedForm({ preferences, close }: { preferences: Schemas["PreferencesOut"]; close: () => void }) {
  const queries = useQueryClient();
  const { form, submit, busy, faults } = useEntry({
    draft: "paying-rule",
    empty: {
      standard: preferences.standard,
      chance: asPercent(preferences.chance),
      margin: asPercent(preferences.margin),
      shipping: String(preferences.shipping),
      tax: asPercent(preferences.tax),
    },
    stays: true,
    shape: SHAPE,
    send: ({ chance, margin, tax, ...rest }) =>
      take(
        client.PUT("/api/preferences", {
          body: {
            ...toPreferences(preferences),
            ...rest,
            chance: Number(chance),
            margin: Number(margin),
            tax: Number(tax),
          },
        }),
      ),
    keys: PREFERRED,
    done: (saved) => {
      queries.setQueryData(["preferences"], saved);
      close();
    },
  });
  const { control } = form;
  const standard = useWatch({ control, name: "standard" });
  return (
    <Box
      component="form"
      onSubmit={submit}
      noValidate
      sx={{ mt: 1, display: "flex", flexDirection: "column", gap: 1 }}
      onKeyDown={(event) => event.key === "Escape" && close()}
    >
      <ChoiceField
        control={control}
        name="standard"
        label="Open only if"
        width={1}
        choices={{ chance: "it breaks even often enough", average: "the average beats the price" }}
      />
      {standard === "chance" ? (
        <PercentField control={control} name="chance" label="at least so often" width={1} />
      ) : (
        <PercentField control={control} name="margin" label="by at least" width={1} />
      )}
      <MoneyField control={control} name="shipping" label="Shipping of a purchase" width={1} />
      <PercentField control={control} name="tax" label="Tax on price and shipping" width={1} />
      <OtherFaults faults={faults} />
      <Box sx={{ display: "flex", gap: 1, mt: 0.5 }}>
        <Button type="submit" variant="contained" disabled={busy}>
          Use this rule
        </Button>
        <Button color="inherit" onClick={close}>
          Leave it
        </Button>
      </Box>
    </Box>
  );
}
