import { EntryRow } from "../shared/forms/EntryRow";
import Button from "@mui/material/Button";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import * as z from "zod/mini";
import { client, inWords, take } from "../shared/api/client";
import { day as showDay, money } from "../shared/format";
import { DayField, MoneyField, WordsField } from "../shared/forms/fields";
import { amount, day, words } from "../shared/forms/shapes";
import { useEntry } from "../shared/forms/useEntry";
import { useNotice } from "../shared/notices";
import { Section } from "../shared/Section";
import { Aside } from "../shared/states";
import { Heads, Table } from "../shared/Table";
import { keyed } from "../shared/useOnce";
import { Answer } from "../shared/Answer";
import { plain } from "../shared/VerdictLine";
import { SPENDING as KEY, useSpending } from "./spendingQuery";

/** What was spent on product this month, against the owner's own limit. */
export function Spending() {
  const queries = useQueryClient();
  const say = useNotice();
  const spending = useSpending();
  const restore = async (number: number) => {
    const path = { params: { path: { number } } };
    queries.setQueryData(KEY, await take(client.POST("/api/spending/{number}/restore", path)));
  };
  const remove = useMutation({
    mutationFn: (number: number) =>
      take(client.DELETE("/api/spending/{number}", { params: { path: { number } } })),
    onSuccess: (found, number) => {
      queries.setQueryData(KEY, found);
      say({ text: "The entry was taken back.", undo: () => restore(number) });
    },
    onError: (error) => say({ text: inWords(error), isError: true }),
  });
  if (!spending.data) return <Answer of={spending} />;
  const data = spending.data;
  return (
    <Section
      title={`Spent on product in ${data.month}`}
      id="spending"
      point={
        data.limit === null ? "you have set no limit" : `your limit is ${money(data.limit)} ${data.currency}`
      }
    >
      {data.verdict.rests_on.length > 0 && <Aside>{plain(data.verdict.rests_on)}</Aside>}
      <Table label="Spending this month">
        <Heads of={["Day", "What for", { figure: data.currency }, { hidden: "actions" }]} />
        <tbody>
          {data.entries.map((entry) => (
            <tr key={`${entry.number} ${entry.purchase}`} data-row>
              <td>{showDay(entry.day)}</td>
              <td>
                {entry.purchase ? <Link to={`/buying/${entry.purchase}`}>{entry.what}</Link> : entry.what}
              </td>
              <td className="figure">{money(entry.amount)}</td>
              <td className="figure">
                {entry.number !== null && (
                  <Button
                    color="inherit"
                    data-cell
                    onClick={() => remove.mutate(entry.number ?? 0)}
                    aria-label={`Take back: ${entry.what}`}
                    sx={{ py: 0 }}
                  >
                    Take back
                  </Button>
                )}
              </td>
            </tr>
          ))}
          <tr>
            <td />
            <td>
              <b>In all</b>
            </td>
            <td className="figure">
              <b>{money(data.total)}</b>
            </td>
            <td />
          </tr>
        </tbody>
      </Table>
      <NoteForm today={data.today} />
    </Section>
  );
}

function NoteForm({ today }: { today: string }) {
  const queries = useQueryClient();
  const [shape] = useState(() => z.object({ day: day(today), what: words, amount }));
  const { form, submit, busy, faults } = useEntry({
    draft: "spending",
    empty: { day: today, what: "", amount: "" },
    shape,
    send: (body, key) => take(client.POST("/api/spending", { body, ...keyed(key) })),
    keys: [],
    done: (found) => queries.setQueryData(KEY, found),
  });
  const { control } = form;
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="Note it">
      <DayField control={control} name="day" label="Day" />
      <WordsField control={control} name="what" label="What for" width={240} />
      <MoneyField control={control} name="amount" label="Amount" />
    </EntryRow>
  );
}
