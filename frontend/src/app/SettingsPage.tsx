import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState, type FormEvent } from "react";
import { inWords, ProblemError, type Schemas } from "../shared/api/client";
import { asPercent, fromPercent } from "../shared/format";
import { PageTitle } from "../shared/PageTitle";
import { Section } from "../shared/Section";
import { toPreferences, usePreferences, useSavePreferences } from "../steps/products/queries";
import { Ways } from "../steps/pricing/Ways";
import { useWays } from "../shared/ways";
import { Backups } from "./Backups";
import { Home } from "./Home";
import { Sessions } from "./Sessions";
import { Spending } from "./Spending";
import { Answer } from "../shared/Answer";

type Preferences = Schemas["PreferencesOut"];
type NumberField = Exclude<
  { [K in keyof Preferences]: Preferences[K] extends number ? K : never }[keyof Preferences],
  "version"
>;

interface Field {
  name: NumberField;
  label: string;
  percent?: boolean;
}

const GROUPS: { title: string; point: string; fields: Field[] }[] = [
  {
    title: "What is not worth selling",
    point: "used by “net, cheap cards as bulk”",
    fields: [
      { name: "floor", label: "Least net worth handling" },
      { name: "bulk", label: "A bulk card brings" },
      { name: "sells", label: "Of the hits sell, %", percent: true },
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
      { name: "decay", label: "Prices fall a month by, %", percent: true },
      { name: "depth", label: "Each further copy sells for less by, %", percent: true },
    ],
  },
  {
    title: "How unsure prices are",
    point: "about so far either way, two times in three",
    fields: [
      { name: "own_spread", label: "Each price by itself, %", percent: true },
      { name: "market_spread", label: "The market as a whole, %", percent: true },
    ],
  },
  {
    title: "Boxes that stay sealed",
    point: "assumptions of your own",
    fields: [
      { name: "growth", label: "Grow a year by, %", percent: true },
      { name: "years", label: "Kept for, years" },
      { name: "keeping", label: "Keeping one costs a year" },
    ],
  },
];

/** How you sell and decide, the ways of selling, and the spending limit. */
export default function SettingsPage() {
  const preferences = usePreferences();
  if (!preferences.data) return <Answer of={preferences} />;
  return (
    <PageTitle title="Settings" plain="How you sell and decide.">
      <Box sx={{ maxWidth: 1052 }}>
        <Habits key={preferences.data.version} preferences={preferences.data} />
        <Home preferences={preferences.data} />
        <Ways />
        <Spending />
        <Sessions />
        <Backups />
      </Box>
    </PageTitle>
  );
}

function Habits({ preferences }: { preferences: Preferences }) {
  const save = useSavePreferences();
  const ways = useWays();
  const fields = GROUPS.flatMap((group) => group.fields);
  const start = Object.fromEntries(
    fields.map(({ name, percent }) => [
      name,
      percent ? asPercent(preferences[name]) : String(preferences[name]),
    ]),
  );
  const [draft, setDraft] = useState<Record<string, string>>({
    ...start,
    basis: preferences.basis,
    way: preferences.way ?? "",
    limit: preferences.monthly_limit ?? "",
  });
  const faults = save.error instanceof ProblemError ? (save.error.problem.faults ?? []) : [];
  const read = ({ name, percent }: Field): number | null => {
    const text = draft[name]?.trim() ?? "";
    if (percent) return fromPercent(text);
    return /^-?\d{1,8}(\.\d{1,4})?$/.test(text) ? Number(text) : null;
  };
  const limitFine = /^(\d{1,8}(\.\d{1,2})?)?$/.test(draft.limit?.trim() ?? "");
  const isChanged =
    fields.some(({ name }) => draft[name] !== start[name]) ||
    draft.basis !== preferences.basis ||
    draft.way !== (preferences.way ?? "") ||
    draft.limit !== (preferences.monthly_limit ?? "");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!limitFine || fields.some((field) => read(field) === null)) return;
    save.mutate({
      ...toPreferences(preferences),
      ...Object.fromEntries(fields.map((field) => [field.name, read(field)])),
      basis: draft.basis as Preferences["basis"],
      way: draft.way || null,
      monthly_limit: draft.limit?.trim() || null,
    });
  };
  const set = (name: string) => (event: { target: { value: string } }) =>
    setDraft({ ...draft, [name]: event.target.value });
  return (
    <Box component="form" onSubmit={submit} noValidate>
      <Section title="What a pull is worth" point="unless a page asks otherwise">
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, mt: 1.5 }}>
          <TextField
            select
            label="Values are"
            value={draft.basis}
            onChange={set("basis")}
            sx={{ minWidth: 260 }}
          >
            <MenuItem value="gross">gross: market prices</MenuItem>
            <MenuItem value="net">net of a way of selling</MenuItem>
            <MenuItem value="floor">net, cheap cards as bulk</MenuItem>
          </TextField>
          <TextField
            select
            label="You usually sell through"
            value={ways.data ? draft.way : ""}
            onChange={set("way")}
            sx={{ minWidth: 220 }}
          >
            <MenuItem value="">the first one</MenuItem>
            {ways.data?.ways.map((way) => (
              <MenuItem key={way.id} value={way.id}>
                {way.name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label={`Spending limit a month, ${preferences.currency}`}
            value={draft.limit}
            onChange={set("limit")}
            error={!limitFine || faults.some((fault) => fault.field === "monthly_limit")}
            helperText={limitFine ? "empty: no limit" : "an amount like 400"}
            sx={{ width: 230 }}
          />
        </Box>
      </Section>
      {GROUPS.map((group) => (
        <Section key={group.title} title={group.title} point={group.point}>
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, mt: 1.5 }}>
            {group.fields.map((field) => {
              const fault = faults.find((item) => item.field === field.name)?.message;
              const wrong = read(field) === null;
              return (
                <TextField
                  key={field.name}
                  label={field.label}
                  value={draft[field.name]}
                  onChange={set(field.name)}
                  error={wrong || fault !== undefined}
                  helperText={wrong ? "a number like 12.5" : fault}
                  sx={{ width: 260 }}
                />
              );
            })}
          </Box>
        </Section>
      ))}
      {save.isError && faults.length === 0 && (
        <Box role="alert" sx={{ color: "error.main", mb: 1 }}>
          {inWords(save.error)}
        </Box>
      )}
      <Button type="submit" variant="contained" disabled={!isChanged || save.isPending} sx={{ mb: 4 }}>
        Use these settings
      </Button>
    </Box>
  );
}
