import Box from "@mui/material/Box";
import { EntryRow } from "../../shared/forms/EntryRow";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { day } from "../../shared/format";
import { DayField, MoneyField, WordsField } from "../../shared/forms/fields";
import { amount, code, day as readDay } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { useToday } from "../../shared/useToday";

/** Exchange rates: the newest of the feed, and those set by hand, which win on their day. */
export function Rates() {
  const today = useToday();
  const rates = useQuery({ queryKey: ["rates"], queryFn: () => take(client.GET("/api/rates")) });
  const fetchRates = useAct(() => take(client.POST("/api/rates/fetch", { body: { days: 365 } })), {
    keys: ["rates"],
    text: (found) => `${found.count} exchange rates taken in.`,
  });
  const [shape] = useState(() => z.object({ currency: code, day: readDay(today), rate: amount }));
  const { form, submit, busy, faults } = useEntry({
    empty: { currency: "", day: today, rate: "" },
    shape,
    send: (body) => take(client.PUT("/api/rates", { body })),
    keys: ["rates"],
    text: "Set; it wins over the feed on that day and the week after.",
  });
  const forget = useAct(
    (of: { currency: string; day: string }) =>
      take(client.DELETE("/api/rates/{currency}/{day}", { params: { path: of } })),
    { keys: ["rates"], text: "Taken back; what was booked with it stays." },
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
      <EntryRow
        submit={submit}
        busy={busy}
        faults={faults}
        act="Set it by hand"
        after={
          <>
            <Box sx={{ flex: 1 }} />
            <Button
              color="inherit"
              onClick={() => fetchRates.mutate(undefined)}
              disabled={fetchRates.isPending}
            >
              Fetch exchange rates
            </Button>
          </>
        }
      >
        <WordsField control={form.control} name="currency" label="Currency" width={90} />
        <DayField control={form.control} name="day" label="Day" />
        <MoneyField control={form.control} name="rate" label="Rate" />
      </EntryRow>
    </Section>
  );
}
