import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useState } from "react";
import * as z from "zod/mini";
import { client, take, type Schemas } from "./api/client";
import { OtherFaults, WordsField } from "./forms/fields";
import { maybeWhole, maybeWords, whole, words } from "./forms/shapes";
import { useEntry } from "./forms/useEntry";

interface Props {
  typed: string;
  /** Of which release it is, where that is known. */
  release?: { id: string; title: string };
  close: () => void;
  named: (card: Schemas["FoundOut"]) => void;
}

const EMPTY = { name: "", year: "", series: "", line: "", number: "", subject: "", variant: "" };
type Said = typeof EMPTY;
const NAMES = { "fresh.name": "name", "fresh.year": "year", "fresh.series": "series" };

/** Names a card that no product sheet tells of, and its release if need be: then it can be found and kept like any. */
export function NameCard({ typed, release, close, named }: Props) {
  const [shape] = useState(() =>
    z.object({
      name: words,
      year: release ? maybeWhole : whole,
      series: maybeWords,
      line: words,
      number: words,
      subject: words,
      variant: words,
    }),
  );
  const { form, submit, busy, faults } = useEntry({
    empty: { ...EMPTY, subject: typed },
    shape,
    names: NAMES,
    send: ({ name, year, series, ...card }) =>
      take(
        client.POST("/api/named-cards", {
          body: release
            ? { ...card, release: release.id }
            : { ...card, fresh: { name, year: year ?? 0, series } },
        }),
      ),
    keys: ["cards", "stubs", "items"],
    done: named,
  });
  const field = (name: keyof Said, label: string, width: number, hint?: string) => (
    <WordsField
      control={form.control}
      name={name}
      label={label}
      width={width}
      {...(hint ? { hint } : {})}
      autoFocus={name === (release ? "line" : "name")}
      more={name === "year" ? { slotProps: { htmlInput: { inputMode: "numeric" } } } : {}}
    />
  );
  return (
    <Dialog open onClose={close} maxWidth="sm" fullWidth aria-labelledby="name-card">
      <DialogTitle id="name-card" variant="h2">
        Name a card that is not in the list
      </DialogTitle>
      <DialogContent>
        <Box
          component="form"
          id="name-card-form"
          noValidate
          onSubmit={submit}
          sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, pt: 1 }}
        >
          {release ? (
            <Box sx={{ width: 1, color: "text.secondary" }}>of {release.title}</Box>
          ) : (
            <>
              {field("name", "Release", 300)}
              {field("year", "Year", 90)}
              {field("series", "Series, if any", 130)}
            </>
          )}
          {field("line", "Line", 200, "Base for a plain card")}
          {field("number", "Number on the card", 160)}
          {field("subject", "Whom it shows", 300, "several: with / between them")}
          {field("variant", "Variant, if any", 230, "edition, language, error")}
        </Box>
        <OtherFaults faults={faults} />
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Leave it
        </Button>
        <Button type="submit" form="name-card-form" variant="contained" disabled={busy}>
          Name it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
