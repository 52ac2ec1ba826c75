import Box from "@mui/material/Box";
import type { Schemas } from "../../shared/api/client";
import { money } from "../../shared/format";

/** What the strips have in common, since each has its own money. */
export const SCALE =
  "Each strip runs from nothing to twice the price of its own box, so that ▾ stands in the middle: from 1 in 20 to 19 in 20, the thick half in the middle, and a line that half of all boxes do not reach. Without a price it runs to its own best.";
const WIDTH = 220;
const HEIGHT = 22;

/** One format's outcomes against its price: 5 to 95 % as a line, the middle half thick, the price as a mark. */
export function ValueStrip({ format }: { format: Schemas["FormatOut"] }) {
  const figures = format.figures;
  if (!figures) return null;
  const price = format.price === null ? null : Number(format.price);
  const [low = 0, quarter = 0, middle = 0, upper = 0, high = 0] = ["0.05", "0.25", "0.5", "0.75", "0.95"].map(
    (share) => figures.quantiles[share] ?? 0,
  );
  const reach = Math.max(price === null ? 0 : price * 2, price === null ? high * 1.1 : 0, 0.01);
  const x = (amount: number) => (Math.min(amount, reach) / reach) * WIDTH;
  const said = `from ${money(low)} to ${money(high)}, middle ${money(middle)}${price === null ? "" : `, price ${money(price)}`}`;
  return (
    <Box
      component="svg"
      role="img"
      aria-label={`Outcomes ${said}`}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      sx={{ width: WIDTH, height: HEIGHT, display: "block" }}
    >
      <title>{said}</title>
      <Box
        component="line"
        x1={x(low)}
        x2={x(high)}
        y1={11}
        y2={11}
        sx={{ stroke: "var(--mui-palette-tone-soft)", strokeWidth: 1.5 }}
      />
      <Segment from={x(quarter)} to={x(upper)} at={price === null ? null : x(price)} />
      <Box
        component="line"
        x1={x(middle)}
        x2={x(middle)}
        y1={3}
        y2={19}
        sx={{ stroke: "var(--mui-palette-tone-ink)", strokeWidth: 1.5 }}
      />
      {price !== null && (
        <Box
          component="path"
          d={`M${x(price) - 5} 0h10l-5 7z`}
          sx={{ fill: "var(--mui-palette-tone-marker)", stroke: "var(--mui-palette-tone-ink)" }}
        />
      )}
    </Box>
  );
}

/** The middle half, in the colour of loss below the price and of gain above it. */
function Segment({ from, to, at }: { from: number; to: number; at: number | null }) {
  if (at === null) return <Part from={from} to={to} tone="soft" />;
  const split = Math.min(Math.max(at, from), to);
  return (
    <>
      <Part from={from} to={split} tone="loss" />
      <Part from={split} to={to} tone="gain" />
    </>
  );
}

function Part({ from, to, tone }: { from: number; to: number; tone: "soft" | "loss" | "gain" }) {
  if (to <= from) return null;
  return (
    <rect x={from} width={to - from} y={7} height={8} style={{ fill: `var(--mui-palette-tone-${tone})` }} />
  );
}
