import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { EntryRow } from "../../shared/forms/EntryRow";
import { WordsField } from "../../shared/forms/fields";
import { words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { useAct } from "../../shared/useAct";

const SHAPE = z.object({ name: words });

/** Filters that are kept by name: choose one, keep this one, or forget the chosen one. */
export function SavedFilters({
  params,
  setParams,
}: {
  params: URLSearchParams;
  setParams: (fresh: URLSearchParams, options: { replace: boolean }) => void;
}) {
  const filters = useQuery({
    queryKey: ["item-filters"],
    queryFn: () => take(client.GET("/api/item-filters")),
  });
  const forget = useAct(
    (kept: string) => take(client.DELETE("/api/item-filters/{name}", { params: { path: { name: kept } } })),
    { keys: ["item-filters"], text: "Filter forgotten." },
  );
  const same = (kept: Record<string, unknown>) =>
    new URLSearchParams(kept as Record<string, string>).toString() === params.toString();
  const here = filters.data?.filters.find((item) => same(item.query));
  const { form, submit, busy, faults } = useEntry({
    empty: { name: "" },
    shape: SHAPE,
    send: ({ name }) =>
      take(client.PUT("/api/item-filters", { body: { name, query: Object.fromEntries(params) } })),
    keys: ["item-filters"],
    text: "Filter kept.",
  });
  return (
    <>
      {(filters.data?.filters.length ?? 0) > 0 && (
        <ChoiceBox
          label="Kept filters"
          value={here?.name ?? ""}
          set={(name) => {
            const found = filters.data?.filters.find((item) => item.name === name);
            if (found)
              setParams(new URLSearchParams(found.query as Record<string, string>), { replace: true });
          }}
          width={150}
          choices={Object.fromEntries((filters.data?.filters ?? []).map(({ name }) => [name, name]))}
        />
      )}
      {here && (
        <Button color="inherit" onClick={() => forget.mutate(here.name)}>
          Forget “{here.name}”
        </Button>
      )}
      <EntryRow submit={submit} busy={busy} faults={faults} act="Keep" label="Keep this filter">
        <WordsField control={form.control} name="name" label="Keep this filter as" width={170} />
      </EntryRow>
    </>
  );
}
