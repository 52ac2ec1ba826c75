import Box from "@mui/material/Box";
import type { ReactNode } from "react";

/** Said to whoever does not see the picture, as it changes; takes no room. */
export function Spoken({ children }: { children: ReactNode }) {
  return (
    <Box
      component="span"
      role="status"
      sx={{
        position: "absolute",
        width: "1px",
        height: "1px",
        overflow: "hidden",
        clipPath: "inset(50%)",
        whiteSpace: "nowrap",
      }}
    >
      {children}
    </Box>
  );
}
