import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import type { Stage } from "./api/upload";
import { count } from "./format";

/** What is being done with a file, in words. */
export function stageWords({ phase, done, total }: Stage): string {
  const rows = total === null ? count(done) : `${count(done)} of ${count(total)}`;
  switch (phase) {
    case "sending":
      return total ? `Sending: ${Math.floor((done / total) * 100)} %` : "Sending";
    case "waiting":
      return "Looking at the file";
    case "reading":
      return `Reading: ${rows} rows`;
    case "storing":
      return `Storing: ${rows} rows`;
  }
}

/** How far an upload is, with a way to stop it where it can be stopped. */
export function UploadProgress({ stage, stop }: { stage: Stage | null; stop?: () => void }) {
  const share = stage?.total ? (stage.done / stage.total) * 100 : null;
  return (
    <Box
      role="status"
      sx={{ display: "flex", alignItems: "center", gap: 2, mt: 1.5, fontSize: 13, maxWidth: 740 }}
    >
      <LinearProgress
        color="inherit"
        aria-label="How far it is"
        variant={share === null ? "indeterminate" : "determinate"}
        value={share ?? 0}
        sx={{ flex: 1, height: 6 }}
      />
      <Box component="span" sx={{ minWidth: 190 }}>
        {stage ? stageWords(stage) : "Beginning"}
      </Box>
      {stop && (
        <Button color="inherit" variant="outlined" onClick={stop}>
          Stop
        </Button>
      )}
    </Box>
  );
}
