import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { EntryRow } from "../../shared/forms/EntryRow";
import { WordsField } from "../../shared/forms/fields";
import { words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";

const SHAPE = z.object({ what: words });

/** What was done to a card before it goes stands on its record, and a buyer is told. */
export function Cleaning({ item }: { item: number }) {
  const thing = useQuery({
    queryKey: ["items", "one", String(item)],
    queryFn: () => take(client.GET("/api/items/{number}", { params: { path: { number: item } } })),
  });
  const { form, submit, busy, faults } = useEntry({
    draft: `cleaning of ${item}`,
    empty: { what: "" },
    shape: SHAPE,
    send: (body) =>
      take(
        client.POST("/api/items/{number}/cleaned", {
          params: { path: { number: item } },
          body: { ...body, version: thing.data?.version ?? 0 },
        }),
      ),
    keys: ["items"],
    text: "Written down.",
  });
  const done = (thing.data?.history ?? []).filter((it) => it.text.startsWith("cleaned: "));
  return (
    <Section title="Cleaning" point="a log, that a buyer is told of">
      {done.map((it, at) => (
        <Box key={at}>
          {it.day}: {it.text.replace("cleaned: ", "")}
        </Box>
      ))}
      <EntryRow submit={submit} busy={busy} faults={faults} act="Write it down">
        <WordsField control={form.control} name="what" label="What was done" width={280} />
      </EntryRow>
      <Aside>
        A dry, soft cloth at most: solvents, pressure and blades damage cards, and many graders refuse what
        was altered.
      </Aside>
    </Section>
  );
}
