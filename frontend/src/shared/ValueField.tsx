import TextField from "@mui/material/TextField";
import { useState } from "react";

interface Props {
  label: string;
  value: string;
  commit: (text: string) => void;
  fault?: string | null;
  hint?: string;
  width?: number;
}

/** A field of a page's question: Enter or leaving it asks anew, Esc puts back what stood there. */
export function ValueField({ label, value, commit, fault, hint, width = 150 }: Props) {
  const [draft, setDraft] = useState<{ of: string; text: string }>({ of: value, text: value });
  const text = draft.of === value ? draft.text : value; // what was asked changed elsewhere: show that
  const set = (fresh: string) => setDraft({ of: value, text: fresh });
  const send = () => text !== value && commit(text.trim());
  return (
    <TextField
      label={label}
      value={text}
      onChange={(event) => set(event.target.value)}
      onBlur={send}
      onKeyDown={(event) => {
        if (event.key === "Enter") send();
        if (event.key === "Escape") set(value);
      }}
      error={Boolean(fault)}
      helperText={fault || hint || " "}
      sx={{ width }}
    />
  );
}
