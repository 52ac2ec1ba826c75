import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { Link } from "react-router";
import { DAY_FIELD } from "../shared/dayField";
import { client, inWords, ProblemError, take } from "../shared/api/client";
import { day, money } from "../shared/format";
import { useNotice } from "../shared/notices";
import { Section } from "../shared/Section";
import { Aside } from "../shared/states";
import { Heads, Table } from "../shared/Table";
import { keyed, useOnce } from "../shared/useOnce";
import { Answer } from "../shared/Answer";
import { plain } from "../shared/VerdictLine";

const KEY = ["spending"];

export function useSpending() {
  return useQuery({ queryKey: KEY, queryFn: () => take(client.GET("/api/spending")) });
}

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
              <td>{day(entry.day)}</td>
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
  const [draft, setDraft] = useState({ day: today, amount: "", what: "" });
  const once = useOnce(); // a form that is sent twice is kept once
  const note = useMutation({
    mutationFn: () => take(client.POST("/api/spending", { body: draft, ...keyed(once.key()) })),
    onSuccess: (found) => {
      queries.setQueryData(KEY, found);
      once.made();
      setDraft({ ...draft, amount: "", what: "" });
    },
  });
  const faults = note.error instanceof ProblemError ? (note.error.problem.faults ?? []) : [];
  const field = (name: keyof typeof draft, label: string, width: number) => ({
    label,
    value: draft[name],
    onChange: (event: { target: { value: string } }) => setDraft({ ...draft, [name]: event.target.value }),
    error: faults.some((fault) => fault.field === name),
    helperText: faults.find((fault) => fault.field === name)?.message ?? " ",
    sx: { width },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (draft.amount && draft.what) note.mutate();
  };
  return (
    <Box component="form" onSubmit={submit} sx={{ display: "flex", gap: 2, mt: 2, flexWrap: "wrap" }}>
      <TextField {...DAY_FIELD} {...field("day", "Day", 150)} />
      <TextField {...field("what", "What for", 240)} />
      <TextField {...field("amount", "Amount", 120)} />
      <Button
        type="submit"
        variant="outlined"
        color="inherit"
        disabled={note.isPending}
        sx={{ mt: 0.5, height: 34 }}
      >
        Note it
      </Button>
      {note.isError && faults.length === 0 && (
        <Box role="alert" sx={{ color: "error.main" }}>
          {inWords(note.error)}
        </Box>
      )}
    </Box>
  );
}
