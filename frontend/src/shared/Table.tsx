import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import { useArrowKeys } from "./useArrowKeys";

/** A table without boxes: hairlines, small heads, figures at the right and days in one line (by `className`). Arrows
 * move in it. */
export function Table({ label, children }: { label: string; children: ReactNode }) {
  const arrows = useArrowKeys();
  return (
    <Box sx={{ overflowX: "auto" }}>
      <Box
        component="table"
        aria-label={label}
        onKeyDown={arrows}
        sx={{
          width: "100%",
          borderCollapse: "collapse",
          "& th": {
            fontSize: 12,
            fontWeight: 400,
            color: "text.secondary",
            textAlign: "left",
            pb: 0.75,
            pr: 2,
            whiteSpace: "nowrap",
          },
          "& td": { borderTop: 1, borderColor: "divider", py: 0.55, pr: 2, verticalAlign: "middle" },
          "& tr:last-of-type td": { borderBottom: 1, borderColor: "divider" },
          "& .figure": { textAlign: "right", whiteSpace: "nowrap" },
          "& .day": { whiteSpace: "nowrap" },
          "& td:last-child, & th:last-child": { pr: 0 },
        }}
      >
        {children}
      </Box>
    </Box>
  );
}
