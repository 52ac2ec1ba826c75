import Box from "@mui/material/Box";
import type { ReactNode } from "react";

/** A key of the keyboard, as a mark beside what it does. */
export function Key({ children }: { children: ReactNode }) {
  return (
    <Box
      component="kbd"
      sx={{
        fontFamily: "inherit",
        fontSize: 12,
        border: 1,
        borderColor: "divider",
        borderBottomWidth: 2,
        borderRadius: "2px",
        px: 0.6,
        bgcolor: "background.paper",
        color: "text.primary",
      }}
    >
      {children}
    </Box>
  );
}
