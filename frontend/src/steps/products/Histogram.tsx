import Box from "@mui/material/Box";
import { scaleLinear } from "d3-scale";
import { useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import type { Schemas } from "../../shared/api/client";
import { axisMoney, money, percent } from "../../shared/format";
import { AsTable } from "../../shared/AsTable";
import { useMeasured } from "../../shared/useMeasured";
import { bars, labelSide, niceStep, snap } from "./bars";

const HEIGHT = 250;
const TOP = 64;
const BOTTOM = 26;
const FLAG_WIDTH = 128;
const DRAG = 4; // so far (px) a pointer moves before it drags

/** Where the pointer took hold, of which price, and whether it has moved since. */
interface Grab {
  at: number;
  price: number;
  moves: boolean;
}

interface Props {
  histogram: Schemas["HistogramOut"];
  price: number | null;
  landed: number | null;
  mean: number;
  middle: number;
  unit: string;
  move: (price: number, done: boolean) => void;
  keep: () => void;
  back: () => void;
}

/** What may come out, as bars; the price is a line that is dragged, or moved with the arrows. */
export function Histogram({ histogram, price, landed, mean, middle, unit, move, keep, back }: Props) {
  const [box, width] = useMeasured<HTMLDivElement>(740);
  const [grab, setGrab] = useState<Grab | null>(null);

  const all = bars(histogram);
  const end = all.at(-1)?.to ?? 1;
  const start = all[0]?.from ?? 0;
  const x = scaleLinear([start, end], [0, width - 1]);
  const tallest = Math.max(...all.map((bar) => bar.chance), 1e-9);
  const y = scaleLinear([0, tallest], [HEIGHT - BOTTOM, TOP]);
  const step = niceStep(end - start);
  const threshold = landed ?? price;

  /** Where the price is dragged to: by as much as the pointer went since it was grabbed, wherever that was. */
  const toPrice = (event: PointerEvent, from: Grab) =>
    snap(Math.min(Math.max(x.invert(x(from.price) + event.clientX - from.at), start), end), step / 4);
  const onKey = (event: KeyboardEvent) => {
    const from = price ?? middle;
    const jumps: Record<string, number> = {
      ArrowRight: from + step,
      ArrowUp: from + step,
      ArrowLeft: from - step,
      ArrowDown: from - step,
      PageUp: from + 10 * step,
      PageDown: from - 10 * step,
      Home: 0,
      End: end,
    };
    const next = jumps[event.key];
    if (next !== undefined) {
      event.preventDefault();
      move(Math.max(snap(next, step / 4), 0), true);
    } else if (event.key === "Enter") keep();
    else if (event.key === "Escape") back();
  };

  const last = all.at(-1);
  const handle = price ?? middle;
  const flagX = Math.min(Math.max(x(handle) - 1, 0), width - FLAG_WIDTH);
  const meanSide = labelSide(x(mean), labelWidth(`average ${money(mean)}`), width, [x(handle)], "right");
  const middleSide = labelSide(
    x(middle),
    labelWidth(`middle ${money(middle)}`),
    width,
    [x(handle), x(mean)],
    "left",
  );
  return (
    <>
      <Box ref={box} sx={{ position: "relative", height: HEIGHT, touchAction: "pan-y", userSelect: "none" }}>
        <Box
          component="svg"
          role="img"
          aria-label={`Chances of what ${unit} holds: average ${money(mean)}, middle ${money(middle)}`}
          width={width}
          height={HEIGHT}
          sx={{
            display: "block",
            "& text": {
              fontSize: 12,
              fill: "var(--mui-palette-tone-ink)",
              paintOrder: "stroke",
              stroke: "var(--mui-palette-background-default)",
              strokeWidth: 4,
            },
            "& .soft": { fill: "var(--mui-palette-tone-soft)" },
          }}
        >
          {all.map((bar) => {
            const left = x(bar.from);
            const whole = Math.max(x(bar.to) - left - 1.5, 0.5);
            const lost =
              threshold === null || bar.open
                ? 0
                : Math.min(Math.max((threshold - bar.from) / (bar.to - bar.from), 0), 1);
            const top = y(bar.chance);
            const height = Math.max(HEIGHT - BOTTOM - top, 0);
            return (
              <g key={bar.from}>
                <title>{`${barWords(bar)}: ${percent(bar.chance)}`}</title>
                {lost > 0 && (
                  <rect
                    x={left}
                    y={top}
                    width={whole * lost}
                    height={height}
                    style={{ fill: "var(--mui-palette-tone-loss)" }}
                  />
                )}
                {lost < 1 && (
                  <rect
                    x={left + whole * lost}
                    y={top}
                    width={whole * (1 - lost)}
                    height={height}
                    style={{
                      fill:
                        threshold === null ? "var(--mui-palette-tone-soft)" : "var(--mui-palette-tone-gain)",
                    }}
                  />
                )}
              </g>
            );
          })}
          <line
            x1={0}
            x2={width}
            y1={HEIGHT - BOTTOM}
            y2={HEIGHT - BOTTOM}
            style={{ stroke: "var(--mui-palette-tone-ink)" }}
          />
          {x.ticks(Math.max(Math.floor(width / 80), 3)).map((tick) =>
            x(tick) > width - 175 ? null : (
              <text
                key={tick}
                x={x(tick)}
                y={HEIGHT - 8}
                className="soft"
                textAnchor={x(tick) < 12 ? "start" : "middle"}
              >
                {axisMoney(tick)}
              </text>
            ),
          )}
          {last && (
            <text x={width} y={HEIGHT - 8} className="soft" textAnchor="end">
              {axisMoney(last.from)} and more: {percent(last.chance)}
            </text>
          )}
          <Mark x={x(mean)} top={30} side={meanSide} dashed={false}>
            average {money(mean)}
          </Mark>
          <Mark x={x(middle)} top={47} side={middleSide} dashed>
            middle {money(middle)}
          </Mark>
          {landed !== null && price !== null && Math.abs(landed - price) > step / 8 && (
            <g>
              <line
                x1={x(landed)}
                x2={x(landed)}
                y1={TOP}
                y2={HEIGHT - BOTTOM}
                style={{ stroke: "var(--mui-palette-tone-marker)", strokeWidth: 2, strokeDasharray: "6 3" }}
              />
              <text x={x(landed) + 5} y={TOP + 12}>
                in all {money(landed)}
              </text>
            </g>
          )}
          <line
            x1={x(handle)}
            x2={x(handle)}
            y1={0}
            y2={HEIGHT - BOTTOM}
            style={{ stroke: "var(--mui-palette-tone-flag)", strokeWidth: 3 }}
          />
        </Box>
        <Box
          id="price-handle"
          role="slider"
          tabIndex={0}
          aria-label={`Price of ${unit}`}
          aria-valuemin={Math.round(start)}
          aria-valuemax={Math.round(end)}
          aria-valuenow={handle}
          aria-valuetext={price === null ? "no price" : money(price)}
          onKeyDown={onKey}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setGrab({ at: event.clientX, price: handle, moves: false });
          }}
          onPointerMove={(event) => {
            if (!grab) return;
            const moves = grab.moves || Math.abs(event.clientX - grab.at) >= DRAG;
            if (moves !== grab.moves) setGrab({ ...grab, moves });
            if (moves) move(toPrice(event, grab), false);
          }}
          onPointerUp={(event) => {
            if (grab?.moves) move(toPrice(event, grab), true);
            setGrab(null); // a click takes hold of it, and moves nothing
          }}
          onPointerCancel={() => {
            if (grab?.moves) back(); // it was a swipe over the page after all
            setGrab(null);
          }}
          sx={{
            position: "absolute",
            top: 0,
            left: flagX,
            width: FLAG_WIDTH,
            height: 26,
            display: "flex",
            alignItems: "center",
            justifyContent: "center",
            cursor: grab ? "grabbing" : "grab",
            bgcolor: "tone.flag",
            color: "tone.flagText",
            fontSize: 13,
            fontWeight: 600,
            whiteSpace: "nowrap",
          }}
        >
          ◂ {price === null ? "set a price" : `price ${money(price)}`} ▸
        </Box>
      </Box>
      <AsTable
        heads={["what it holds", "chance", "so much or more"]}
        rows={all.map((bar, at) => [
          barWords(bar),
          percent(bar.chance),
          percent(all.slice(at).reduce((sum, { chance }) => sum + chance, 0)),
        ])}
      />
    </>
  );
}

function barWords(bar: ReturnType<typeof bars>[number]): string {
  return bar.open ? `${axisMoney(bar.from)} and more` : `${axisMoney(bar.from)} to ${axisMoney(bar.to)}`;
}

/** About how wide a label is, with its distance from the line (px). */
function labelWidth(text: string): number {
  return text.length * 6.2 + 6;
}

interface MarkProps {
  x: number;
  top: number;
  side: "left" | "right";
  dashed: boolean;
  children: ReactNode;
}

/** A line at an amount, with its label beside its upper end. */
function Mark({ x, top, side, dashed, children }: MarkProps) {
  const style = {
    stroke: "var(--mui-palette-tone-ink)",
    strokeWidth: 1.5,
    strokeDasharray: dashed ? "2 3" : undefined,
  };
  return (
    <>
      <line x1={x} x2={x} y1={top} y2={HEIGHT - BOTTOM} style={style} />
      <text
        x={x + (side === "left" ? -6 : 6)}
        y={top + 10}
        textAnchor={side === "left" ? "end" : "start"}
        fontWeight={600}
      >
        {children}
      </text>
    </>
  );
}
