import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, type ReactNode } from "react";
import { useLocation } from "react-router";

interface Props {
  title: string;
  point?: ReactNode;
  children: ReactNode;
  id?: string;
}

/** A part of a page under a strong rule: its heading at the left, its point at the right. An address that ends in its
 * id opens there, once it stands. */
export function Section({ title, point, children, id }: Props) {
  const { hash } = useLocation();
  const own = useRef<HTMLElement>(null);
  const isMeant = id !== undefined && hash === `#${id}`;
  useEffect(() => {
    if (isMeant) own.current?.scrollIntoView();
  }, [isMeant]);
  return (
    <Box
      component="section"
      ref={own}
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
