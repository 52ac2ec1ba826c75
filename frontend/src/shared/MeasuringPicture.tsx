import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { Key } from "./Key";
import {
  acrossBy,
  fromLine,
  kept,
  shifted,
  turned,
  zoomed,
  type Lines,
  type Point,
  type Segment,
  type View,
} from "./lines";
import { useKey } from "./keys/useKey";

interface Props {
  src: string;
  /** What the picture shows, for whoever does not see it. */
  label: string;
  width: number;
  height: number;
  lines: Lines | null;
  set: (lines: Lines) => void;
  /** Marks on the picture (pixels). */
  marks?: readonly { x: number; y: number; name: string }[];
}

const SIDES = ["top", "right", "bottom", "left"] as const;
const FINE = 0.1;
const COARSE = 1;
const GRAB = 14; // px of the screen that a finger may be off by
const ENDS = 0.25; // share of a line at either end that turns it

type Which = { of: "edges" | "frame"; at: number };
type Grab =
  | { kind: "line"; which: Which; start: Point; line: Segment; end: 0 | 1 | null }
  | { kind: "view"; start: Point; view: View };

/**
 * A picture with lines along the card's edge and its printed frame. Lines are dragged, by their ends turned, or moved by the
 * arrows a tenth of a pixel at a time; wheel, pinch and plus or minus zoom, dragging beside the lines moves the picture.
 * Z shows a lens on the line that is being moved.
 */
export function MeasuringPicture({ src, label, width, height, lines, set, marks = [] }: Props) {
  const whole: View = { x: 0, y: 0, width, height };
  const [view, setView] = useState<View>(whole);
  const [lens, setLens] = useState(false);
  const [active, setActive] = useState<Which | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const grab = useRef<Grab | null>(null);
  const fingers = useRef(new Map<number, Point>());
  useKey("z", "the lens on a line", () => setLens((on) => !on));
  useKey(["+", "="], "closer", () => setView((now) => zoomed(now, whole, 1.5, middle(now))));
  useKey("-", "the whole picture", () => setView(whole));

  // A wheel that moves the page as well would be of no use here; React's own listeners cannot stop that.
  useEffect(() => {
    const element = svg.current;
    if (!element) return undefined;
    const onWheel = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.metaKey && view.width === width && event.deltaY > 0) return;
      event.preventDefault();
      const at = placeOf(element, view, event.clientX, event.clientY);
      setView((now) => zoomed(now, { x: 0, y: 0, width, height }, event.deltaY < 0 ? 1.2 : 1 / 1.2, at));
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  }, [view, width, height]);

  const where = (event: PointerEvent): Point => placeOf(svg.current!, view, event.clientX, event.clientY);
  const scale = () => perPixel(svg.current!, view);
  const put = ({ of, at }: Which, line: Segment) => {
    if (lines) set({ ...lines, [of]: lines[of].map((known, place) => (place === at ? line : known)) });
  };
  const nearest = (point: Point): { which: Which; end: 0 | 1 | null } | null => {
    let best: { which: Which; end: 0 | 1 | null; far: number } | null = null;
    for (const of of ["frame", "edges"] as const)
      (lines?.[of] ?? []).forEach((line, at) => {
        const { far, along } = fromLine(line, point);
        const off = Math.abs(far);
        if (along < -0.05 || along > 1.05 || off > GRAB * scale() || (best && off >= best.far)) return;
        best = { which: { of, at }, far: off, end: along < ENDS ? 0 : along > 1 - ENDS ? 1 : null };
      });
    return best;
  };
  const onDown = (event: PointerEvent<SVGSVGElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    fingers.current.set(event.pointerId, [event.clientX, event.clientY]);
    if (fingers.current.size > 1) {
      grab.current = null;
      return;
    }
    const start = where(event);
    const found = nearest(start);
    if (found && lines) {
      grab.current = { kind: "line", ...found, start, line: lines[found.which.of][found.which.at]! };
      setActive(found.which);
    } else grab.current = { kind: "view", start: [event.clientX, event.clientY], view };
  };
  const onMove = (event: PointerEvent<SVGSVGElement>) => {
    const before = fingers.current.get(event.pointerId);
    if (!before) return;
    const others = [...fingers.current].filter(([id]) => id !== event.pointerId).map(([, at]) => at);
    fingers.current.set(event.pointerId, [event.clientX, event.clientY]);
    const other = others[0];
    if (other) {
      const was = Math.hypot(before[0] - other[0], before[1] - other[1]) || 1;
      const is = Math.hypot(event.clientX - other[0], event.clientY - other[1]) || 1;
      const at = placeOf(svg.current!, view, (event.clientX + other[0]) / 2, (event.clientY + other[1]) / 2);
      setView(zoomed(view, whole, is / was, at));
      return;
    }
    const held = grab.current;
    if (held?.kind === "line") {
      const by = fromLine(held.line, where(event)).far - fromLine(held.line, held.start).far;
      put(held.which, held.end === null ? shifted(held.line, by) : turned(held.line, held.end, by));
    } else if (held) {
      const per = scale();
      const x = held.view.x - (event.clientX - held.start[0]) * per;
      const y = held.view.y - (event.clientY - held.start[1]) * per;
      setView(kept({ ...held.view, x, y }, whole));
    }
  };
  const onUp = (event: PointerEvent) => {
    fingers.current.delete(event.pointerId);
    grab.current = null;
  };
  const onLineKey = (which: Which, line: Segment) => (event: KeyboardEvent) => {
    const across = acrossBy(event.key, line);
    if (!event.key.startsWith("Arrow")) return;
    event.preventDefault();
    event.stopPropagation();
    const by = across * (event.shiftKey ? COARSE : FINE);
    if (by !== 0) put(which, event.altKey ? turned(line, 1, by) : shifted(line, by));
  };
  const shown = active && lines ? lines[active.of][active.at] : undefined;
  return (
    <Box>
      <Box sx={{ position: "relative" }}>
        <Box
          component="svg"
          ref={svg}
          role="group"
          aria-label={`${label}: lines are moved by dragging or the arrows`}
          viewBox={`${view.x} ${view.y} ${view.width} ${view.height}`}
          onPointerDown={onDown}
          onPointerMove={onMove}
          onPointerUp={onUp}
          onPointerCancel={onUp}
          sx={{
            display: "block",
            width: 1,
            maxHeight: "68vh",
            aspectRatio: `${width} / ${height}`,
            bgcolor: "#222",
            touchAction: "none",
            cursor: "grab",
            "& line": { vectorEffect: "non-scaling-stroke" },
          }}
        >
          <image href={src} x={0} y={0} width={width} height={height} />
          {marks.map((mark, at) => (
            <g key={at} style={{ pointerEvents: "none" }}>
              <circle
                cx={mark.x}
                cy={mark.y}
                r={width / 45}
                fill="none"
                stroke="var(--mui-palette-tone-loss)"
                strokeWidth={2}
                style={{ vectorEffect: "non-scaling-stroke" }}
              >
                <title>{mark.name}</title>
              </circle>
            </g>
          ))}
          {(["edges", "frame"] as const).flatMap((of) =>
            (lines?.[of] ?? []).map((line, at) => {
              const isActive = active?.of === of && active.at === at;
              const name = `${SIDES[at]} line of the ${of === "edges" ? "edge" : "printed frame"}`;
              return (
                <Box
                  component="g"
                  key={`${of} ${at}`}
                  role="button"
                  tabIndex={0}
                  aria-label={`${name}: arrows move it by a tenth of a pixel, Shift by one, Alt turns it`}
                  onFocus={() => setActive({ of, at })}
                  onKeyDown={onLineKey({ of, at }, line)}
                  sx={{ outline: 0, "&:focus-visible .drawn": { strokeWidth: 4 } }}
                >
                  <line
                    {...ends(line)}
                    stroke="transparent"
                    strokeWidth={2 * GRAB}
                    style={{ cursor: "move" }}
                  />
                  <line {...ends(line)} stroke="#1C2733" strokeWidth={3} opacity={0.55} />
                  <line
                    className="drawn"
                    {...ends(line)}
                    stroke="var(--mui-palette-tone-marker)"
                    strokeWidth={isActive ? 2.5 : 1.5}
                    strokeDasharray={of === "frame" ? "6 4" : undefined}
                  />
                </Box>
              );
            }),
          )}
        </Box>
        {lens && shown && <Lens {...{ src, width, height, line: shown }} />}
      </Box>
      <Box
        sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", columnGap: 1, mt: 0.5, fontSize: 13 }}
      >
        <Button color="inherit" onClick={() => setView(zoomed(view, whole, 1.5, middle(view)))}>
          Closer&nbsp;&nbsp;<Key>+</Key>
        </Button>
        <Button color="inherit" onClick={() => setView(whole)}>
          All of it&nbsp;&nbsp;<Key>-</Key>
        </Button>
        <Button color="inherit" aria-pressed={lens} onClick={() => setLens(!lens)}>
          Lens&nbsp;&nbsp;<Key>Z</Key>
        </Button>
      </Box>
    </Box>
  );
}

function ends([[x1, y1], [x2, y2]]: Segment) {
  return { x1, y1, x2, y2 };
}

function middle(view: View): Point {
  return [view.x + view.width / 2, view.y + view.height / 2];
}

/** How much of the picture a pixel of the screen shows. */
function perPixel(element: SVGSVGElement, view: View): number {
  const box = element.getBoundingClientRect();
  return Math.max(view.width / (box.width || 1), view.height / (box.height || 1));
}

/** Where on the picture a place of the screen is; the picture may be centred in its box. */
function placeOf(element: SVGSVGElement, view: View, x: number, y: number): Point {
  const box = element.getBoundingClientRect();
  const per = perPixel(element, view);
  const [left, top] = [(box.width - view.width / per) / 2, (box.height - view.height / per) / 2];
  return [view.x + (x - box.left - left) * per, view.y + (y - box.top - top) * per];
}

const LENS = 170;
const SEEN = 26; // pixels of the picture that the lens shows across

/** The middle of a line, much closer. */
function Lens({ src, width, height, line }: { src: string; width: number; height: number; line: Segment }) {
  const [x, y] = [(line[0][0] + line[1][0]) / 2, (line[0][1] + line[1][1]) / 2];
  return (
    <Box
      component="svg"
      aria-hidden
      viewBox={`${x - SEEN / 2} ${y - SEEN / 2} ${SEEN} ${SEEN}`}
      sx={{
        position: "absolute",
        right: 8,
        top: 8,
        width: LENS,
        height: LENS,
        border: 2,
        borderColor: "tone.marker",
        bgcolor: "#222",
        pointerEvents: "none",
        "& image": { imageRendering: "pixelated" },
      }}
    >
      <image href={src} x={0} y={0} width={width} height={height} />
      <line
        {...ends(line)}
        stroke="var(--mui-palette-tone-marker)"
        strokeWidth={1}
        style={{ vectorEffect: "non-scaling-stroke" }}
      />
    </Box>
  );
}
