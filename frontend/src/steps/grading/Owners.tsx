import Box from "@mui/material/Box";
import * as z from "zod/mini";
import { useState } from "react";
import { client, take } from "../../shared/api/client";
import { money } from "../../shared/format";
import { EntryRow } from "../../shared/forms/EntryRow";
import { ChoiceField, MoneyField } from "../../shared/forms/fields";
import { amount, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { useToday } from "../../shared/useToday";
import { KEYS } from "./queries";
import type { Submission } from "./submission";

/** Friends whose cards went along: what each owes, a statement, and settling with them. */
export function Owners({ data }: { data: Submission }) {
  const owners = [...new Set(data.cards.flatMap((it) => (it.owner ? [it.owner] : [])))];
  if (owners.length === 0) return null;
  return (
    <Section title="Friends’ cards" point={data.currency}>
      {owners.map((owner) => (
        <Box key={owner} sx={{ mb: 1 }}>
          <b>{owner}</b>{" "}
          {data.state === "drafted"
            ? `will owe about ${money(data.per_owner[owner])}`
            : `owes ${money(data.owed.find((it) => it.owner === owner)?.amount ?? "0")} for this`}
          {data.state !== "drafted" && (
            <>
              {" "}
              <a href={`/api/submissions/${data.number}/statement?owner=${encodeURIComponent(owner)}`}>
                statement (PDF)
              </a>
            </>
          )}
        </Box>
      ))}
      {data.owed.length > 0 && <Settle owners={owners} />}
    </Section>
  );
}

function Settle({ owners }: { owners: readonly string[] }) {
  const today = useToday();
  const [shape] = useState(() => z.object({ owner: words, amount }));
  const { form, submit, busy, faults } = useEntry({
    draft: "settling",
    empty: { owner: owners[0] ?? "", amount: "" },
    shape,
    send: (body) =>
      take(
        client.POST("/api/friends/settled", { body: { ...body, day: today, comes_in: true, purse: "bank" } }),
      ),
    keys: KEYS,
    text: (done) => `Settled; ${money(done.left)} stands open.`,
  });
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="It was paid">
      <ChoiceField
        control={form.control}
        name="owner"
        label="Who"
        choices={Object.fromEntries(owners.map((it) => [it, it]))}
        width={150}
      />
      <MoneyField control={form.control} name="amount" label="Paid" width={100} />
    </EntryRow>
  );
}
