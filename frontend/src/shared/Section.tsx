import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";

interface Props {
  title: string;
  point?: ReactNode;
  children: ReactNode;
  id?: string;
}

/** A part of a page under a strong rule: its heading at the left, its point at the right. */
export function Section({ title, point, children, id }: Props) {
  return (
    <Box
      component="section"
      id={id}
      aria-label={title}
      sx={{ borderTop: 2, borderColor: "tone.ink", pt: 0.75, mb: 3.5 }}
    >
      <Box sx={{ display: "flex", justifyContent: "space-between", gap: 2, flexWrap: "wrap", mb: 0.5 }}>
        <Typography variant="h2">{title}</Typography>
        {point && (
          <Typography component="div" variant="body2" sx={{ color: "text.secondary" }}>
            {point}
          </Typography>
        )}
      </Box>
      {children}
    </Box>
  );
}
