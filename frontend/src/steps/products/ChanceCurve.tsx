import Box from "@mui/material/Box";
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../../shared/api/client";
import { count, percent } from "../../shared/format";

const WIDTH = 740;
const HEIGHT = 230;
const LEFT = 40;
const BOTTOM = 26;

/** The chance of at least one copy against the boxes opened, with the boxes for the usual chances marked. */
export function ChanceCurve({ curve, needed }: Pick<Schemas["ChaseOut"], "curve" | "needed">) {
  const last = curve.at(-1)?.boxes ?? 1;
  const x = scaleLinear([0, last], [LEFT, WIDTH - 24]);
  const y = scaleLinear([0, 1], [HEIGHT - BOTTOM, 12]);
  const path = [{ boxes: 0, chance: 0 }, ...curve]
    .map(({ boxes, chance }) => `${x(boxes)},${y(chance)}`)
    .join("L");
  const soft = { fill: "var(--mui-palette-tone-soft)", fontSize: 12 };
  return (
    <Box
      component="svg"
      role="img"
      aria-label={`Chance of at least one: ${needed.map((need) => `${percent(need.chance)} after ${need.boxes ?? "too many"} boxes`).join(", ")}`}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      sx={{ display: "block", width: "100%", mb: 2.5 }}
    >
      {[0, 0.5, 0.75, 0.9].map((chance) => (
        <g key={chance}>
          <line
            x1={LEFT}
            x2={WIDTH}
            y1={y(chance)}
            y2={y(chance)}
            style={{ stroke: "var(--mui-palette-divider)" }}
          />
          <text x={LEFT - 6} y={y(chance) + 4} textAnchor="end" style={soft}>
            {percent(chance)}
          </text>
        </g>
      ))}
      <path
        d={`M${path}`}
        style={{ fill: "none", stroke: "var(--mui-palette-tone-gain)", strokeWidth: 2.5 }}
      />
      {needed.map(
        (need) =>
          need.boxes !== null && (
            <g key={need.chance}>
              <circle
                cx={x(need.boxes)}
                cy={y(need.chance)}
                r={5}
                style={{ fill: "var(--mui-palette-tone-marker)", stroke: "var(--mui-palette-tone-ink)" }}
              />
              <text
                x={x(need.boxes)}
                y={y(need.chance) + 20}
                textAnchor="middle"
                style={{ fill: "var(--mui-palette-tone-ink)", fontSize: 12, fontWeight: 600 }}
              >
                {count(need.boxes)}
              </text>
            </g>
          ),
      )}
      <line x1={LEFT} x2={WIDTH} y1={y(0)} y2={y(0)} style={{ stroke: "var(--mui-palette-tone-ink)" }} />
      {x.ticks(6).map((tick) => (
        <text key={tick} x={x(tick)} y={HEIGHT - 8} textAnchor="middle" style={soft}>
          {count(tick)}
          {tick === 0 ? " boxes" : ""}
        </text>
      ))}
    </Box>
  );
}
