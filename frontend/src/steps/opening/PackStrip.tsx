import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import { type Ahead, type Opening } from "./entering";

export function PackStrip({
  data,
  ahead,
  turn,
}: {
  data: Opening;
  ahead: Ahead;
  turn: (pack: number) => void;
}) {
  const over = data.state === "done" || data.state === "undone";
  const perBox = Math.max(Math.round(data.packs / data.boxes), 1);
  const first = Math.floor((ahead.pack - 1) / perBox) * perBox + 1;
  const packs = Array.from({ length: Math.min(perBox, data.packs - first + 1) }, (_, i) => first + i);
  return (
    <>
      {data.boxes > 1 && (
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", fontSize: 13, mb: 0.5 }}>
          box {Math.ceil(ahead.pack / perBox)} of {data.boxes}
          <Button color="inherit" disabled={first === 1} onClick={() => turn(first - 1)}>
            the one before
          </Button>
          <Button color="inherit" disabled={first + perBox > data.packs} onClick={() => turn(first + perBox)}>
            the next one
          </Button>
        </Box>
      )}
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: `repeat(auto-fill, minmax(${packs.length > 16 ? 38 : 40}px, 1fr))`,
          gap: "5px",
          mb: 1.5,
        }}
      >
        {packs.map((pack) => {
          const found = ahead.byPack.get(pack);
          const gone = pack <= data.gone;
          const here = pack === ahead.pack && !over;
          return (
            <ButtonBase
              key={pack}
              disabled={gone || over}
              tabIndex={here ? 0 : -1}
              aria-current={here ? "step" : undefined}
              aria-label={`${pack}: pack ${gone ? "gone before" : `with ${found?.cards ?? 0} logged, ${found?.hits ?? 0} hits`}`}
              onClick={() => turn(pack)}
              sx={{
                height: 58,
                p: "5px 6px",
                display: "flex",
                flexDirection: "column",
                alignItems: "flex-start",
                justifyContent: "space-between",
                font: "inherit",
                fontSize: 12,
                fontWeight: here ? 700 : 400,
                borderRadius: "2px",
                border: 1,
                borderColor: here || !(found || gone) ? "tone.ink" : "divider",
                bgcolor: here ? "tone.marker" : found || gone ? "divider" : "background.paper",
                color: here ? "tone.onMarker" : "text.primary",
              }}
            >
              {pack}
              <Box sx={{ display: "flex", gap: "2px", pb: "3px" }}>
                {Array.from({ length: Math.min(found?.hits ?? 0, 4) }, (_, i) => (
                  <Box key={i} sx={{ width: 8, height: 11, bgcolor: here ? "tone.onMarker" : "tone.gain" }} />
                ))}
              </Box>
            </ButtonBase>
          );
        })}
      </Box>
    </>
  );
}
