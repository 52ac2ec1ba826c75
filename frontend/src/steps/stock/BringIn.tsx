import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { EntryRow } from "../../shared/forms/EntryRow";
import { Controller, useWatch } from "react-hook-form";
import * as z from "zod/mini";
import { client, inWords, ProblemError, take, type Schemas } from "../../shared/api/client";
import { markOf, send, useStage, useUploadKey } from "../../shared/api/upload";
import { CardSearch, cardName } from "../../shared/CardSearch";
import { CONDITIONS, type Condition } from "../../shared/ConditionChoice";
import { FileDrop } from "../../shared/FileDrop";
import { count } from "../../shared/format";
import { ChoiceField, CountField, MoneyField, WordsField } from "../../shared/forms/fields";
import { maybeAmount, maybeWords, whole, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { UploadProgress } from "../../shared/UploadProgress";
import { useAct } from "../../shared/useAct";
import { keyed } from "../../shared/useOnce";

interface Wish {
  file: File;
  words?: boolean;
  again?: boolean;
}

/** The columns in which a name may be one that nobody here knows. */
const NAMES = ["release", "format", "line", "number"];

/** What was there before the books began, from a file or typed. */
export function BringIn() {
  const keyOf = useUploadKey(); // the same file again is the same wish, another one is not
  const [stage, tell] = useStage();
  const bring = useAct(
    ({ file, words = false, again = false }: Wish) => {
      const form = new FormData();
      form.set("file", file);
      form.set("words", String(words));
      form.set("again", String(again));
      return send<Schemas["ItemsImportedOut"]>(
        { path: "/api/items", form, key: keyOf(`${markOf(file)} ${words} ${again}`) },
        tell,
      );
    },
    {
      keys: ["items", "books"],
      text: (done) => `${count(done.rows)} rows brought in.`,
      undo: (_, { entry }) =>
        take(client.POST("/api/entries/{number}/undo", { params: { path: { number: entry } } })),
      quiet: true,
    },
  );
  const wish = bring.variables;
  const isKnown = bring.error instanceof ProblemError && bring.error.problem.status === 409;
  const faults = bring.error instanceof ProblemError ? (bring.error.problem.faults ?? []) : [];
  return (
    <Section id="bring-in" title="Bring in what was there before" point="CSV or XLSX; all rows or none">
      <Box sx={{ mt: 1 }}>
        <FileDrop
          label="List of items"
          accept=".csv,.xlsx"
          act={bring.isPending ? "Bringing it in …" : "Choose a file"}
          disabled={bring.isPending}
          choose={(file) => bring.mutate({ file })}
        >
          <Box component="span" sx={{ fontSize: 13, color: "text.secondary", flex: 1, minWidth: 240 }}>
            or drop it here. Columns: name, and if you like kind, release, format, line, number, variant,
            count, condition, state, serial, place, basis, value, acquired_on, never_for_sale, note. An empty
            basis is unknown, never 0.
          </Box>
        </FileDrop>
      </Box>
      {bring.isPending && <UploadProgress stage={stage} />}
      {bring.isError && (
        <Box role="alert" sx={{ color: "error.main", mt: 1.5 }}>
          {faults.length === 0 && inWords(bring.error)}
          {faults.slice(0, 20).map((fault) => (
            <Box key={`${fault.row} ${fault.field}`}>
              {fault.row !== null && `row ${fault.row}, `}
              {fault.field}: {fault.message}
            </Box>
          ))}
          {faults.length > 20 && <Box>and {faults.length - 20} more</Box>}
          {wish && !wish.words && faults.some((fault) => NAMES.includes(fault.field)) && (
            <Button
              color="inherit"
              variant="outlined"
              sx={{ mt: 1 }}
              onClick={() => bring.mutate({ ...wish, words: true })}
            >
              Bring it in with unknown names as words
            </Button>
          )}
          {wish && isKnown && (
            <Button
              color="inherit"
              variant="outlined"
              sx={{ mt: 1 }}
              onClick={() => bring.mutate({ ...wish, again: true })}
            >
              Bring it in once more
            </Button>
          )}
        </Box>
      )}
      <ByHand />
      <Aside>Mould and dust in old binders: wear a mask.</Aside>
    </Section>
  );
}

const EMPTY = {
  name: "",
  release: "",
  line: "",
  number: "",
  variant: "",
  count: "1",
  basis: "",
  value: "",
  condition: "",
  serial: "",
  place: "",
};
const SHAPE = z.object({
  name: words,
  release: maybeWords,
  line: maybeWords,
  number: maybeWords,
  variant: maybeWords,
  count: whole,
  basis: maybeAmount,
  value: maybeAmount,
  condition: z.pipe(
    maybeWords,
    z.transform((text) => text as Condition | null),
  ),
  serial: maybeWords,
  place: maybeWords,
});

/** A thing that was there before, typed in. */
function ByHand() {
  const { form, submit, busy, faults } = useEntry({
    draft: "bring in",
    empty: EMPTY,
    shape: SHAPE,
    send: (body, key) => take(client.POST("/api/items/one", { body, ...keyed(key) })),
    keys: ["items", "books"],
    text: "Brought in.",
  });
  const { control } = form;
  const [release, line, number, variant] = useWatch({
    control,
    name: ["release", "line", "number", "variant"],
  });
  const say = (part: Partial<typeof EMPTY>) => {
    for (const [name, text] of Object.entries(part)) form.setValue(name as keyof typeof EMPTY, text);
  };
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="Bring it in">
      <Controller
        control={control}
        name="name"
        render={({ field, fieldState }) => (
          <CardSearch
            label="Or by hand: a card, or any words"
            value={field.value}
            inputRef={field.ref}
            type={(name) => {
              field.onChange(name);
              say({ release: "", line: "", number: "", variant: "" });
            }}
            pick={(card) => {
              field.onChange(cardName(card));
              const { release, line, number, variant } = card;
              say({ release, line, number, variant: variant || "" });
              if (!form.getValues("value") && card.price !== null) say({ value: card.price });
            }}
            fault={fieldState.error?.message}
            comesIn={{ chosen: number ? { release, line, number, variant } : null }}
            width={330}
          />
        )}
      />
      <CountField control={control} name="count" label="How many" />
      <ChoiceField
        control={control}
        name="condition"
        label="Condition"
        choices={{ "": "not said", ...Object.fromEntries(CONDITIONS.map((state) => [state, state])) }}
        width={120}
      />
      <WordsField control={control} name="serial" label="Serial number" width={120} />
      <MoneyField control={control} name="basis" label="Cost of all" hint="empty: unknown" />
      <MoneyField control={control} name="value" label="Worth, about" hint="empty: unknown" />
      <WordsField control={control} name="place" label="Place" width={120} />
    </EntryRow>
  );
}
