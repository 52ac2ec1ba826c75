import Box from "@mui/material/Box";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

/** A mark on a drawing of a card: shares of its width and height, how far it reaches (mm), what is drawn and said. */
export interface DrawnMark {
  at: number;
  x: number;
  y: number;
  reach: number;
  letter: string;
  name: string;
}

interface Props {
  label: string;
  /** A picture of the card by itself, to mark on in place of the drawing. */
  photo?: string | undefined;
  marks: readonly DrawnMark[];
  place: (x: number, y: number) => void;
  move: (at: number, x: number, y: number) => void;
  remove: (at: number) => void;
}

const WIDTH = 63;
const HEIGHT = 88;
const STEP = 0.02;
const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
};
const within = (value: number) => Math.min(Math.max(value, 0), 1);
const said = (x: number, y: number) =>
  `${Math.round(x * 100)} % from the left, ${Math.round(y * 100)} % from the top`;

/**
 * One side of a card, drawn: a tap or Enter marks a place, a mark is dragged or moved by the arrows and taken off by
 * Delete. For the keyboard a cross moves over the card by the arrows.
 */
export function CardDrawing({ label, photo, marks, place, move, remove }: Props) {
  const drawing = useRef<SVGSVGElement>(null);
  const [cross, setCross] = useState<{ x: number; y: number } | null>(null);
  const dragged = useRef<number | null>(null);
  const where = (event: PointerEvent): [number, number] => {
    const box = drawing.current!.getBoundingClientRect();
    return [within((event.clientX - box.left) / box.width), within((event.clientY - box.top) / box.height)];
  };
  const onKey = (event: KeyboardEvent) => {
    const step = ARROWS[event.key];
    const now = cross ?? { x: 0.5, y: 0.5 };
    if (step) setCross({ x: within(now.x + step[0]), y: within(now.y + step[1]) });
    else if (event.key === "Enter" || event.key === " ") place(now.x, now.y);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const onMarkKey = (mark: DrawnMark) => (event: KeyboardEvent) => {
    const step = ARROWS[event.key];
    if (step) move(mark.at, within(mark.x + step[0]), within(mark.y + step[1]));
    else if (event.key === "Delete") remove(mark.at);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <Box component="figure" sx={{ m: 0, width: { xs: "46%", sm: 250 } }}>
      <Box component="figcaption" sx={{ fontSize: 12, color: "text.secondary" }}>
        {label}
      </Box>
      <Box
        component="svg"
        ref={drawing}
        viewBox={`-1 -1 ${WIDTH + 2} ${HEIGHT + 2}`}
        role="group"
        tabIndex={0}
        aria-label={`The ${label}: arrows move the cross, Enter marks${cross ? `; it is ${said(cross.x, cross.y)}` : ""}`}
        onKeyDown={onKey}
        onFocus={(event) =>
          event.target === event.currentTarget && setCross((now) => now ?? { x: 0.5, y: 0.5 })
        }
        onBlur={() => setCross(null)}
        onPointerUp={(event: PointerEvent) => {
          if (dragged.current !== null) {
            dragged.current = null;
            return;
          }
          place(...where(event));
        }}
        sx={{
          width: 1,
          display: "block",
          touchAction: "manipulation",
          cursor: "crosshair",
          bgcolor: "background.paper",
        }}
      >
        <rect
          x={0}
          y={0}
          width={WIDTH}
          height={HEIGHT}
          rx={2.5}
          fill="none"
          stroke="currentColor"
          strokeWidth={0.6}
        />
        {photo ? (
          <image href={photo} x={0} y={0} width={WIDTH} height={HEIGHT} preserveAspectRatio="none" />
        ) : (
          <rect
            x={4}
            y={4}
            width={WIDTH - 8}
            height={HEIGHT - 8}
            fill="none"
            stroke="currentColor"
            strokeWidth={0.25}
            strokeDasharray="1.5 1"
          />
        )}
        {cross && (
          <path
            d={`M${cross.x * WIDTH - 2} ${cross.y * HEIGHT}h4M${cross.x * WIDTH} ${cross.y * HEIGHT - 2}v4`}
            stroke="currentColor"
            strokeWidth={0.5}
          />
        )}
        {marks.map((mark) => (
          <Box
            component="g"
            key={mark.at}
            role="button"
            tabIndex={0}
            aria-label={`${mark.name}, ${said(mark.x, mark.y)}: arrows move it, Delete takes it off`}
            onKeyDown={onMarkKey(mark)}
            onPointerDown={(event: PointerEvent<SVGGElement>) => {
              event.stopPropagation();
              dragged.current = mark.at;
              event.currentTarget.setPointerCapture(event.pointerId);
            }}
            onPointerMove={(event: PointerEvent<SVGGElement>) => {
              if (dragged.current === mark.at) move(mark.at, ...where(event));
            }}
            onPointerUp={(event: PointerEvent<SVGGElement>) => {
              event.stopPropagation();
              dragged.current = null;
            }}
            sx={{ cursor: "grab", "&:focus-visible circle": { strokeWidth: 1 }, touchAction: "none" }}
          >
            <Box
              component="circle"
              cx={mark.x * WIDTH}
              cy={mark.y * HEIGHT}
              r={mark.reach}
              sx={{
                fill: "var(--mui-palette-tone-marker)",
                stroke: "var(--mui-palette-tone-ink)",
                strokeWidth: 0.4,
              }}
            />
            <Box
              component="text"
              x={mark.x * WIDTH}
              y={mark.y * HEIGHT + 1.3}
              sx={{ fontSize: "3.6px", textAnchor: "middle", fill: "#1C2733", pointerEvents: "none" }}
            >
              {mark.letter}
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
