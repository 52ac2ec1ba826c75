import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { inWords, ProblemError, type Schemas } from "../../shared/api/client";
import { counted } from "../../shared/format";
import { useDraft } from "../../shared/useDraft";
import { readColumn } from "./column";
import type { Corrections } from "./queries";

interface Props {
  release: string;
  line: Schemas["LineOut"];
  corrections: Corrections;
}

/** Prices out of a column of a table: a number and a price in each row; all are kept, as one change, or none. */
export function PastePrices({ release, line, corrections }: Props) {
  const [shown, setShown] = useState(false);
  const [text, setText, forget] = useDraft(`prices of ${release}/${line.id}`, "");
  const [faults, setFaults] = useState<string[]>([]);
  const [busy, setBusy] = useState(false);
  if (!shown && !text) {
    return (
      <Button color="inherit" onClick={() => setShown(true)}>
        Paste prices
      </Button>
    );
  }
  const rows = readColumn(text);
  const wrong = rows.filter((row) => row.fault !== undefined);
  const close = () => {
    setText("");
    forget();
    setFaults([]);
    setShown(false);
  };
  const send = () => {
    setBusy(true);
    corrections
      .priceCards(
        line.id,
        rows.map(({ number, price }) => ({ number, price })),
      )
      .then(close, (error: unknown) => {
        const found = error instanceof ProblemError ? (error.problem.faults ?? []) : [];
        const words = found.map(({ field, message }) => {
          const at = Number(/\[(\d+)\]/.exec(field)?.[1] ?? -1);
          const row = rows[at];
          return row ? `row ${row.row}, ${row.number}: ${message}` : message;
        });
        setFaults(words.length ? words : [inWords(error)]);
      })
      .finally(() => setBusy(false));
  };
  return (
    <Box sx={{ my: 1.5, maxWidth: 520 }}>
      <TextField
        label={`Numbers and prices of ${line.name}`}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setFaults([]);
        }}
        multiline
        minRows={4}
        maxRows={14}
        fullWidth
        autoFocus
        helperText="a row each, out of a table or typed: 12 3.50; an empty price is unknown"
      />
      {[...wrong.map((row) => `row ${row.row}: ${row.fault}`), ...faults].slice(0, 12).map((words) => (
        <Box key={words} role="alert" sx={{ color: "error.main", fontSize: 13 }}>
          {words}
        </Box>
      ))}
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button
          variant="outlined"
          color="inherit"
          disabled={busy || rows.length === 0 || wrong.length > 0}
          onClick={send}
        >
          Keep {counted(rows.length, "price")}
        </Button>
        <Button color="inherit" onClick={close}>
          Leave it
        </Button>
      </Box>
    </Box>
  );
}
