import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Aside } from "../../shared/states";
import { type Opening } from "./entering";

/** The packs of the box in the hand with nothing logged in them or after them. */
function untouched(data: Opening): number {
  const reached = Math.max(data.gone, ...data.pulls.map((pull) => pull.pack));
  return data.packs - reached;
}

export function Finish({
  data,
  finish,
  waits,
}: {
  data: Opening;
  finish: (stoppedHot: boolean, restIsBase: boolean) => Promise<void>;
  /** What was entered is still on its way, or was refused: first that. */
  waits: boolean;
}) {
  const [asking, setAsking] = useState(false);
  const [hot, setHot] = useState(false);
  const left = untouched(data);
  const [rest, setRest] = useState("sealed");
  const packs = left === 1 ? "The pack" : `The ${left} packs`;
  if (!asking) {
    return (
      <Button variant="contained" disabled={waits} onClick={() => setAsking(true)}>
        Finish
      </Button>
    );
  }
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1, flexWrap: "wrap" }}>
      <FormControlLabel
        control={<Checkbox size="small" checked={hot} onChange={(event) => setHot(event.target.checked)} />}
        label="stopped after a hot run"
      />
      {left > 0 && (
        <TextField
          select
          label={`${packs} with nothing logged`}
          value={rest}
          onChange={(event) => setRest(event.target.value)}
          sx={{ width: 250 }}
        >
          <MenuItem value="sealed">stay sealed, with their cost</MenuItem>
          <MenuItem value="base">were opened, base cards only</MenuItem>
        </TextField>
      )}
      <Button variant="contained" disabled={waits} onClick={() => void finish(hot, rest === "base")}>
        Move the cost to the cards
      </Button>
      <Button color="inherit" onClick={() => setAsking(false)}>
        Not yet
      </Button>
    </Box>
  );
}

/** A way back or on, with what it does. */
export function Way({ name, go, what }: { name: string; go: () => Promise<void>; what: string }) {
  return (
    <Box sx={{ mb: 2 }}>
      <Button color="inherit" variant="outlined" onClick={() => void go()}>
        {name}
      </Button>
      <Aside>{what}</Aside>
    </Box>
  );
}
