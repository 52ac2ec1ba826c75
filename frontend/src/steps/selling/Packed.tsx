import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { day as inDays } from "../../shared/format";
import { EntryRow } from "../../shared/forms/EntryRow";
import { DayField, MoneyField, WordsField } from "../../shared/forms/fields";
import { day, maybeAmount, maybeWords, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { useToday } from "../../shared/useToday";
import { KEYS, type Order } from "./queries";

/** It is packed and waits for the post. */
export function Packed({ data }: { data: Order }) {
  const today = useToday();
  const path = { number: data.number };
  const { form, submit, busy, faults } = useEntry({
    draft: `posting of ${data.number}`,
    empty: { day: inDays(today), tracking: "", cost: "", purse: "bank" },
    shape: z.object({ day: day(today), tracking: maybeWords, cost: maybeAmount, purse: words }),
    send: (said) =>
      take(
        client.POST("/api/orders/{number}/posted", {
          params: { path },
          body: { version: data.version, ...said },
        }),
      ),
    keys: KEYS,
    text: `${data.reference} is on its way.`,
    undo: () => take(client.DELETE("/api/orders/{number}/posted", { params: { path } })),
  });
  const unpack = useAct(() => take(client.DELETE("/api/orders/{number}/packed", { params: { path } })), {
    keys: KEYS,
    text: "It is to be packed again.",
  });
  const { control } = form;
  return (
    <Section title="Post it" point={data.packed_on ? `packed on ${inDays(data.packed_on)}` : ""}>
      <EntryRow submit={submit} busy={busy} faults={faults} act="It is posted">
        <DayField control={control} name="day" label="Posted on" />
        <WordsField control={control} name="tracking" label="Tracking number" width={190} />
        <MoneyField control={control} name="cost" label="Postage" hint="empty: as planned" />
        <WordsField control={control} name="purse" label="Paid from" width={100} />
      </EntryRow>
      <Box>
        <Button color="inherit" disabled={unpack.isPending} onClick={() => unpack.mutate(undefined)}>
          Not packed after all
        </Button>
      </Box>
    </Section>
  );
}
