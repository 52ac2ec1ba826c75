import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { client, take, type Schemas } from "../shared/api/client";
import { ChoiceBox } from "../shared/ChoiceBox";
import { ConditionChoice, type Condition } from "../shared/ConditionChoice";
import { faultAt } from "../shared/faults";
import { Section } from "../shared/Section";
import { useAct } from "../shared/useAct";

type School = Schemas["PreferencesOut"]["school"];

const SCHOOLS: Record<School, string> = {
  weighted: "the median, newer sales weighing more",
  median: "the plain median",
  average: "the average",
  last: "the last sale",
  lowest_ask: "the lowest ask in the same state",
  book: "the middle of the book",
};

/** The home currency, which can be chosen until something is booked in it, and what prices of sheets speak for. */
export function Home({ preferences }: { preferences: Schemas["PreferencesOut"] }) {
  const currencies = useQuery({
    queryKey: ["currencies"],
    queryFn: () => take(client.GET("/api/currencies")),
    staleTime: Infinity,
  });
  const choose = useAct(
    (change: { currency?: string; sheet_condition?: Condition }) => {
      const { currency, sheet_condition, version } = preferences;
      return take(
        client.PUT("/api/preferences/home", { body: { currency, sheet_condition, version, ...change } }),
      );
    },
    {
      keys: ["preferences", "shelf", "release", "answer", "items", "books", "purchases"],
      text: "Kept. What you hold was valued anew.",
    },
  );
  const school = useAct(
    (chosen: School) =>
      take(client.PUT("/api/preferences/school", { body: { school: chosen, version: preferences.version } })),
    {
      keys: ["preferences", "price", "prices", "tasks"],
      text: "Kept. What you hold is being valued anew; “Done here” says how far it is.",
    },
  );
  const anew = useAct(() => take(client.POST("/api/prices/revaluing")), {
    keys: ["tasks"],
    text: "Everything is being valued anew; “Done here” says how far it is.",
  });
  const known = currencies.data?.currencies ?? [];
  return (
    <Section title="Money at home" point="everything is added up in it, at the rate of its day">
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, mt: 1.5 }}>
        {preferences.currency_open ? (
          <TextField
            select
            label="Home currency"
            value={preferences.currency}
            onChange={(event) => choose.mutate({ currency: event.target.value })}
            error={faultAt(choose.error, "currency") !== undefined}
            helperText={faultAt(choose.error, "currency") ?? "for good, once something is booked"}
            sx={{ width: 260 }}
          >
            {!known.some((item) => item.code === preferences.currency) && (
              <MenuItem value={preferences.currency}>{preferences.currency}</MenuItem>
            )}
            {known.map((item) => (
              <MenuItem key={item.code} value={item.code}>
                {item.code}, {item.name}
              </MenuItem>
            ))}
          </TextField>
        ) : (
          <Box sx={{ alignSelf: "center" }}>
            Home currency: <b>{preferences.currency}</b>. The books are kept in it, so it stays.
          </Box>
        )}
        <Box>
          <ConditionChoice
            label="Prices of sheets are for"
            value={preferences.sheet_condition}
            choose={(condition) => condition && choose.mutate({ sheet_condition: condition })}
            width={200}
          />
        </Box>
        <ChoiceBox
          label="A price by its sales is"
          value={preferences.school}
          set={(value) => school.mutate(value as School)}
          choices={SCHOOLS}
          width={280}
        />
        <Button
          color="inherit"
          variant="outlined"
          disabled={anew.isPending}
          onClick={() => anew.mutate(undefined)}
          sx={{ alignSelf: "flex-end" }}
        >
          Value everything anew
        </Button>
      </Box>
    </Section>
  );
}
