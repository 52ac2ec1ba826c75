import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { EntryRow } from "../../shared/forms/EntryRow";
import { CountField, WordsField } from "../../shared/forms/fields";
import { whole, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { keyed } from "../../shared/useOnce";

const SHAPE = z.object({ name: words, count: whole });

/** Sleeves, holders and boxes that came with the cards: into the supplies at no cost. */
export function Salvage() {
  const { form, submit, busy, faults } = useEntry({
    draft: "salvaged",
    empty: { name: "", count: "" },
    shape: SHAPE,
    send: (body, key) => take(client.POST("/api/sorting/salvage", { body, ...keyed(key) })),
    keys: ["items", "books"],
    text: "Put to the supplies at no cost.",
    undo: (_, { entry }) =>
      take(client.POST("/api/entries/{number}/undo", { params: { path: { number: entry } } })),
  });
  return (
    <Section title="Salvaged sleeves and holders" point="supplies at no cost">
      <EntryRow submit={submit} busy={busy} faults={faults} act="Put to the supplies">
        <WordsField control={form.control} name="name" label="What" width={220} />
        <CountField control={form.control} name="count" label="How many" />
      </EntryRow>
    </Section>
  );
}
