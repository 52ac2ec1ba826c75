import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, take } from "../../shared/api/client";
import { DAY_FIELD } from "../../shared/dayField";
import { refused } from "../../shared/faults";
import { day } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { useToday } from "../../shared/useToday";

/** Exchange rates: the newest of the feed, and those set by hand, which win on their day. */
export function Rates() {
  const today = useToday();
  const rates = useQuery({ queryKey: ["rates"], queryFn: () => take(client.GET("/api/rates")) });
  const [draft, setDraft] = useState({ currency: "", day: today, rate: "" });
  const fetchRates = useAct(() => take(client.POST("/api/rates/fetch", { body: { days: 365 } })), {
    keys: ["rates"],
    text: (found) => `${found.count} exchange rates taken in.`,
  });
  const put = useAct(() => take(client.PUT("/api/rates", { body: draft })), {
    keys: ["rates"],
    text: "Set; it wins over the feed on that day and the week after.",
    done: () => setDraft({ ...draft, rate: "" }),
    quiet: true,
  });
  const forget = useAct(
    (of: { currency: string; day: string }) =>
      take(client.DELETE("/api/rates/{currency}/{day}", { params: { path: of } })),
    { keys: ["rates"], text: "Taken back; what was booked with it stays." },
  );
  const field = (name: keyof typeof draft, label: string, width: number) => (
    <TextField
      label={label}
      value={draft[name]}
      onChange={(event) =>
        setDraft({
          ...draft,
          [name]: name === "currency" ? event.target.value.toUpperCase() : event.target.value,
        })
      }
      {...refused(put.error, name)}
      {...(name === "day" ? DAY_FIELD : {})}
      sx={{ width }}
    />
  );
  return (
    <Section title="Exchange rates" point={rates.data && `${rates.data.home} for one; one set by hand wins`}>
      {rates.data && rates.data.rates.length > 0 && (
        <Table label="Exchange rates">
          <Heads of={["Currency", "Day", "From", { figure: "rate" }, { hidden: "actions" }]} />
          <tbody>
            {rates.data.rates.map((row) => (
              <tr key={`${row.currency} ${row.day} ${row.by_hand}`} data-row>
                <td>
                  <span data-cell>{row.currency}</span>
                </td>
                <td>{day(row.day)}</td>
                <td>{row.source}</td>
                <td className="figure">{Number(row.rate).toFixed(4)}</td>
                <td className="figure">
                  {row.by_hand && (
                    <Button
                      color="inherit"
                      data-cell
                      onClick={() => forget.mutate({ currency: row.currency, day: row.day })}
                      sx={{ py: 0 }}
                    >
                      Take it back
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 1.5, alignItems: "flex-start" }}>
        {field("currency", "Currency", 110)}
        {field("day", "Day", 160)}
        {field("rate", "Rate", 130)}
        <Button
          variant="outlined"
          color="inherit"
          disabled={!draft.currency || !draft.rate || put.isPending}
          onClick={() => put.mutate(undefined)}
        >
          Set it by hand
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button color="inherit" onClick={() => fetchRates.mutate(undefined)} disabled={fetchRates.isPending}>
          Fetch exchange rates
        </Button>
      </Box>
    </Section>
  );
}
