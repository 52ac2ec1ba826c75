import Box from "@mui/material/Box";
import type { ReactNode } from "react";

/** The working at the left, figures at the right; one column where there is no room. */
export function TwoColumns({ main, aside }: { main: ReactNode; aside: ReactNode }) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 740px) 284px" },
        columnGap: 3.5,
        rowGap: 2,
      }}
    >
      <Box>{main}</Box>
      <Box component="aside" aria-label="Figures">
        {aside}
      </Box>
    </Box>
  );
}
