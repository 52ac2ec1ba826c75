import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState, type FormEvent } from "react";
import { inWords, ProblemError, type Schemas } from "../../shared/api/client";
import { money, percent } from "../../shared/format";
import { toPreferences, usePreferences, useSavePreferences } from "./queries";

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

type Draft = Record<"standard" | "chance" | "margin" | "shipping" | "tax", string>;

function RuleForm({ close }: { close: () => void }) {
  const preferences = usePreferences();
  if (!preferences.data) return null;
  return <LoadedForm key={preferences.data.version} preferences={preferences.data} close={close} />;
}

const share = (value: number) => String(Math.round(value * 1e6) / 1e4);

function LoadedForm({ preferences, close }: { preferences: Schemas["PreferencesOut"]; close: () => void }) {
  const save = useSavePreferences();
  const [draft, setDraft] = useState<Draft>({
    standard: preferences.standard,
    chance: share(preferences.chance),
    margin: share(preferences.margin),
    shipping: String(preferences.shipping),
    tax: share(preferences.tax),
  });
  const faults = save.error instanceof ProblemError ? (save.error.problem.faults ?? []) : [];
  const field = (name: keyof Draft, label: string) => ({
    label,
    value: draft[name],
    onChange: (event: { target: { value: string } }) => setDraft({ ...draft, [name]: event.target.value }),
    error: faults.some((fault) => fault.field === name) || (name !== "standard" && !isNumber(draft[name])),
    helperText:
      isNumber(draft[name]) || name === "standard"
        ? faults.find((fault) => fault.field === name)?.message
        : "a number like 12.50",
    fullWidth: true,
    margin: "dense" as const,
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const { standard, ...numbers } = draft;
    if (!Object.values(numbers).every(isNumber)) return;
    save.mutate(
      {
        ...toPreferences(preferences),
        standard: standard === "average" ? "average" : "chance",
        chance: Number(draft.chance) / 100,
        margin: Number(draft.margin) / 100,
        shipping: Number(draft.shipping),
        tax: Number(draft.tax) / 100,
      },
      { onSuccess: close },
    );
  };
  return (
    <Box
      component="form"
      onSubmit={submit}
      noValidate
      sx={{ mt: 1 }}
      onKeyDown={(event) => event.key === "Escape" && close()}
    >
      <TextField select autoFocus {...field("standard", "Open only if")}>
        <MenuItem value="chance">it breaks even often enough</MenuItem>
        <MenuItem value="average">the average beats the price</MenuItem>
      </TextField>
      {draft.standard === "chance" ? (
        <TextField {...field("chance", "at least so often, %")} />
      ) : (
        <TextField {...field("margin", "by at least, %")} />
      )}
      <TextField {...field("shipping", "Shipping of a purchase")} />
      <TextField {...field("tax", "Tax on price and shipping, %")} />
      {save.isError && faults.length === 0 && (
        <Box role="alert" sx={{ color: "error.main" }}>
          {inWords(save.error)}
        </Box>
      )}
      <Box sx={{ display: "flex", gap: 1, mt: 0.5 }}>
        <Button type="submit" variant="contained" disabled={save.isPending}>
          Use this rule
        </Button>
        <Button color="inherit" onClick={close}>
          Leave it
        </Button>
      </Box>
    </Box>
  );
}

function isNumber(text: string): boolean {
  return /^\d{1,8}(\.\d{1,4})?$/.test(text.trim());
}
