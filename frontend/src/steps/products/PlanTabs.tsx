import Box from "@mui/material/Box";
import { NavLink, useSearchParams } from "react-router";

const OF_FORMAT = [
  ["", "Value"],
  ["sure", "How sure"],
  ["chase", "Chase"],
  ["set", "A set"],
  ["choice", "Rip, hold or buy"],
  ["trial", "What if"],
] as const;

/** The questions about a format; how values are looked at goes along. */
export function PlanTabs({ release, format }: { release: string; format: string }) {
  const [params] = useSearchParams();
  const kept = new URLSearchParams();
  for (const name of ["basis", "way"]) {
    const value = params.get(name);
    if (value) kept.set(name, value);
  }
  const search = kept.size ? `?${kept}` : "";
  const links = [
    ...OF_FORMAT.map(([path, name]) => ({
      to: `/products/${release}/${format}${path ? `/${path}` : ""}${search}`,
      name,
      end: true,
    })),
    { to: `/products/${release}/-/formats${search}`, name: "Formats side by side", end: true },
    { to: `/products/${release}/-/made`, name: "How many exist", end: true },
  ];
  return <Links links={links} label="Questions about this box" />;
}

/** The questions about a whole release. */
export function ReleaseTabs({ release }: { release: string }) {
  const links = [
    { to: `/products/${release}`, name: "The release", end: true },
    { to: `/products/${release}/-/formats`, name: "Formats side by side", end: true },
    { to: `/products/${release}/-/made`, name: "How many exist", end: true },
    { to: `/products/${release}/-/seen`, name: "Beside the sheet", end: true },
  ];
  return <Links links={links} label="Questions about this release" />;
}

function Links({ links, label }: { links: { to: string; name: string; end: boolean }[]; label: string }) {
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
