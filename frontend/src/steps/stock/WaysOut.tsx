import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import * as z from "zod/mini";
import { Answer } from "../../shared/Answer";
import { client, ProblemError, take, type Schemas } from "../../shared/api/client";
import { FieldRow } from "../../shared/FieldRow";
import { count, money } from "../../shared/format";
import { CountField, MoneyField, OtherFaults, PercentField } from "../../shared/forms/fields";
import { amount, share, whole } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { SmallVerdict } from "../../shared/VerdictLine";

type Ways = Schemas["WaysOutOut"];

/** What to do with a thing: every way out of it, by what it is worth today. */
export function WaysOut({ item }: { item: number }) {
  const [isOpen, setOpen] = useState(false);
  const found = useQuery({
    queryKey: ["items", "ways-out", item],
    queryFn: () => take(client.GET("/api/items/{number}/ways-out", { params: { path: { number: item } } })),
    retry: false,
  });
  const choose = useAct(
    (body: Schemas["ChooseWayIn"]) =>
      take(client.PUT("/api/items/{number}/way-out", { params: { path: { number: item } }, body })),
    { keys: ["items"], text: "That is the way it goes." },
  );
  if (found.error instanceof ProblemError && found.error.problem.status === 409) return null; // a friend's
  if (!found.data)
    return (
      <Section title="What to do with it" point="">
        <Answer of={found} />
      </Section>
    );
  const data = found.data;
  return (
    <Section title="What to do with it" point={`worth today, ${data.currency}`}>
      <SmallVerdict verdict={data.verdict} />
      <Table label="Ways out">
        <Heads
          of={[
            "Way",
            { figure: "comes in" },
            { figure: "in days" },
            { figure: "spent" },
            { figure: "minutes" },
            { figure: "today" },
            { hidden: "choice" },
          ]}
        />
        <tbody>
          {data.ways.map((it) => (
            <tr key={`${it.road} ${it.key}`} data-row>
              <td>
                {it.words}
                {it.why && (
                  <Box component="span" sx={{ color: "text.secondary" }}>
                    {" "}
                    ({it.why})
                  </Box>
                )}
              </td>
              <td className="figure">{money(it.comes)}</td>
              <td className="figure">
                {it.comes === null || it.days === 0 ? "" : `${it.assumed ? "about " : ""}${count(it.days)}`}
              </td>
              <td className="figure">{Number(it.spent) ? money(it.spent) : ""}</td>
              <td className="figure">{it.comes === null ? "" : Number(it.minutes)}</td>
              <td className="figure">{money(it.today)}</td>
              <td className="figure">
                {it.today !== null &&
                  (it.chosen ? (
                    <Button
                      size="small"
                      color="inherit"
                      disabled={choose.isPending}
                      onClick={() => choose.mutate({ road: null, key: "" })}
                    >
                      Chosen: let it go
                    </Button>
                  ) : (
                    <Button
                      size="small"
                      color="inherit"
                      aria-label={`Choose: ${it.words}`}
                      disabled={choose.isPending}
                      onClick={() => choose.mutate({ road: it.road, key: it.key })}
                    >
                      Choose
                    </Button>
                  ))}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Box sx={{ display: "flex", gap: 1, mt: 1, flexWrap: "wrap" }}>
        <Button variant="outlined" color="inherit" component={Link} to={`/selling/-/list?items=${item}`}>
          List it
        </Button>
        <Button color="inherit" component={Link} to={`/selling/-/new?items=${item}`}>
          It is sold
        </Button>
        <Button color="inherit" onClick={() => setOpen(!isOpen)} aria-expanded={isOpen}>
          What time and waiting cost
        </Button>
      </Box>
      {isOpen && <Terms data={data} />}
    </Section>
  );
}

function Terms({ data }: { data: Ways }) {
  const { version, ...terms } = data.terms;
  const plain = (said: string) => String(Number(said));
  const { form, submit, busy, faults } = useEntry({
    empty: {
      hourly: plain(terms.hourly),
      yearly: String(Number(terms.yearly) * 100),
      selling: plain(terms.selling),
      grading: plain(terms.grading),
      in_person: plain(terms.in_person),
      lot: plain(terms.lot),
      other: plain(terms.other),
      days: String(terms.days),
      meeting_days: String(terms.meeting_days),
    },
    stays: true,
    shape: z.object({
      hourly: amount,
      yearly: share,
      selling: amount,
      grading: amount,
      in_person: amount,
      lot: amount,
      other: amount,
      days: whole,
      meeting_days: whole,
    }),
    send: (said) => take(client.PUT("/api/planning-terms", { body: { version, ...said } })),
    keys: ["items"],
    text: "Weighed so now.",
  });
  const { control } = form;
  return (
    <Box
      component="form"
      noValidate
      onSubmit={submit}
      aria-label="What time and waiting cost"
      sx={{ mt: 1.5 }}
    >
      <FieldRow>
        <MoneyField control={control} name="hourly" label="An hour" />
        <PercentField control={control} name="yearly" label="A year" />
        <CountField control={control} name="days" label="Days, where unknown" width={150} />
        <CountField control={control} name="meeting_days" label="Days until a fair" width={150} />
      </FieldRow>
      <FieldRow>
        <MoneyField control={control} name="selling" label="Minutes to sell" />
        <MoneyField control={control} name="grading" label="to grade" />
        <MoneyField control={control} name="in_person" label="in person" />
        <MoneyField control={control} name="lot" label="in a lot, each" />
        <MoneyField control={control} name="other" label="otherwise" />
      </FieldRow>
      <Button type="submit" variant="contained" disabled={busy}>
        Weigh it so
      </Button>
      <OtherFaults faults={faults} />
    </Box>
  );
}
