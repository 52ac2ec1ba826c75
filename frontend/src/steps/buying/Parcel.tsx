import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { DAY_FIELD } from "../../shared/dayField";
import { Figures } from "../../shared/Figures";
import { refused } from "../../shared/faults";
import { day } from "../../shared/format";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { useToday } from "../../shared/useToday";
import { KEYS, type Purchase } from "./queries";

const QUESTIONS = [
  ["seal", "The seal is intact"],
  ["series", "It is the right series"],
  ["contents", "It is as described"],
] as const;
const ANSWERS: Record<string, boolean | null> = { "not looked": null, yes: true, no: false };

function inAnswer(found: unknown): string {
  return found === true ? "yes" : found === false ? "no" : "not looked";
}

/** A parcel is here: what the inspection found, which opens a dispute if something is not as it should be. */
export function Receive({ data }: { data: Purchase }) {
  const today = useToday();
  const [found, setFound] = useState({ seal: "not looked", series: "not looked", contents: "not looked" });
  const [note, setNote] = useState("");
  const [on, setOn] = useState(today);
  const receive = useAct(
    () =>
      take(
        client.POST("/api/purchases/{number}/receive", {
          params: { path: { number: data.number } },
          body: {
            version: data.version,
            day: on,
            note,
            seal: ANSWERS[found.seal] ?? null,
            series: ANSWERS[found.series] ?? null,
            contents: ANSWERS[found.contents] ?? null,
          },
        }),
      ),
    {
      keys: KEYS,
      text: (row) => (row.state === "disputed" ? "Received, and in dispute." : "Received."),
    },
  );
  return (
    <Section id="parcel" title="Receive and inspect" point="what is not as it should be opens a dispute">
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 1.5, alignItems: "flex-start" }}>
        <TextField
          label="Here since"
          {...DAY_FIELD}
          value={on}
          onChange={(event) => setOn(event.target.value)}
          {...refused(receive.error, "day")}

          sx={{ width: 150 }}
        />
        {QUESTIONS.map(([name, words]) => (
          <TextField
            key={name}
            select
            label={words}
            value={found[name]}
            onChange={(event) => setFound({ ...found, [name]: event.target.value })}
            sx={{ width: 165 }}
          >
            {Object.keys(ANSWERS).map((answer) => (
              <MenuItem key={answer} value={answer}>
                {answer}
              </MenuItem>
            ))}
          </TextField>
        ))}
        <TextField
          label="Note"
          value={note}
          onChange={(event) => setNote(event.target.value)}
          sx={{ width: 260 }}
        />
        <Button
          variant="contained"
          onClick={() => receive.mutate(undefined)}
          disabled={receive.isPending}
          sx={{ mt: 0.5 }}
        >
          It is here
        </Button>
      </Box>
    </Section>
  );
}

/** Who sent it and how, and what the inspection found; the words can be corrected. */
export function Parcel({ data }: { data: Purchase }) {
  const [editing, setEditing] = useState(false);
  const inspection = data.inspection ?? {};
  const looked = QUESTIONS.filter(([name]) => typeof inspection[name] === "boolean");
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
              ...looked.map(([name, words]) => [words, inAnswer(inspection[name])] as const),
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
  const [typed, setTyped] = useState({
    name: data.name,
    seller: data.seller ?? "",
    carrier: data.carrier ?? "",
    tracking: data.tracking ?? "",
    due_on: data.due_on ?? "",
    note: data.note ?? "",
  });
  const save = useAct(
    () => {
      const filled = Object.fromEntries(
        Object.entries(typed).map(([name, text]) => [name, text.trim() || null]),
      ) as Omit<Schemas["PurchaseWordsIn"], "version" | "name">;
      return take(
        client.PUT("/api/purchases/{number}", {
          params: { path: { number: data.number } },
          body: { ...filled, name: typed.name, version: data.version },
        }),
      );
    },
    { keys: KEYS, text: "Corrected.", done, quiet: true },
  );
  const labels = {
    name: "What, in words",
    seller: "From whom",
    carrier: "Carrier",
    tracking: "Tracking number",
    due_on: "Due on",
    note: "Note",
  };
  return (
    <Box sx={{ display: "flex", flexDirection: "column", gap: 1.5, mt: 1.5 }}>
      {(Object.keys(labels) as (keyof typeof labels)[]).map((name) => (
        <TextField
          key={name}
          label={labels[name]}
          value={typed[name]}
          onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
          {...refused(save.error, name)}
          {...(name === "due_on" ? DAY_FIELD : {})}
        />
      ))}
      {save.isError && (
        <Box role="alert" sx={{ color: "error.main" }}>
          {inWords(save.error)}
        </Box>
      )}
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="outlined" color="inherit" onClick={() => save.mutate(undefined)}>
          Keep it so
        </Button>
        <Button color="inherit" onClick={done}>
          Leave it
        </Button>
      </Box>
    </Box>
  );
}
