import Box from "@mui/material/Box";
import { useEffect, type ReactNode, type RefObject } from "react";
import { isAsking } from "../keys/useKey";
import { Key } from "../Key";

/** The look of a field inside an entry box. */
export const FIELD = { font: "inherit", fontSize: 17, width: "100%", "& input": { p: 0, height: 25 } };

/** The strongly ruled box that cards are entered in, cell beside cell. */
export function EntryBox({ columns, children }: { columns: string; children: ReactNode }) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "1fr 1fr", sm: columns },
        border: 2,
        borderColor: "tone.ink",
        bgcolor: "background.paper",
        "& > div": { p: 1, borderLeft: 1, borderColor: "divider", minWidth: 0 },
        "& > div:first-of-type": { borderLeft: 0 },
      }}
    >
      {children}
    </Box>
  );
}

/** What a cell of the box is. */
export function CellName({ htmlFor, children }: { htmlFor?: string; children: ReactNode }) {
  return (
    <Box
      component={htmlFor ? "label" : "span"}
      {...(htmlFor ? { htmlFor } : {})}
      sx={{ fontSize: 12, color: "text.secondary", display: "block", whiteSpace: "nowrap" }}
    >
      {children}
    </Box>
  );
}

/** The keys that work here, in a row: each with what it does. */
export function Hints({ of }: { of: readonly (readonly [string, string])[] }) {
  return (
    <Box
      sx={{
        display: "flex",
        flexWrap: "wrap",
        columnGap: 1.5,
        rowGap: 0.5,
        fontSize: 13,
        color: "text.secondary",
        mt: 0.75,
      }}
    >
      {of.map(([name, what]) => (
        <span key={name}>
          <Key>{name}</Key> {what}
        </span>
      ))}
    </Box>
  );
}

/** A letter or digit typed anywhere on the page belongs into the field; the focus moves before the key arrives. */
export function useTypedAnywhere(field: RefObject<HTMLInputElement | null>): void {
  useEffect(() => {
    const catchKey = (event: KeyboardEvent) => {
      const where = event.target instanceof Element ? event.target : document.body;
      if (event.ctrlKey || event.metaKey || event.altKey || isAsking()) return;
      if (where.closest("input, textarea, select, [contenteditable], [role=combobox]")) return;
      if (/^[\p{L}\p{N}]$/u.test(event.key)) field.current?.focus();
    };
    document.addEventListener("keydown", catchKey, true);
    return () => document.removeEventListener("keydown", catchKey, true);
  }, [field]);
}
