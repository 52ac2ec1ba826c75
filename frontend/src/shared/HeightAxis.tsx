interface Props {
  y: (value: number) => number;
  ticks: readonly number[];
  text: (value: number) => string;
  left: number;
  right: number;
}

/** The heights of a picture: a thin rule at each tick, its words before it. */
export function HeightAxis({ y, ticks, text, left, right }: Props) {
  return ticks.map((tick) => (
    <g key={tick}>
      <line x1={left} x2={right} y1={y(tick)} y2={y(tick)} style={{ stroke: "var(--mui-palette-divider)" }} />
      <text x={left - 6} y={y(tick) + 4} textAnchor="end" style={SOFT}>
        {text(tick)}
      </text>
    </g>
  ));
}

/** How what stands beside the matter of a picture is written. */
export const SOFT = { fill: "var(--mui-palette-tone-soft)", fontSize: 12 };
