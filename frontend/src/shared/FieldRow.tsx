import Box from "@mui/material/Box";
import type { ReactNode } from "react";

/** Fields side by side, with what is pressed beside them on the line of what is typed, whatever stands beneath. */
export function FieldRow({ children, ruled = false }: { children: ReactNode; ruled?: boolean }) {
  return (
    <Box
      sx={{
        display: "flex",
        flexWrap: "wrap",
        alignItems: "flex-start",
        columnGap: 1.5,
        rowGap: 0.5,
        py: 0.75,
        ...(ruled ? { borderBottom: 1, borderColor: "divider" } : {}),
        "& > .MuiButton-root, & > .MuiFormControlLabel-root": { mt: "18px", minHeight: 32 },
      }}
    >
      {children}
    </Box>
  );
}
