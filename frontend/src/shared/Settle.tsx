import { useState } from "react";
import * as z from "zod/mini";
import { client, take } from "./api/client";
import { money } from "./format";
import { EntryRow } from "./forms/EntryRow";
import { ChoiceField, MoneyField, WordsField } from "./forms/fields";
import { amount, words } from "./forms/shapes";
import { useEntry } from "./forms/useEntry";
import { useToday } from "./useToday";

interface Props {
  friends: readonly string[];
  /** They pay you; else you pay them. */
  comesIn: boolean;
}

/** A friend pays what is owed for cards that went along, or is paid what a card of theirs brought. */
export function Settle({ friends, comesIn }: Props) {
  const today = useToday();
  const [shape] = useState(() => z.object({ owner: words, amount, purse: words }));
  const { form, submit, busy, faults } = useEntry({
    draft: `settling with ${friends.join(", ")}`,
    empty: { owner: friends[0] ?? "", amount: "", purse: "bank" },
    shape,
    send: (body) =>
      take(client.POST("/api/friends/settled", { body: { ...body, day: today, comes_in: comesIn } })),
    keys: ["grading", "books", "items"],
    text: (done) => `Settled; ${money(done.left)} stands open.`,
  });
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="It was paid">
      {friends.length > 1 && (
        <ChoiceField
          control={form.control}
          name="owner"
          label="Who"
          choices={Object.fromEntries(friends.map((it) => [it, it]))}
          width={150}
        />
      )}
      <MoneyField
        control={form.control}
        name="amount"
        label={comesIn ? "They paid" : "You paid"}
        width={100}
      />
      <WordsField control={form.control} name="purse" label={comesIn ? "Into" : "Out of"} width={100} />
    </EntryRow>
  );
}
