import Box from "@mui/material/Box";
import { scaleLinear, scaleTime } from "d3-scale";
import type { Schemas } from "../../shared/api/client";
import { AsTable } from "../../shared/AsTable";
import { day, money } from "../../shared/format";
import { useMeasured } from "../../shared/useMeasured";
import { useToday } from "../../shared/useToday";
import { apart } from "../../shared/plot";
import { KINDS } from "./kinds";

type Price = Schemas["PriceOut"];
type Comp = Price["seen"][number];

const [LEFT, RIGHT, TOP, BOTTOM, HEIGHT] = [54, 14, 12, 28, 260];
const SALES = new Set(["sold", "auction", "own"]);

/** Kinds of prices are told apart by their shape: a disc sold, a square an auction, a diamond an own sale, a caret an ask. */
function Shape({ comp, x, y, hollow }: { comp: Comp; x: number; y: number; hollow: boolean }) {
  const tone = SALES.has(comp.kind) ? "ink" : "soft";
  const look = {
    fill: hollow ? "none" : `var(--mui-palette-tone-${tone})`,
    stroke: `var(--mui-palette-tone-${tone})`,
    strokeWidth: 1.5,
  };
  if (comp.kind === "auction") return <rect x={x - 4.5} y={y - 4.5} width={9} height={9} {...look} />;
  if (comp.kind === "own")
    return <path d={`M${x} ${y - 6}L${x + 6} ${y}L${x} ${y + 6}L${x - 6} ${y}Z`} {...look} />;
  if (comp.kind === "ask")
    return <path d={`M${x - 5} ${y - 4}L${x + 5} ${y - 4}L${x} ${y + 4}Z`} {...look} />;
  if (comp.kind !== "sold") return <path d={`M${x - 6} ${y}L${x + 6} ${y}`} {...look} />;
  return <circle cx={x} cy={y} r={4.5} {...look} />;
}

/** Prices over time, all-in at home: sales that count filled, what is flagged hollow; the estimate with its band. */
export function SalesPlot({ data }: { data: Price }) {
  const shown = data.seen.filter((comp) => comp.all_in !== null);
  return shown.length === 0 ? null : <Drawn data={data} shown={shown} />;
}

function Drawn({ data, shown }: { data: Price; shown: readonly Comp[] }) {
  const [frame, width] = useMeasured<HTMLDivElement>(740);
  const today = useToday();
  const days = shown.map((comp) => new Date(`${comp.day}T00:00:00`).getTime());
  const [first, last] = [Math.min(...days), Math.max(...days, new Date(`${today}T00:00:00`).getTime())];
  const room = Math.max((last - first) * 0.03, 86_400_000);
  const x = scaleTime([new Date(first - room), new Date(last + room)], [LEFT, width - RIGHT]);
  const amounts = shown.map((comp) => comp.all_in ?? 0);
  const counted = shown
    .filter((comp) => !comp.flagged && SALES.has(comp.kind))
    .map((comp) => comp.all_in ?? 0);
  const most = Math.max(...(counted.length ? counted : amounts), data.interval_high ?? 0) * 1.35;
  const y = scaleLinear([0, Math.min(most, Math.max(...amounts) * 1.1)], [HEIGHT - BOTTOM, TOP]).nice();
  const soft = { fill: "var(--mui-palette-tone-soft)", fontSize: 12 };
  const top = y.domain()[1] ?? 1;
  const ticks = apart(y.ticks(5), (value) => money(value));
  return (
    <Box ref={frame} sx={{ mb: 2 }}>
      <Box
        component="svg"
        role="img"
        aria-label={`${shown.length} prices over time, in ${data.state}; worth about ${money(data.estimate)}`}
        width={width}
        height={HEIGHT}
        sx={{ display: "block", overflow: "visible" }}
      >
        {data.interval_low !== null && data.interval_high !== null && (
          <rect
            x={LEFT}
            width={Math.max(width - RIGHT - LEFT, 0)}
            y={y(data.interval_high)}
            height={Math.max(y(data.interval_low) - y(data.interval_high), 1)}
            fill="var(--mui-palette-tone-gain)"
            opacity={0.16}
          />
        )}
        {data.estimate !== null && (
          <line
            x1={LEFT}
            x2={width - RIGHT}
            y1={y(data.estimate)}
            y2={y(data.estimate)}
            stroke="var(--mui-palette-tone-gain)"
            strokeWidth={2}
          />
        )}
        {ticks.map((value) => (
          <g key={value}>
            <line
              x1={LEFT}
              x2={width - RIGHT}
              y1={y(value)}
              y2={y(value)}
              stroke="var(--mui-palette-divider)"
            />
            <text x={LEFT - 8} y={y(value) + 4} textAnchor="end" {...soft}>
              {money(value)}
            </text>
          </g>
        ))}
        {x.ticks(width < 520 ? 3 : 6).map((at) => (
          <text key={at.getTime()} x={x(at)} y={HEIGHT - 8} textAnchor="middle" {...soft}>
            {at.toLocaleDateString("en-GB", { day: "numeric", month: "short" })}
          </text>
        ))}
        {shown.map((comp, at) => (
          <g key={comp.number}>
            <title>{`${KINDS[comp.kind]}, ${day(comp.day)}: ${money(comp.all_in)}${comp.flagged ? ", far off" : ""}`}</title>
            <Shape
              comp={comp}
              x={x(days[at] ?? 0)}
              y={y(Math.min(comp.all_in ?? 0, top))}
              hollow={comp.flagged || comp.why !== null}
            />
          </g>
        ))}
      </Box>
      <Box sx={{ color: "text.secondary", fontSize: 12, pl: `${LEFT}px` }}>
        ● sold, ■ at auction, ◆ your own, ▾ asked; hollow: not counted. The band holds the median.
      </Box>
      <AsTable
        heads={["Day", "Kind", `All-in, ${data.currency}`, "Counts"]}
        rows={shown.map((comp) => [
          day(comp.day),
          KINDS[comp.kind],
          money(comp.all_in),
          comp.flagged ? "far off" : (comp.why ?? "yes"),
        ])}
      />
    </Box>
  );
}
