import Box from "@mui/material/Box";
import { NavLink } from "react-router";

/** The pages that belong together, as links in a row; the one that is open is marked. */
export function PageTabs({
  links,
  label,
}: {
  links: { to: string; name: string; end: boolean }[];
  label: string;
}) {
  return (
    <Box
      component="nav"
      aria-label={label}
      sx={{
        display: "flex",
        flexWrap: "wrap",
        columnGap: 2.25,
        rowGap: 0.5,
        mb: 2,
        fontSize: 13,
        "& a": {
          textDecoration: "none",
          color: "text.secondary",
          py: 0.25,
          borderBottom: "3px solid transparent",
        },
        "& a:hover": { color: "text.primary" },
        "& a[aria-current]": { color: "text.primary", fontWeight: 700, borderColor: "tone.marker" },
      }}
    >
      {links.map((link) => (
        <NavLink key={link.name} to={link.to} end={link.end}>
          {link.name}
        </NavLink>
      ))}
    </Box>
  );
}
