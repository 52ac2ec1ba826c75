import Box from "@mui/material/Box";
import { scaleLinear, scaleTime } from "d3-scale";
import { useState } from "react";
import { AsTable } from "./AsTable";
import { nextDot, type Dot } from "./dots";
import { HeightAxis, SOFT } from "./HeightAxis";
import { apart } from "./plot";
import { Spoken } from "./Spoken";
import { useMeasured } from "./useMeasured";

const [LEFT, RIGHT, TOP, BOTTOM, HEIGHT] = [54, 14, 12, 28, 260];
const DAY = 86_400_000;

interface Props {
  label: string;
  dots: readonly Dot[];
  /** A height with the span around it that is as likely as it. */
  level?: number | null;
  band?: readonly [number, number] | null;
  /** Where the time ends at the earliest (ms). */
  until: number;
  /** The tallest height that is drawn true; what is above it stands at the top. */
  most: number;
  text: (value: number) => string;
  legend: string;
  heads: readonly string[];
  rows: readonly (readonly string[])[];
}

/** Dots over time, each read off under the pointer or with the arrows; a level with its band; or as a table. */
export function DotPlot({ label, dots, level, band, until, most, text, legend, heads, rows }: Props) {
  const [frame, width] = useMeasured<HTMLDivElement>(740);
  const [at, setAt] = useState<number | null>(null);
  const days = dots.map((dot) => dot.at);
  const [first, last] = [Math.min(...days), Math.max(...days, until)];
  const room = Math.max((last - first) * 0.03, DAY);
  const right = Math.max(width - RIGHT, LEFT);
  const x = scaleTime([new Date(first - room), new Date(last + room)], [LEFT, right]);
  const y = scaleLinear([0, most || 1], [HEIGHT - BOTTOM, TOP]).nice();
  const top = y.domain()[1] ?? 1;
  const held = at === null ? undefined : dots[at];
  const green = "var(--mui-palette-tone-gain)";
  return (
    <Box ref={frame} sx={{ mb: 2, position: "relative" }}>
      <Box
        component="svg"
        role="img"
        aria-label={label}
        width={width}
        height={HEIGHT}
        tabIndex={0}
        onBlur={() => setAt(null)}
        onPointerLeave={() => setAt(null)}
        onKeyDown={(event) => {
          const next = nextDot(event.key, dots, at);
          if (next === undefined) return;
          event.preventDefault();
          setAt(next);
        }}
        sx={{ display: "block", overflow: "visible" }}
      >
        {band && (
          <rect
            x={LEFT}
            width={right - LEFT}
            y={y(band[1])}
            height={Math.max(y(band[0]) - y(band[1]), 1)}
            fill={green}
            opacity={0.16}
          />
        )}
        {level != null && (
          <line x1={LEFT} x2={right} y1={y(level)} y2={y(level)} stroke={green} strokeWidth={2} />
        )}
        <HeightAxis y={y} ticks={apart(y.ticks(5), text)} text={text} left={LEFT} right={right} />
        {x.ticks(width < 520 ? 3 : 6).map((tick) => (
          <text key={tick.getTime()} x={x(tick)} y={HEIGHT - 8} textAnchor="middle" {...SOFT}>
            {tick.toLocaleDateString("en-GB", { day: "numeric", month: "short" })}
          </text>
        ))}
        {dots.map((dot, index) => (
          <g key={dot.key} onPointerEnter={() => setAt(index)}>
            <Shape dot={dot} x={x(dot.at)} y={y(Math.min(dot.value, top))} />
          </g>
        ))}
        {held && (
          <g pointerEvents="none">
            <circle
              cx={x(held.at)}
              cy={y(Math.min(held.value, top))}
              r={9}
              fill="none"
              stroke="var(--mui-palette-tone-marker)"
              strokeWidth={3}
            />
            <text
              x={Math.min(Math.max(x(held.at), LEFT + 60), right - 60)}
              y={Math.max(y(Math.min(held.value, top)) - 14, 12)}
              textAnchor="middle"
              style={{
                fill: "var(--mui-palette-tone-ink)",
                fontSize: 12,
                fontWeight: 600,
                paintOrder: "stroke",
                stroke: "var(--mui-palette-background-default)",
                strokeWidth: 4,
              }}
            >
              {held.text}
            </text>
          </g>
        )}
      </Box>
      <Spoken>{held?.text}</Spoken>
      <Box sx={{ color: "text.secondary", fontSize: 12, pl: `${LEFT}px` }}>{legend}</Box>
      <AsTable heads={heads} rows={rows} />
    </Box>
  );
}

/** Kinds are told apart by their shape, what counts from what does not by its filling. */
function Shape({ dot, x, y }: { dot: Dot; x: number; y: number }) {
  const tone = `var(--mui-palette-tone-${dot.tone})`;
  const look = {
    fill: dot.hollow ? "none" : tone,
    stroke: tone,
    strokeWidth: 1.5,
    pointerEvents: "all",
  } as const;
  if (dot.shape === "square") return <rect x={x - 4.5} y={y - 4.5} width={9} height={9} {...look} />;
  if (dot.shape === "diamond") return <path d={`M${x} ${y - 6}l6 6l-6 6l-6 -6Z`} {...look} />;
  if (dot.shape === "caret") return <path d={`M${x - 5} ${y - 4}h10l-5 8Z`} {...look} />;
  if (dot.shape === "dash") return <path d={`M${x - 6} ${y}h12`} {...look} />;
  return <circle cx={x} cy={y} r={4.5} {...look} />;
}
