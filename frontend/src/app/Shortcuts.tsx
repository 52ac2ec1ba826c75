import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { Key } from "../shared/Key";
import { useSingleKeys } from "../shared/useShortcut";

const KEYS: readonly (readonly [string, string])[] = [
  ["0", "the desk"],
  ["1 2 3 4 8", "products, buying, opening, stock, books"],
  ["N", "record a purchase (in buying)"],
  ["]", "the rest of the pack is base, next pack (in a session)"],
  ["I", "import a product sheet (in products)"],
  ["P", "the price handle (at a box): arrows move it, Enter keeps it, Esc puts it back"],
  ["Ctrl Z", "take the last change of a release back"],
  ["↑ ↓ ← →", "move through a table"],
  ["Enter", "open or edit what is focused; Esc leaves it as it was"],
  ["?", "these keys"],
];

export function Shortcuts({ open, close }: { open: boolean; close: () => void }) {
  const [single, setSingle] = useSingleKeys();
  return (
    <Dialog open={open} onClose={close} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ fontWeight: 700, fontSize: 14 }}>Keys</DialogTitle>
      <DialogContent>
        <Box
          component="dl"
          sx={{ display: "grid", gridTemplateColumns: "auto 1fr", gap: 1.25, m: 0, "& dd": { m: 0 } }}
        >
          {KEYS.map(([key, what]) => [
            <dt key={key}>
              <Key>{key}</Key>
            </dt>,
            <dd key={what}>{what}</dd>,
          ])}
        </Box>
        <FormControlLabel
          sx={{ mt: 2 }}
          control={
            <Checkbox size="small" checked={single} onChange={(event) => setSingle(event.target.checked)} />
          }
          label="Single keys act (turn them off if speech input presses them)"
        />
      </DialogContent>
    </Dialog>
  );
}
