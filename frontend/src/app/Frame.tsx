import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useColorScheme } from "@mui/material/styles";
import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link, NavLink, useNavigate } from "react-router";
import { client, take } from "../shared/api/client";
import { count } from "../shared/format";
import { Key } from "../shared/Key";
import { useSignOut } from "./session";
import { useSpending } from "./Spending";
import { Shortcuts } from "./Shortcuts";
import { useShortcut } from "../shared/useShortcut";

/** The stations of the line of work that exist so far, in order; each has a key of its own. */
const STATIONS = [
  { step: "products", name: "Products", path: "/products", key: "1" },
  { step: "buying", name: "Buying", path: "/buying", key: "2" },
  { step: "opening", name: "Opening", path: "/opening", key: "3" },
  { step: "stock", name: "Stock", path: "/stock", key: "4" },
  { step: "books", name: "Books", path: "/books", key: "8" },
] as const;

export function Frame({ owner, isDemo, children }: { owner: string; isDemo: boolean; children: ReactNode }) {
  const navigate = useNavigate();
  const [help, setHelp] = useState(false);
  useShortcut("0", () => void navigate("/"));
  useShortcut(
    STATIONS.map((station) => station.key),
    (event) => {
      const found = STATIONS.find((station) => station.key === event.key);
      if (found) void navigate(found.path);
    },
  );
  useShortcut("shift+slash", () => setHelp(true));
  return (
    <Box sx={{ minHeight: "100vh", display: "grid", gridTemplateRows: "48px 1fr" }}>
      <Box
        component="a"
        href="#main"
        sx={{
          position: "absolute",
          left: -9999,
          "&:focus": { left: 16, top: 10, zIndex: 10, bgcolor: "background.paper", p: 1 },
        }}
      >
        Skip to the page
      </Box>
      <Box
        component="header"
        sx={{
          display: "flex",
          alignItems: "center",
          gap: 2,
          px: 2.5,
          borderBottom: 1,
          borderColor: "divider",
        }}
      >
        <Typography
          component={Link}
          to="/"
          sx={{ fontWeight: 700, fontSize: 20, textDecoration: "none", fontFamily: "h1.fontFamily" }}
        >
          Tobbix
        </Typography>
        {isDemo && (
          <Typography variant="body2" sx={{ color: "text.secondary", display: { xs: "none", sm: "block" } }}>
            demo: everything here is invented
          </Typography>
        )}
        <Box sx={{ flex: 1 }} />
        <SpentState />
        <Button component={NavLink} to="/settings" color="inherit">
          Settings
        </Button>
        <Button
          color="inherit"
          onClick={() => setHelp(true)}
          sx={{ display: { xs: "none", sm: "inline-flex" } }}
        >
          Keys&nbsp;<Key>?</Key>
        </Button>
        <ThemeSwitch />
        <Account owner={owner} />
      </Box>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "176px minmax(0, 1fr)" },
          pb: { xs: "56px", md: 0 },
        }}
      >
        <Rail />
        <Box
          component="main"
          id="main"
          tabIndex={-1}
          sx={{ px: { xs: 2, md: 3.25 }, py: 2, outline: "none", maxWidth: 1440 }}
        >
          {children}
        </Box>
      </Box>
      <Shortcuts open={help} close={() => setHelp(false)} />
    </Box>
  );
}

/** Where this month's spending stands against the owner's limit. */
function SpentState() {
  const spending = useSpending();
  if (!spending.data || spending.data.limit === null) return null;
  const { month, total, limit, state } = spending.data;
  return (
    <Typography
      component={Link}
      to="/settings#spending"
      variant="body2"
      sx={{ color: "text.secondary", textDecoration: "none", display: { xs: "none", md: "block" } }}
    >
      spent in {month}{" "}
      <Box component="b" sx={{ color: state === "over" ? "tone.lossText" : "text.primary" }}>
        {count(Math.round(Number(total)))}
      </Box>{" "}
      of {count(Math.round(Number(limit)))}
      {state === "over" && ": over your limit"}
    </Typography>
  );
}

function Account({ owner }: { owner: string }) {
  const signOut = useSignOut();
  return (
    <>
      <Typography variant="body2" sx={{ color: "text.secondary", display: { xs: "none", md: "block" } }}>
        {owner}
      </Typography>
      <Button color="inherit" onClick={() => signOut.mutate()}>
        Sign out
      </Button>
    </>
  );
}

function ThemeSwitch() {
  const { mode, systemMode, setMode } = useColorScheme();
  const dark = (mode === "system" ? systemMode : mode) === "dark";
  return (
    <Button color="inherit" onClick={() => setMode(dark ? "light" : "dark")}>
      {dark ? "Day" : "Night"}
    </Button>
  );
}

/** The line of work: a rail at the left, a bar below on a phone. */
function Rail() {
  const desk = useQuery({ queryKey: ["desk"], queryFn: () => take(client.GET("/api/desk")) });
  return (
    <Box
      component="nav"
      aria-label="The line of work"
      sx={{
        bgcolor: "background.default",
        "& a": { textDecoration: "none", color: "text.primary" },
        "& a[aria-current]": { fontWeight: 700 },
        position: { xs: "fixed", md: "static" },
        inset: { xs: "auto 0 0 0", md: "auto" },
        zIndex: 5,
        display: { xs: "flex", md: "block" },
        height: { xs: 56, md: "auto" },
        alignItems: "center",
        borderRight: { md: "1px solid var(--mui-palette-divider)" },
        borderTop: { xs: "1px solid var(--mui-palette-divider)", md: 0 },
        px: 2.5,
        py: { md: 2.5 },
        gap: 3,
      }}
    >
      <Box component={NavLink} to="/" end sx={{ display: "flex", pl: { md: 3 }, py: 0.5, mb: { md: 1.5 } }}>
        Desk
      </Box>
      {STATIONS.map((station) => (
        <Box
          key={station.step}
          component={NavLink}
          to={station.path}
          sx={{
            display: "flex",
            alignItems: "center",
            gap: 1.5,
            py: 0.5,
            "&[aria-current] .stop": { bgcolor: "tone.marker" },
          }}
        >
          <Box
            className="stop"
            sx={{
              width: 12,
              height: 12,
              borderRadius: "50%",
              border: 2,
              borderColor: "tone.ink",
              flex: "none",
            }}
          />
          {station.name}
          <Box
            component="span"
            sx={{ flex: 1, textAlign: "right", color: "text.secondary", fontWeight: 400 }}
          >
            {desk.data?.counts[station.step] || ""}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
