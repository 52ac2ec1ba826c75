import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useRef, useState } from "react";
import { client, inWords, ProblemError, take, type Schemas } from "../../shared/api/client";
import { markOf, send, useStage, useUploadKey } from "../../shared/api/upload";
import { CardSearch, cardName } from "../../shared/CardSearch";
import { ConditionChoice } from "../../shared/ConditionChoice";
import { otherFaults, refused, faultAt } from "../../shared/faults";
import { count } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { UploadProgress } from "../../shared/UploadProgress";
import { useAct } from "../../shared/useAct";
import { keyed, useOnce } from "../../shared/useOnce";

/** What was there before the books began, from a file or typed. */
export function BringIn() {
  const file = useRef<HTMLInputElement>(null);
  const keyOf = useUploadKey(); // the same file again is the same wish, another one is not
  const [stage, tell] = useStage();
  const bring = useAct(
    (chosen: File) => {
      const form = new FormData();
      form.set("file", chosen);
      return send<Schemas["ItemsImportedOut"]>(
        { path: "/api/items", form, key: keyOf(markOf(chosen)) },
        tell,
      );
    },
    {
      keys: ["items", "books"],
      text: (done) => `${count(done.rows)} rows brought in.`,
      quiet: true,
    },
  );
  const faults = bring.error instanceof ProblemError ? (bring.error.problem.faults ?? []) : [];
  return (
    <Section id="bring-in" title="Bring in what was there before" point="CSV or XLSX; all rows or none">
      <Box sx={{ display: "flex", gap: 2, mt: 1, alignItems: "center" }}>
        <Button
          variant="outlined"
          color="inherit"
          onClick={() => file.current?.click()}
          disabled={bring.isPending}
          sx={{ flexShrink: 0 }}
        >
          {bring.isPending ? "Bringing it in …" : "Choose a file"}
        </Button>
        <input
          ref={file}
          type="file"
          accept=".csv,.xlsx"
          aria-label="List of items"
          hidden
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (chosen) bring.mutate(chosen);
            event.target.value = "";
          }}
        />
        <Box component="span" sx={{ fontSize: 13, color: "text.secondary" }}>
          Columns: name, and if you like release, line, number, variant, count, condition, serial, place,
          basis, value, acquired_on, never_for_sale, note. An empty basis is unknown, never 0.
        </Box>
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
        </Box>
      )}
      <ByHand />
      <Aside>Mould and dust in old binders: wear a mask.</Aside>
    </Section>
  );
}

const EMPTY = {
  name: "",
  release: null as string | null,
  line: null as string | null,
  number: null as string | null,
  variant: null as string | null,
  count: "1",
  basis: "",
  value: "",
  condition: "",
  serial: "",
  place: "",
};
const SHOWN = ["name", "count", "basis", "value", "serial", "place"];

/** A thing that was there before, typed in. */
function ByHand() {
  const [typed, setTyped] = useState(EMPTY);
  const once = useOnce();
  const add = useAct(
    () => {
      const orNull = (text: string) => text.trim() || null;
      return take(
        client.POST("/api/items/one", {
          body: {
            name: typed.name.trim(),
            release: typed.release,
            line: typed.line,
            number: typed.number,
            variant: typed.variant,
            count: Number(typed.count),
            basis: orNull(typed.basis),
            value: orNull(typed.value),
            condition: orNull(typed.condition) as Schemas["ThereBeforeIn"]["condition"],
            serial: orNull(typed.serial),
            place: orNull(typed.place),
          },
          ...keyed(once.key()),
        }),
      );
    },
    {
      keys: ["items", "books"],
      text: "Brought in.",
      done: () => {
        setTyped(EMPTY);
        once.made();
      },
      quiet: true,
    },
  );
  const field = (name: "count" | "basis" | "value" | "serial" | "place", label: string, width: number) => (
    <TextField
      label={label}
      value={typed[name]}
      onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
      {...refused(add.error, name)}
      sx={{ width }}
    />
  );
  return (
    <>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 2, alignItems: "flex-start" }}>
        <CardSearch
          label="Or by hand: a card, or any words"
          value={typed.name}
          type={(name) =>
            setTyped({ ...typed, name, release: null, line: null, number: null, variant: null })
          }
          pick={(card) =>
            setTyped({
              ...typed,
              name: cardName(card),
              release: card.release,
              line: card.line,
              number: card.number,
              variant: card.variant || null,
              value: typed.value || (card.price ?? ""),
            })
          }
          fault={faultAt(add.error, "name")}
          width={330}
        />
        {field("count", "How many", 90)}
        <ConditionChoice
          value={typed.condition}
          choose={(condition) => setTyped({ ...typed, condition: condition ?? "" })}
        />
        {field("serial", "Serial number", 120)}
        {field("basis", "Cost of all", 110)}
        {field("value", "Worth, about", 110)}
        {field("place", "Place", 120)}
        <Button
          variant="outlined"
          color="inherit"
          disabled={!typed.name.trim() || add.isPending}
          onClick={() => add.mutate(undefined)}
        >
          Bring it in
        </Button>
      </Box>
      {otherFaults(add.error, (name) => SHOWN.includes(name)).map((words) => (
        <Box key={words} role="alert" sx={{ color: "error.main", mt: 1 }}>
          {words}
        </Box>
      ))}
    </>
  );
}
