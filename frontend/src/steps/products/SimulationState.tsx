import Box from "@mui/material/Box";
import { faultOf } from "../../shared/api/client";
import { Progress } from "../../shared/Progress";
import type { useSimulation } from "./planning";

/** How far a simulation is, or why it could not begin. */
export function SimulationState({ of: { begin, stop, current } }: { of: ReturnType<typeof useSimulation> }) {
  return (
    <>
      {begin.isError && (
        <Box role="alert" sx={{ color: "error.main", mt: 1 }}>
          {faultOf(begin.error)}
        </Box>
      )}
      {current && <Progress task={current} stop={() => stop.mutate()} />}
    </>
  );
}
