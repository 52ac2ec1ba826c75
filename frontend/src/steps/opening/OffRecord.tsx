import Button from "@mui/material/Button";
import { EntryRow } from "../../shared/forms/EntryRow";
import { useState } from "react";
import * as z from "zod/mini";
import type { Schemas } from "../../shared/api/client";
import { CountField } from "../../shared/forms/fields";
import { maybeWhole, whole } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import type { Opening } from "./entering";

interface Props {
  data: Opening;
  log: (body: Schemas["TotalsIn"], key: string) => Promise<Opening>;
}

/** Packs that were opened without logging each card: how many hits of which line. */
export function OffRecord(props: Props) {
  const [shown, setShown] = useState(false);
  if (shown) return <Totals {...props} close={() => setShown(false)} />;
  return (
    <Button color="inherit" onClick={() => setShown(true)}>
      Packs opened off the record
    </Button>
  );
}

function Totals({ data, log, close }: Props & { close: () => void }) {
  const lines = data.lines.filter((line) => !line.is_base);
  const [shape] = useState(() => z.object({ packs: whole, counts: z.array(maybeWhole) }));
  const { form, submit, busy, faults } = useEntry({
    draft: `totals ${data.number}`,
    empty: { packs: "", counts: lines.map(() => "") },
    shape,
    send: ({ packs, counts }, key) => {
      const totals = lines.flatMap((line, at) => (counts[at] ? [{ line: line.id, count: counts[at] }] : []));
      return log({ packs, totals }, key);
    },
    keys: [],
  });
  return (
    <Section title="Packs opened off the record" point="from this pack on, as totals; the rest is base">
      <EntryRow
        submit={submit}
        busy={busy}
        faults={faults}
        act="Log these packs"
        after={
          <Button color="inherit" onClick={close}>
            Close
          </Button>
        }
      >
        <CountField control={form.control} name="packs" label="Packs" />
        {lines.map((line, at) => (
          <CountField
            key={line.id}
            control={form.control}
            name={`counts.${at}`}
            label={line.name}
            width={150}
          />
        ))}
      </EntryRow>
      <Aside>Which card it was stays unknown: it counts at the average of its line.</Aside>
    </Section>
  );
}
