import Box from "@mui/material/Box";
import { NavLink } from "react-router";
import { Notices } from "../shared/notices";
import { useDesk } from "./deskQuery";
import { STATIONS } from "./pages";

/** The line of work: a rail at the left with what was just said at its foot; a bar below on a phone. */
export function Rail() {
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
        fontSize: { xs: 11, md: 14 },
        letterSpacing: { xs: "-0.02em", md: 0 },
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
          // on a phone its line is kept, so that the stops stand in a row
          display: waits ? undefined : { md: "none" },
          visibility: waits ? undefined : "hidden",
        }}
      >
        {waits}
      </Box>
    </Box>
  );
}
