import Box from "@mui/material/Box";
import type { ReactNode } from "react";

/** Names at the left, figures at the right. */
export function Figures({ rows }: { rows: readonly (readonly [string, ReactNode])[] }) {
  return (
    <Box
      component="dl"
      sx={{
        m: 0,
        display: "grid",
        gridTemplateColumns: "1fr auto",
        rowGap: 0.6,
        columnGap: 1.5,
        fontSize: 13,
        "& dt": { color: "text.secondary" },
        "& dd": { m: 0, fontWeight: 600, textAlign: "right" },
      }}
    >
      {rows.map(([name, value]) => [<dt key={name}>{name}</dt>, <dd key={`${name} value`}>{value}</dd>])}
    </Box>
  );
}
