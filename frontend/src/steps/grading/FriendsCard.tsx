import * as z from "zod/mini";
import { useState } from "react";
import { client, take } from "../../shared/api/client";
import { cardName, CardSearch, type FoundCard } from "../../shared/CardSearch";
import { EntryRow } from "../../shared/forms/EntryRow";
import { WordsField } from "../../shared/forms/fields";
import { words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { useController } from "react-hook-form";
import { KEYS } from "./queries";

const SHAPE = z.object({ owner: words, name: words });

/** A friend's card lies here to go along: it is in no books but as what the friend owes. */
export function FriendsCard() {
  const [card, setCard] = useState<FoundCard | null>(null);
  const { form, submit, busy, faults } = useEntry({
    draft: "a friend's card",
    empty: { owner: "", name: "" },
    shape: SHAPE,
    send: (body) =>
      take(
        client.POST("/api/friends/cards", {
          body: {
            ...body,
            ...(card && cardName(card) === body.name
              ? { release: card.release, line: card.line, number: card.number, variant: card.variant }
              : { number: null }),
          },
        }),
      ),
    keys: KEYS,
    text: "It lies here now, and can go along.",
    done: () => setCard(null),
  });
  const { field, fieldState } = useController({ control: form.control, name: "name" });
  return (
    <Section title="A friend’s card" point="lies here to go along; it never enters your books">
      <EntryRow submit={submit} busy={busy} faults={faults} act="It lies here">
        <WordsField control={form.control} name="owner" label="Whose it is" width={180} />
        <CardSearch
          label="Card, by number or subject"
          value={field.value}
          type={(text) => {
            field.onChange(text);
            setCard(null);
          }}
          pick={(found) => {
            field.onChange(cardName(found));
            setCard(found);
          }}
          fault={fieldState.error?.message}
        />
      </EntryRow>
    </Section>
  );
}
