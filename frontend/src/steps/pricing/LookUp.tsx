import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import * as z from "zod/mini";
import { client, take, type Schemas } from "../../shared/api/client";
import { EntryRow } from "../../shared/forms/EntryRow";
import { WordsField } from "../../shared/forms/fields";
import { words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";

type Card = Omit<Schemas["SearchIn"], "words" | "without">;

/** The words that the card is looked up with elsewhere, ready to be copied; one's own if they are better. */
export function LookUp({ card, state }: { card: Card; state: string }) {
  const [editing, setEditing] = useState(false);
  const query = { ...card, state };
  const found = useQuery({
    queryKey: ["words", query],
    queryFn: () => take(client.GET("/api/prices/card/words", { params: { query } })),
    placeholderData: (before) => before,
  });
  const put = (body: { words: string; without: string }) =>
    take(client.PUT("/api/prices/card/words", { body: { ...card, ...body } }));
  const back = useAct(() => put({ words: "", without: "" }), {
    keys: ["words"],
    text: "The proposed words again.",
  });
  if (!found.data) return null;
  const data = found.data;
  const without = data.without.join(", ");
  return (
    <Section title="Look it up with" point={data.own ? "your own words" : "proposed"}>
      <Copied label="Words" text={data.words} />
      {data.spellings.length > 0 && <Copied label="Also written" text={data.spellings.join(", ")} />}
      {without && <Copied label="Leave out" text={without} />}
      {editing ? (
        <Editing words={data.words} without={without} put={put} leave={() => setEditing(false)} />
      ) : (
        <>
          <Button color="inherit" onClick={() => setEditing(true)}>
            Say it better
          </Button>
          {data.own && (
            <Button color="inherit" onClick={() => back.mutate(undefined)}>
              The proposed words
            </Button>
          )}
        </>
      )}
    </Section>
  );
}

function Copied({ label, text }: { label: string; text: string }) {
  const [copied, setCopied] = useState("");
  return (
    <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, fontSize: 13 }}>
      <Box component="span" sx={{ width: 90, flex: "none", color: "text.secondary" }}>
        {label}
      </Box>
      <Box component="span" sx={{ flex: 1, overflowWrap: "anywhere" }}>
        {text}
      </Box>
      <Button
        color="inherit"
        aria-label={`Copy: ${label}`}
        onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(text))}
        sx={{ py: 0, minHeight: 24 }}
      >
        {copied === text ? "Copied" : "Copy"}
      </Button>
    </Box>
  );
}

function Editing(props: {
  words: string;
  without: string;
  put: (body: { words: string; without: string }) => Promise<unknown>;
  leave: () => void;
}) {
  const { form, submit, busy, faults } = useEntry({
    empty: { words: props.words, without: props.without },
    shape: z.object({ words, without: words }),
    send: props.put,
    keys: ["words"],
    text: "Kept for this card.",
    done: props.leave,
  });
  return (
    <EntryRow
      submit={submit}
      busy={busy}
      faults={faults}
      act="Keep"
      label="Words to look it up with"
      after={
        <Button color="inherit" onClick={props.leave}>
          Not now
        </Button>
      }
    >
      <WordsField control={form.control} name="words" label="Words to search for" width={300} />
      <WordsField control={form.control} name="without" label="Leave out, between commas" width={300} />
    </EntryRow>
  );
}
