import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { Entry } from "./queue";

interface Props<W> {
  entries: readonly Entry<W>[];
  /** How often the first of them failed so far. */
  held: number;
  /** What was typed, as it is shown where it was refused; null: it was not typed, and cannot be mended. */
  typed: (what: W) => string | null;
  drop: (key: string) => boolean;
  hurry: () => void;
  /** Have what was refused back in the field. */
  mend: (what: W) => void;
  /** The field is empty: nothing that is being typed would be lost. */
  canMend: boolean;
}

/** What was entered and has no answer yet, if that takes long; and what was refused, with its words. */
export function UnderWay<W>({ entries, held, typed, drop, hurry, mend, canMend }: Props<W>) {
  const refused = entries.filter((entry) => entry.state === "refused");
  const waiting = entries.length - refused.length;
  return (
    <>
      {held > 1 && waiting > 0 && (
        <Box role="status" sx={{ display: "flex", alignItems: "center", gap: 1, mt: 1, fontSize: 13 }}>
          Tobbix does not answer. {waiting === 1 ? "One entry waits" : `${waiting} entries wait`}, kept here,
          and will be sent again.
          <Button color="inherit" variant="outlined" onClick={hurry}>
            Send now
          </Button>
        </Box>
      )}
      {refused.map((entry) => {
        const words = typed(entry.what);
        return (
          <Box
            key={entry.key}
            role="alert"
            sx={{ display: "flex", alignItems: "center", gap: 1, mt: 0.5, color: "error.main", fontSize: 13 }}
          >
            {words !== null && <b>{words}</b>}
            {entry.fault}
            {words !== null && (
              <Button
                color="inherit"
                sx={{ py: 0 }}
                disabled={!canMend}
                onClick={() => {
                  drop(entry.key);
                  mend(entry.what);
                }}
              >
                mend it
              </Button>
            )}
            <Button color="inherit" sx={{ py: 0 }} onClick={() => void drop(entry.key)}>
              leave it out
            </Button>
          </Box>
        );
      })}
    </>
  );
}
