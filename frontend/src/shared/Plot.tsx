import Box from "@mui/material/Box";
import { scaleLinear } from "d3-scale";
import { useState, type KeyboardEvent, type PointerEvent } from "react";
import { AsTable } from "./AsTable";
import { HeightAxis, SOFT } from "./HeightAxis";
import { Spoken } from "./Spoken";
import { useMeasured } from "./useMeasured";
import { apart, readOff, spreadLabels, stepAlong, tableOf, type PlotLine } from "./plot";

const NARROW = 520; // narrower, and the lines are named beneath
const LEFT = 54;
const TOP = 14;
const BOTTOM = 28;
const LETTER = 6.3; // how wide one is, about

function strokeOf(line: PlotLine) {
  return {
    stroke: `var(--mui-palette-tone-${line.tone})`,
    ...(line.dashed ? { strokeDasharray: "6 4" } : {}),
  };
}

export interface PlotMark {
  x: number;
  y: number;
  text: string;
}

interface Props {
  label: string;
  lines: readonly PlotLine[];
  marks?: readonly PlotMark[];
  verticals?: readonly { x: number; text: string }[];
  /** Ranges of x that are told apart, named at their top. */
  bands?: readonly { from: number; to: number; text: string }[];
  xName: string;
  xText: (value: number) => string;
  yText: (value: number) => string;
  yMax?: number;
  yTicks?: readonly number[];
  height?: number;
}

/** Lines over one axis, each named at its end; read off under the pointer, with the arrows, or as a table. */
export function Plot(props: Props) {
  const { lines, marks = [], verticals = [], bands = [], xText, yText, height = 250 } = props;
  const [at, setAt] = useState<number | null>(null);
  const [frame, width] = useMeasured<HTMLDivElement>(740);
  const isNarrow = width < NARROW;
  const xs = lines.flatMap((line) => line.points.map(([x]) => x));
  const ys = lines.flatMap((line) => line.points.map(([, y]) => y));
  const longest = Math.max(...lines.map((line) => line.name.length), 0);
  const right = isNarrow ? width - 8 : width - Math.min(longest * LETTER + (lines.length > 1 ? 27 : 12), 205);
  const x = scaleLinear([Math.min(...xs, 0), Math.max(...xs, 1e-9)], [LEFT, right]);
  const y = scaleLinear(
    [Math.min(...ys, 0), props.yMax ?? (Math.max(...ys, 1e-9) || 1)],
    [height - BOTTOM, TOP],
  );
  const end = (line: PlotLine) => line.points.at(-1) ?? [0, 0];
  const toTheEnd = lines.filter((line) => x(end(line)[0]) > right - 30);
  const heights = spreadLabels(
    toTheEnd.map((line) => y(end(line)[1])),
    15,
    TOP,
    height - BOTTOM,
  );
  const labelY = (line: PlotLine) => heights[toTheEnd.indexOf(line)] ?? Math.max(y(end(line)[1]), TOP + 4);
  const read = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const value = x.invert(event.clientX - box.left);
    setAt(value >= x.domain()[0]! && value <= x.domain()[1]! ? value : null);
  };
  return (
    <Box ref={frame} sx={{ mb: 2, position: "relative" }}>
      <Box
        component="svg"
        role="img"
        aria-label={props.label}
        width={width}
        height={height}
        onPointerMove={read}
        onPointerLeave={() => setAt(null)}
        tabIndex={0}
        onBlur={() => setAt(null)}
        onKeyDown={(event: KeyboardEvent) => {
          const next = stepAlong(event.key, at, x.domain() as [number, number]);
          if (next === undefined) return;
          event.preventDefault();
          setAt(next);
        }}
        sx={{ display: "block", "& text": { fontSize: 12 } }}
      >
        {bands.map((band) => (
          <g key={band.text}>
            <rect
              x={x(band.from)}
              y={TOP}
              width={Math.max(x(band.to) - x(band.from), 2)}
              height={height - BOTTOM - TOP}
              style={{ fill: "var(--mui-palette-tone-marker)", opacity: 0.28 }}
            />
            <text
              x={x(band.from) + 5}
              y={TOP + 22}
              style={{ fill: "var(--mui-palette-tone-ink)", fontWeight: 600 }}
            >
              {band.text}
            </text>
          </g>
        ))}
        <HeightAxis y={y} ticks={props.yTicks ?? y.ticks(4)} text={yText} left={LEFT} right={right} />
        {apart(x.ticks(isNarrow ? 4 : 7), xText)
          .filter((tick) => x(tick) < Math.min(right - 14, width - props.xName.length * LETTER - 16))
          .map((tick) => (
            <text key={tick} x={x(tick)} y={height - 10} textAnchor="middle" style={SOFT}>
              {xText(tick)}
            </text>
          ))}
        <text x={width} y={height - 10} textAnchor="end" style={SOFT}>
          {props.xName}
        </text>
        {verticals.map((line) => (
          <g key={line.text}>
            <line
              x1={x(line.x)}
              x2={x(line.x)}
              y1={TOP}
              y2={height - BOTTOM}
              style={{ stroke: "var(--mui-palette-tone-flag)", strokeWidth: 2, strokeDasharray: "5 3" }}
            />
            <text
              x={x(line.x) + (x(line.x) > right - 110 ? -5 : 5)}
              y={TOP + 8}
              textAnchor={x(line.x) > right - 110 ? "end" : "start"}
              style={{ fill: "var(--mui-palette-tone-ink)", fontWeight: 600 }}
            >
              {line.text}
            </text>
          </g>
        ))}
        {lines.map((line) => (
          <g key={line.name}>
            <path
              d={`M${line.points.map(([px, py]) => `${x(px).toFixed(1)},${y(py).toFixed(1)}`).join("L")}`}
              style={{ ...strokeOf(line), fill: "none", strokeWidth: 2.5 }}
            />
            {!isNarrow && (
              <>
                {lines.length > 1 && (
                  <line
                    x1={x(end(line)[0]) + 5}
                    x2={x(end(line)[0]) + 17}
                    y1={labelY(line)}
                    y2={labelY(line)}
                    style={{ ...strokeOf(line), strokeWidth: 3 }}
                  />
                )}
                <text
                  x={x(end(line)[0]) + (lines.length > 1 ? 21 : 6)}
                  y={labelY(line) + 4}
                  style={{ fill: "var(--mui-palette-tone-ink)", fontWeight: 600 }}
                >
                  {line.name}
                </text>
              </>
            )}
          </g>
        ))}
        {marks.map((mark) => (
          <g key={mark.text}>
            <circle
              cx={x(mark.x)}
              cy={y(mark.y)}
              r={5}
              style={{ fill: "var(--mui-palette-tone-marker)", stroke: "var(--mui-palette-tone-ink)" }}
            />
            <text
              x={x(mark.x)}
              y={y(mark.y) + (mark.y > y.domain()[1]! / 2 ? 20 : -10)}
              textAnchor="middle"
              style={{ fill: "var(--mui-palette-tone-ink)", fontWeight: 600 }}
            >
              {mark.text}
            </text>
          </g>
        ))}
        <line
          x1={LEFT}
          x2={right}
          y1={y(y.domain()[0]!)}
          y2={y(y.domain()[0]!)}
          style={{ stroke: "var(--mui-palette-tone-ink)" }}
        />
        {y.domain()[0]! < 0 && (
          <line
            x1={LEFT}
            x2={right}
            y1={y(0)}
            y2={y(0)}
            style={{ stroke: "var(--mui-palette-tone-soft)", strokeWidth: 1.5 }}
          />
        )}
        {at !== null && (
          <g pointerEvents="none">
            <line
              x1={x(at)}
              x2={x(at)}
              y1={TOP}
              y2={height - BOTTOM}
              style={{ stroke: "var(--mui-palette-tone-soft)" }}
            />
            <text
              x={x(at) + (x(at) > right / 2 ? -6 : 6)}
              y={TOP + 24}
              textAnchor={x(at) > right / 2 ? "end" : "start"}
              style={{
                fill: "var(--mui-palette-tone-ink)",
                paintOrder: "stroke",
                stroke: "var(--mui-palette-background-default)",
                strokeWidth: 4,
              }}
            >
              {readOff(lines, at, xText, yText)}
            </text>
          </g>
        )}
      </Box>
      <Spoken>{at !== null && readOff(lines, at, xText, yText)}</Spoken>
      {isNarrow && (
        <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, fontSize: 12 }}>
          {lines.map((line) => (
            <span key={line.name}>
              <Box
                component="span"
                sx={{
                  display: "inline-block",
                  width: 18,
                  mr: 0.5,
                  mb: "3px",
                  borderTop: `3px ${line.dashed ? "dashed" : "solid"} var(--mui-palette-tone-${line.tone})`,
                }}
              />
              {line.name}
            </span>
          ))}
        </Box>
      )}
      <AsTable heads={[props.xName, ...lines.map((line) => line.name)]} rows={tableOf(lines, xText, yText)} />
    </Box>
  );
}
