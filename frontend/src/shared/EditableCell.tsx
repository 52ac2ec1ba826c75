import ButtonBase from "@mui/material/ButtonBase";
import InputBase from "@mui/material/InputBase";
import Box from "@mui/material/Box";
import { useEffect, useRef, useState } from "react";
import { faultOf } from "./api/client";

interface Props {
  value: string;
  label: string;
  shown?: string;
  align?: "left" | "right";
  width?: number;
  save: (text: string) => Promise<unknown>;
}

/**
 * A value that is edited where it stands: Enter, a click or the first key typed opens it, Enter saves, Esc leaves it as it was. A refusal
 * stays beside the field with what was typed.
 */
export function EditableCell({ value, label, shown, align = "right", width = 90, save }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const cell = useRef<HTMLButtonElement>(null);
  const refocus = useRef(false);
  const typed = useRef(false);

  useEffect(() => {
    if (draft !== null || !refocus.current) return;
    refocus.current = false;
    cell.current?.focus();
  }, [draft]);

  const close = () => {
    setDraft(null);
    setFault(null);
    refocus.current = true;
  };
  const commit = async (leave: boolean) => {
    if (draft === null || busy) return;
    if (draft.trim() === value) return leave ? (setDraft(null), setFault(null)) : close();
    setBusy(true);
    try {
      await save(draft);
      if (leave) setDraft(null);
      else close();
      setFault(null);
    } catch (error) {
      setFault(faultOf(error));
    } finally {
      setBusy(false);
    }
  };

  if (draft === null) {
    return (
      <ButtonBase
        ref={cell}
        data-cell
        aria-label={`${label}: ${shown ?? (value || "unknown")}. Edit`}
        onClick={() => setDraft(value)}
        onKeyDown={(event) => {
          if (event.key.length !== 1 || event.key === " " || event.ctrlKey || event.metaKey || event.altKey)
            return;
          event.preventDefault();
          event.stopPropagation(); // typed onto a cell it is the first of what is typed, and no key of the page
          typed.current = true;
          setDraft(event.key);
        }}
        sx={{
          font: "inherit",
          minWidth: 40,
          px: 0.5,
          justifyContent: align === "right" ? "flex-end" : "flex-start",
          textAlign: align,
          borderBottom: "1px dotted",
          borderColor: "text.secondary",
          color: value ? "inherit" : "text.secondary",
        }}
      >
        {shown ?? (value || "unknown")}
      </ButtonBase>
    );
  }
  return (
    <Box sx={{ display: "inline-block", textAlign: "left", verticalAlign: "top" }}>
      <InputBase
        autoFocus
        value={draft}
        readOnly={busy} // never disabled: that would drop the keyboard
        onChange={(event) => setDraft(event.target.value)}
        onFocus={(event) => {
          if (!typed.current) event.target.select(); // what was typed is gone on with
          typed.current = false;
        }}
        onBlur={() => void commit(true)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key !== "Enter" && event.key !== "Escape") return;
          event.preventDefault(); // the cell has the focus by then: it would be opened again
          if (event.key === "Enter") void commit(false);
          else close();
        }}
        slotProps={{ input: { "aria-label": label, "aria-invalid": fault !== null } }}
        sx={{
          font: "inherit",
          width,
          bgcolor: "background.paper",
          border: 2,
          borderColor: fault ? "error.main" : "tone.ink",
          borderRadius: "2px",
          "& input": { p: "2px 5px", textAlign: align },
        }}
      />
      {fault && (
        <Box
          role="alert"
          sx={{ color: "error.main", fontSize: 12, maxWidth: 260, whiteSpace: "normal", mt: 0.25 }}
        >
          {fault}
        </Box>
      )}
    </Box>
  );
}
