import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import type { Schemas } from "./api/client";
import { count } from "./format";
import { stoppedOf } from "./longWork";

interface Props {
  task: Pick<Schemas["TaskOut"], "kind" | "state" | "done" | "total" | "fault">;
  stop: () => void;
}

/** How far long work is, with a way to stop it; once it is over, only what went wrong. */
export function Progress({ task: { kind, state, done, total, fault }, stop }: Props) {
  if (state === "done") return null;
  if (state === "cancelled") return <Box sx={{ mt: 1.5 }}>{stoppedOf(kind)}</Box>;
  if (state === "failed") {
    return (
      <Box role="alert" sx={{ mt: 1.5, color: "error.main" }}>
        That did not work: {fault}
      </Box>
    );
  }
  return (
    <Box role="status" sx={{ display: "flex", alignItems: "center", gap: 2, mt: 1.5, fontSize: 13 }}>
      <LinearProgress
        color="inherit"
        aria-label="How far it is"
        variant={state === "waiting" ? "indeterminate" : "determinate"}
        value={(done / total) * 100}
        sx={{ flex: 1, height: 6 }}
      />
      {state === "waiting" ? "waiting for its turn" : `${count(done)} of ${count(total)}`}
      <Button color="inherit" variant="outlined" onClick={stop}>
        Stop
      </Button>
    </Box>
  );
}
