import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { client, take, type Schemas } from "./api/client";
import { otherFaults, refused } from "./faults";
import { useAct } from "./useAct";

interface Props {
  typed: string;
  /** Of which release it is, where that is known. */
  release?: { id: string; title: string };
  close: () => void;
  named: (card: Schemas["FoundOut"]) => void;
}

const FIELDS = ["fresh.name", "fresh.year", "name", "year", "line", "number"];

/** Names a card that no product sheet tells of, and its release if need be: then it can be found and kept like any. */
export function NameCard({ typed, release, close, named }: Props) {
  const [said, setSaid] = useState({
    name: "",
    year: "",
    series: "",
    line: "",
    number: "",
    subject: typed,
    variant: "",
  });
  const add = useAct(
    () =>
      take(
        client.POST("/api/named-cards", {
          body: {
            ...(release
              ? { release: release.id }
              : {
                  fresh: {
                    name: said.name,
                    year: Number(said.year) || 1,
                    series: said.series.trim() || null,
                  },
                }),
            line: said.line,
            number: said.number,
            subject: said.subject,
            variant: said.variant,
          },
        }),
      ),
    { keys: ["cards", "stubs", "items"], done: named, quiet: true },
  );
  const faultOf = (name: string) => {
    const inRelease = refused(add.error, `fresh.${name}`);
    return inRelease.error ? inRelease : refused(add.error, name);
  };
  const field = (name: keyof typeof said, label: string, width: number, hint?: string) => {
    const fault = faultOf(name);
    return (
      <TextField
        label={label}
        value={said[name]}
        onChange={(event) => setSaid({ ...said, [name]: event.target.value })}
        {...fault}
        helperText={fault.helperText ?? hint}
        autoFocus={name === (release ? "line" : "name")}
        slotProps={name === "year" ? { htmlInput: { inputMode: "numeric" } } : undefined}
        sx={{ width: { xs: 1, sm: width } }}
      />
    );
  };
  return (
    <Dialog open onClose={close} maxWidth="sm" fullWidth aria-labelledby="name-card">
      <DialogTitle id="name-card" variant="h2">
        Name a card that is not in the list
      </DialogTitle>
      <DialogContent>
        <Box
          component="form"
          id="name-card-form"
          onSubmit={(event) => {
            event.preventDefault();
            add.mutate(undefined);
          }}
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
        {otherFaults(add.error, (name) => FIELDS.includes(name)).map((words) => (
          <Box key={words} role="alert" sx={{ color: "error.main", mt: 1 }}>
            {words}
          </Box>
        ))}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Leave it
        </Button>
        <Button type="submit" form="name-card-form" variant="contained" disabled={add.isPending}>
          Name it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
