import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useColorScheme } from "@mui/material/styles";
import { Suspense, useEffect, useState, type ChangeEvent, type ReactNode } from "react";
import { Link, NavLink, useNavigate } from "react-router";
import { Stale } from "../shared/Answer";
import { count } from "../shared/format";
import { lastDone } from "../shared/history";
import { Key } from "../shared/Key";
import { useKey } from "../shared/keys/useKey";
import { useTakingBack } from "../shared/notices";
import { later } from "./later";
import { PAGES, STATIONS } from "./pages";
import { Rail } from "./Rail";
import { useSignOut } from "./session";
import { useSpending } from "./spendingQuery";

const FINDER = () => import("./Finder");
const KEYS = () => import("./Keys");
const HISTORY = () => import("./HistoryPanel");
const FIELDS = () => import("../shared/forms/fields");
const Finder = later(FINDER);
const Keys = later(KEYS);
const HistoryPanel = later(HISTORY);

/** Takes what is typed until the finder is there. */
function Early({ type }: { type: (words: string) => void }) {
  return (
    <Box
      component="input"
      autoFocus
      aria-label="Find"
      onChange={(event: ChangeEvent<HTMLInputElement>) => type(event.target.value)}
      sx={{ position: "fixed", top: 24, left: "50%", width: 1, opacity: 0 }}
    />
  );
}

export function Frame({ owner, isDemo, children }: { owner: string; isDemo: boolean; children: ReactNode }) {
  const navigate = useNavigate();
  const [open, setOpen] = useState<"keys" | "history" | "finder" | null>(null);
  const [sought, setSought] = useState("");
  const close = () => setOpen(null);
  const openFinder = () => {
    setSought("");
    setOpen("finder");
  };
  const takeBack = useTakingBack();
  useEffect(() => {
    // not needed for the page that comes first, and there before they are asked for; what fails is tried again then
    const quiet = setTimeout(
      () => void Promise.all([FINDER(), KEYS(), HISTORY(), FIELDS()]).catch(() => undefined),
      4_000,
    );
    return () => clearTimeout(quiet);
  }, []);
  useKey("0", "the desk", () => void navigate("/"));
  useKey(
    STATIONS.map((station) => station.key),
    STATIONS.map((station) => station.name.toLowerCase()).join(", "),
    (event) => {
      const found = STATIONS.find((station) => station.key === event.key);
      if (found) void navigate(found.path);
    },
  );
  useKey("/", "find anything", (event) => {
    event.preventDefault(); // the key is not typed into what it opens
    openFinder();
  });
  useKey("?", "these keys", () => setOpen("keys"));
  useKey("mod+z", "take back the last thing done here", () => {
    const last = lastDone();
    if (last) void takeBack(last.number);
    else setOpen("history");
  });
  const foot = { xs: "64px", md: 0 };
  return (
    <Box
      sx={{
        minHeight: "100vh",
        display: "grid",
        gridTemplateRows: "48px 1fr",
        // on paper a page is its content: no frame, no buttons, no fields to search with
        "@media print": {
          display: "block",
          "& header, & .rail, & .no-print, & main button, & main a.MuiButton-root": {
            display: "none !important",
          },
          "& main, & > div": { display: "block", p: 0, maxWidth: "none" },
          "& a": { textDecoration: "none" },
        },
      }}
    >
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
          gap: { xs: 0, sm: 1, md: 2 },
          px: { xs: 1.5, md: 2.5 },
          borderBottom: 1,
          borderColor: "divider",
          "& .MuiButton-root": { px: { xs: 0.75, md: 1 }, minWidth: 0 },
        }}
      >
        <Typography
          component={Link}
          to="/"
          sx={{ fontWeight: 600, fontSize: 20, textDecoration: "none", fontFamily: "h1.fontFamily" }}
        >
          Tobbix
        </Typography>
        <Button
          color="inherit"
          onClick={openFinder}
          sx={{
            width: { md: 230 },
            justifyContent: "flex-start",
            fontWeight: 400,
            color: "text.secondary",
            borderBottom: { md: 1 },
            borderColor: "text.secondary",
          }}
        >
          <Box component="span" sx={{ display: { xs: "none", md: "inline" } }}>
            Find a card, a box, a place&nbsp;&nbsp;<Key>/</Key>
          </Box>
          <Box component="span" sx={{ display: { md: "none" }, fontWeight: 600, color: "text.primary" }}>
            Find
          </Box>
        </Button>
        {isDemo && (
          <Typography variant="body2" sx={{ color: "text.secondary", display: { xs: "none", md: "block" } }}>
            demo: all invented
          </Typography>
        )}
        <Box sx={{ flex: 1 }} />
        <SpentState />
        <Button component={NavLink} to="/settings" color="inherit">
          Settings
        </Button>
        <Button color="inherit" onClick={() => setOpen("history")}>
          Done here
        </Button>
        <Button
          color="inherit"
          onClick={() => setOpen("keys")}
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
          pb: foot,
        }}
      >
        <Rail />
        <Box
          component="main"
          id="main"
          tabIndex={-1}
          sx={{ px: { xs: 2, md: 3.25 }, py: 2, outline: "none", maxWidth: 1440, minWidth: 0 }}
        >
          <Stale />
          {children}
        </Box>
      </Box>
      {open === "finder" && (
        <Suspense fallback={<Early type={setSought} />}>
          <Finder pages={PAGES} typed={sought} type={setSought} close={close} />
        </Suspense>
      )}
      <Suspense>
        {open === "keys" && <Keys close={close} />}
        {open === "history" && <HistoryPanel close={close} />}
      </Suspense>
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
      to="/settings/money#spending"
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
