import TextField from "@mui/material/TextField";
import { useState } from "react";

interface Props {
  label: string;
  value: string;
  commit: (text: string) => void;
  fault?: string | null;
  hint?: string;
  width?: number;
  /** So many lines at least: Enter begins the next then. */
  lines?: number;
  /** Which keyboard a phone shows. */
  inputMode?: "text" | "decimal" | "numeric";
}

/**
 * A field of a page's question, or one that is kept by itself: Enter or leaving it sends what is typed, Esc puts back
 * what stood there. What is typed while an answer is under way, or after a refusal, stays.
 */
export function ValueField({ label, value, commit, fault, hint, width = 150, lines, inputMode }: Props) {
  const [typed, setTyped] = useState<{ text: string; sent: string | null } | null>(null);
  const [known, setKnown] = useState(value);
  if (known !== value) {
    setKnown(value);
    // The answer to what was sent, or a change made elsewhere while nothing was typed: that is what stands now.
    if (typed?.text.trim() === typed?.sent) setTyped(null);
  }
  const send = () => {
    if (typed === null) return;
    const text = typed.text.trim();
    if (text === value) return setTyped(null);
    if (text === typed.sent) return; // sent already, or refused as it is
    setTyped({ ...typed, sent: text });
    commit(text);
  };
  return (
    <TextField
      label={label}
      value={typed?.text ?? value}
      onChange={(event) => setTyped({ text: event.target.value, sent: typed?.sent ?? null })}
      onBlur={send}
      onKeyDown={(event) => {
        if (event.key === "Enter" && !lines) {
          event.preventDefault();
          send();
        }
        if (event.key === "Escape") setTyped(null);
      }}
      error={Boolean(fault)}
      helperText={fault || hint || " "}
      {...(lines ? { multiline: true, minRows: lines } : {})}
      {...(inputMode ? { slotProps: { htmlInput: { inputMode } } } : {})}
      sx={{ width, maxWidth: 1 }}
    />
  );
}
