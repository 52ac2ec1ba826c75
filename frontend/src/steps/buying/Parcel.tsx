import Box from "@mui/material/Box";
import { EntryRow } from "../../shared/forms/EntryRow";
import Button from "@mui/material/Button";
import { useState } from "react";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { day } from "../../shared/format";
import { ChoiceField, DayField, OtherFaults, WordsField } from "../../shared/forms/fields";
import { day as dayShape, maybeDay, maybeWords, shape, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { useToday } from "../../shared/useToday";
import { KEYS, type Purchase } from "./queries";

const QUESTIONS = [
  ["seal", "The seal is intact"],
  ["series", "It is the right series"],
  ["contents", "It is as described"],
] as const;
const ANSWERS: Record<string, boolean | null> = { "not looked": null, yes: true, no: false };
const CHOICES = Object.fromEntries(Object.keys(ANSWERS).map((answer) => [answer, answer]));
const looked = shape((text) => ({ value: ANSWERS[text] ?? null }));

function inAnswer(found: unknown): string {
  return found === true ? "yes" : found === false ? "no" : "not looked";
}

/** A parcel is here: what the inspection found, which opens a dispute if something is not as it should be. */
export function Receive({ data }: { data: Purchase }) {
  const today = useToday();
  const [wanted] = useState(() =>
    z.object({ day: dayShape(today), seal: looked, series: looked, contents: looked, note: words }),
  );
  const { form, submit, busy, faults } = useEntry({
    draft: `receive ${data.number}`,
    empty: { day: today, seal: "not looked", series: "not looked", contents: "not looked", note: "" },
    shape: wanted,
    send: (body) =>
      take(
        client.POST("/api/purchases/{number}/receive", {
          params: { path: { number: data.number } },
          body: { ...body, version: data.version },
        }),
      ),
    keys: KEYS,
    text: (row) => (row.state === "disputed" ? "Received, and in dispute." : "Received."),
  });
  const { control } = form;
  return (
    <Section id="parcel" title="Receive and inspect" point="what is not as it should be opens a dispute">
      <EntryRow submit={submit} busy={busy} faults={faults} act="It is here" strong>
        <DayField control={control} name="day" label="Here since" />
        {QUESTIONS.map(([name, label]) => (
          <ChoiceField key={name} control={control} name={name} label={label} choices={CHOICES} width={165} />
        ))}
        <WordsField control={control} name="note" label="Note" width={260} />
      </EntryRow>
    </Section>
  );
}

/** Who sent it and how, and what the inspection found; the words can be corrected. */
export function Parcel({ data }: { data: Purchase }) {
  const [editing, setEditing] = useState(false);
  const inspection = data.inspection ?? {};
  const answers = QUESTIONS.filter(([name]) => typeof inspection[name] === "boolean");
  return (
    <Section
      id="parcel"
      title="Parcel"
      point={data.received_on ? `here since ${day(data.received_on)}` : "on its way"}
    >
      {editing ? (
        <Words data={data} done={() => setEditing(false)} />
      ) : (
        <>
          <Figures
            rows={[
              ["Bought", day(data.bought_on)],
              ["From", data.seller ?? "not said"],
              ["Tracking", [data.carrier, data.tracking].filter(Boolean).join(", ") || "not said"],
              ["Due", data.due_on ? day(data.due_on) : "not said"],
              ...answers.map(([name, words]) => [words, inAnswer(inspection[name])] as const),
              ...(inspection.note ? [["Found", String(inspection.note)] as const] : []),
              ...(data.note ? [["Note", data.note] as const] : []),
            ]}
          />
          {data.state !== "undone" && (
            <Button color="inherit" onClick={() => setEditing(true)} sx={{ mt: 0.5 }}>
              Correct it
            </Button>
          )}
        </>
      )}
    </Section>
  );
}

function Words({ data, done }: { data: Purchase; done: () => void }) {
  const today = useToday();
  const [wanted] = useState(() =>
    z.object({
      name: words,
      seller: maybeWords,
      carrier: maybeWords,
      tracking: maybeWords,
      due_on: maybeDay(today),
      note: maybeWords,
    }),
  );
  const { form, submit, busy, faults, clear } = useEntry({
    draft: `words of purchase ${data.number}`,
    empty: {
      name: data.name,
      seller: data.seller ?? "",
      carrier: data.carrier ?? "",
      tracking: data.tracking ?? "",
      due_on: data.due_on ?? "",
      note: data.note ?? "",
    },
    stays: true,
    shape: wanted,
    send: (body) =>
      take(
        client.PUT("/api/purchases/{number}", {
          params: { path: { number: data.number } },
          body: { ...body, version: data.version },
        }),
      ),
    keys: KEYS,
    text: "Corrected.",
    done,
  });
  const { control } = form;
  return (
    <Box
      component="form"
      noValidate
      onSubmit={submit}
      sx={{ display: "flex", flexDirection: "column", gap: 1.5, mt: 1.5 }}
    >
      <WordsField control={control} name="name" label="What, in words" width={1} />
      <WordsField control={control} name="seller" label="From whom" width={1} />
      <WordsField control={control} name="carrier" label="Carrier" width={1} />
      <WordsField control={control} name="tracking" label="Tracking number" width={1} />
      <DayField control={control} name="due_on" label="Due on" width={1} />
      <WordsField control={control} name="note" label="Note" width={1} />
      <OtherFaults faults={faults} />
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button type="submit" variant="outlined" color="inherit" disabled={busy}>
          Keep it so
        </Button>
        <Button
          color="inherit"
          onClick={() => {
            clear();
            done();
          }}
        >
          Leave it
        </Button>
      </Box>
    </Box>
  );
}
