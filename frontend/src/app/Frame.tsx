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
import { Notices, useTakingBack } from "../shared/notices";
import { useDesk } from "./deskQuery";
import { later } from "./later";
import { useSignOut } from "./session";
import { useSpending } from "./spendingQuery";

/** The stations of the line of work that exist so far, in order; each has a key of its own. */
const STATIONS = [
  { step: "products", name: "Products", path: "/products", key: "1" },
  { step: "buying", name: "Buying", path: "/buying", key: "2" },
  { step: "opening", name: "Opening", path: "/opening", key: "3" },
  { step: "stock", name: "Stock", path: "/stock", key: "4" },
  { step: "pricing", name: "Pricing", path: "/pricing", key: "5" },
  { step: "grading", name: "Grading", path: "/grading", key: "6" },
  { step: "selling", name: "Selling", path: "/selling", key: "7" },
  { step: "books", name: "Books", path: "/books", key: "8" },
] as const;

/** Pages that can be gone to by their name. */
const PAGES = [
  { name: "Desk", path: "/" },
  ...STATIONS.map(({ name, path }) => ({ name, path })),
  { name: "Record a purchase", path: "/buying/-/new" },
  { name: "The most to bid", path: "/buying/-/bid" },
  { name: "An offer for a collection", path: "/buying/-/offer" },
  { name: "Odds against results", path: "/opening/-/results" },
  { name: "Import a product sheet", path: "/products/-/import" },
  { name: "Begin a release", path: "/products/-/begin" },
  { name: "The most to pay, on one page", path: "/products/-/fair" },
  { name: "Target list", path: "/buying/-/targets" },
  { name: "Make or buy a grade", path: "/buying/-/make" },
  { name: "Paste a page of results", path: "/pricing/-/paste" },
  { name: "Which card is it?", path: "/stock/-/identify" },
  { name: "Subjects and first cards", path: "/stock/-/subjects" },
  { name: "Fetch prices", path: "/pricing/-/fetch" },
  { name: "A table of prices", path: "/pricing/-/table" },
  { name: "Cards side by side", path: "/pricing/-/beside" },
  { name: "Haves and wants", path: "/pricing/-/lists" },
  { name: "Even out a trade", path: "/pricing/-/trade" },
  { name: "Worth grading", path: "/grading/-/worth" },
  { name: "Best batch", path: "/grading/-/batch" },
  { name: "Your grading record", path: "/grading/-/record" },
  { name: "Train your eye", path: "/grading/-/eye" },
  { name: "Graders and carriers", path: "/grading/-/graders" },
  { name: "Something is sold", path: "/selling/-/new" },
  { name: "Listings", path: "/selling/-/listings" },
  { name: "List things", path: "/selling/-/list" },
  { name: "A trade is made", path: "/selling/-/trade" },
  { name: "A file of sales", path: "/selling/-/file" },
  { name: "Results of sales", path: "/books/-/results" },
  { name: "Friends", path: "/books/-/friends" },
  { name: "Purses", path: "/books/-/purses" },
  { name: "Parcels", path: "/selling/-/parcels" },
  { name: "Packing supplies", path: "/selling/-/supplies" },
  { name: "Settings", path: "/settings" },
];

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

/** The line of work: a rail at the left with what was just said at its foot; a bar below on a phone. */
function Rail() {
  const desk = useDesk();
  return (
    <Box
      className="rail"
      sx={{
        position: { xs: "fixed", md: "sticky" },
        inset: { xs: "auto 0 0 0", md: "auto" },
        top: { md: 0 },
        alignSelf: "start",
        height: { md: "calc(100vh - 48px)" },
        zIndex: 5,
        display: "flex",
        flexDirection: { xs: "column-reverse", md: "column" },
        justifyContent: "space-between",
        borderRight: { md: "1px solid var(--mui-palette-divider)" },
      }}
    >
      <Box
        component="nav"
        aria-label="The line of work"
        sx={{
          bgcolor: "background.default",
          "& a": { textDecoration: "none", color: "text.primary" },
          "& a[aria-current]": { fontWeight: 700 },
          display: { xs: "grid", md: "block" },
          gridTemplateColumns: `repeat(${STATIONS.length + 1}, minmax(0, 1fr))`,
          minHeight: { xs: 56 },
          borderTop: { xs: "1px solid var(--mui-palette-divider)", md: 0 },
          px: { xs: 0.5, md: 2.5 },
          py: { md: 2.5 },
        }}
      >
        <Station to="/" name="Desk" isDesk />
        {STATIONS.map((station) => (
          <Station
            key={station.step}
            to={station.path}
            name={station.name}
            waits={desk.data?.counts[station.step] ?? 0}
          />
        ))}
      </Box>
      <Box
        sx={{
          px: { xs: 2, md: 2 },
          bgcolor: "background.default",
          overflowY: "auto",
        }}
      >
        <Notices />
      </Box>
    </Box>
  );
}

/** A stop on the line, with what waits there. */
function Station({
  to,
  name,
  waits = 0,
  isDesk,
}: {
  to: string;
  name: string;
  waits?: number;
  isDesk?: boolean;
}) {
  return (
    <Box
      component={NavLink}
      to={to}
      end={isDesk}
      sx={{
        display: "flex",
        flexDirection: { xs: "column", md: "row" },
        alignItems: "center",
        justifyContent: { xs: "center", md: "flex-start" },
        gap: { xs: 0.25, md: 1.5 },
        py: 0.5,
        fontSize: { xs: 12, md: 14 },
        minHeight: { xs: 48, md: 30 },
        ...(isDesk
          ? { pl: { md: 3 }, mb: { md: 1.5 } }
          : {
              position: "relative",
              "&:not(:last-of-type)::after": {
                content: '""',
                display: { xs: "none", md: "block" },
                position: "absolute",
                left: 5,
                top: 21,
                height: 18,
                width: 2,
                bgcolor: "tone.ink",
              },
            }),
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
          display: isDesk ? { md: "none" } : undefined,
        }}
      />
      {name}
      <Box
        component="span"
        sx={{
          flex: { md: 1 },
          textAlign: "right",
          color: "text.secondary",
          fontWeight: 400,
          display: waits ? undefined : "none",
        }}
      >
        {waits}
      </Box>
    </Box>
  );
}
