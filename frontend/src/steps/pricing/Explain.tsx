import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useWatch } from "react-hook-form";
import * as z from "zod/mini";
import { client, take, type Schemas } from "../../shared/api/client";
import { CardSearch, cardName, type FoundCard } from "../../shared/CardSearch";
import { FieldRow } from "../../shared/FieldRow";
import { EntryRow } from "../../shared/forms/EntryRow";
import { ChoiceField, WordsField } from "../../shared/forms/fields";
import { words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import type { Result } from "./pages";

type Means = Schemas["TeachIn"]["means"];

const MEANS: Record<Means, string> = {
  line: "a line, called",
  variant: "a variant, called",
  state: "a state or grade, like",
  no_card: "that it is no card",
};

interface Props {
  result: Result;
  state: string;
  setState: (state: string) => void;
  setCard: (card: FoundCard) => void;
  canBe: boolean;
  /** The release that it is of, if that is known: words may mean something else in another. */
  release: string | null;
  leave: () => void;
}

/** More about one result: which card it is, its state, and what words of its title mean from now on. */
export function Explain({ result, state, setState, setCard, canBe, release, leave }: Props) {
  const [typed, setTyped] = useState("");
  const { form, submit, busy, faults } = useEntry({
    empty: { words: result.unexplained.join(" "), means: "line" as Means, value: "" },
    shape: z.object({ words, means: z.enum(["line", "variant", "state", "no_card"]), value: words }),
    send: (body, key) =>
      take(
        client.POST("/api/prices/words", {
          body: { ...body, release: body.means === "line" || body.means === "variant" ? release : null },
          headers: { "Idempotency-Key": key },
        }),
      ),
    keys: ["pasted", "taught"],
    text: "Known from now on.",
    done: leave,
  });
  const means = useWatch({ control: form.control, name: "means" });
  return (
    <Section title="Say more" point={result.title}>
      <FieldRow>
        <CardSearch
          label="Which card it is"
          value={typed}
          type={setTyped}
          pick={(card) => {
            setTyped(`${cardName(card)} ${card.number}`);
            setCard(card);
          }}
          width={380}
        />
        <TextField
          label="Its state, or Grader:grade"
          value={state}
          onChange={(event) => setState(event.target.value.slice(0, 60))}
          sx={{ width: 190 }}
        />
      </FieldRow>
      {!canBe && <Aside>It can only be kept once its card and state are said, and if it has a price.</Aside>}
      <Box sx={{ mt: 1 }}>
        <EntryRow
          submit={submit}
          busy={busy}
          faults={faults}
          act="Remember it"
          label="Words of titles"
          after={
            <Button color="inherit" onClick={leave}>
              Close
            </Button>
          }
        >
          <WordsField control={form.control} name="words" label="These words of a title" width={240} />
          <ChoiceField control={form.control} name="means" label="mean" choices={MEANS} width={190} />
          {means !== "no_card" && (
            <WordsField control={form.control} name="value" label="which one" width={200} />
          )}
        </EntryRow>
      </Box>
    </Section>
  );
}
