import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import Dialog from "@mui/material/Dialog";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useHotkeysContext } from "react-hotkeys-hook";
import { Key } from "../shared/Key";
import { useSingleKeys } from "../shared/keys/useKey";

/** Keys that the browser or a control itself answers, everywhere. */
const ALWAYS: readonly (readonly [string, string])[] = [
  ["↑ ↓ ← →", "move through a table"],
  ["Enter", "open or edit what is focused; Esc leaves it as it was"],
];

/** The keys of the page that stands, as they are registered, then those that always work. */
export default function Keys({ close }: { close: () => void }) {
  const [single, setSingle] = useSingleKeys();
  const { hotkeys } = useHotkeysContext();
  const shown = new Map<string, string>();
  for (const key of hotkeys) {
    const name: unknown = key.metadata?.shown;
    if (key.description && typeof name === "string") shown.set(name, key.description);
  }
  for (const [key, what] of ALWAYS) shown.set(key, what);
  return (
    <Dialog open onClose={close} maxWidth="sm" fullWidth aria-labelledby="keys-title">
      <DialogTitle id="keys-title" variant="h2">
        Keys
      </DialogTitle>
      <DialogContent>
        <Box
          component="dl"
          sx={{ display: "grid", gridTemplateColumns: "auto 1fr", gap: 1.25, m: 0, "& dd": { m: 0 } }}
        >
          {[...shown].map(([key, what]) => [
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
