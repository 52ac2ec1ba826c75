import Box from "@mui/material/Box";
import type { ReactNode } from "react";

/** What matters of a card that comes in, said as it comes, with the mark of what matters. */
export function Marked({ children }: { children: ReactNode }) {
  return (
    <Box component="span" role="status" sx={{ borderBottom: 3, borderColor: "tone.marker", fontWeight: 600 }}>
      {children}
    </Box>
  );
}
