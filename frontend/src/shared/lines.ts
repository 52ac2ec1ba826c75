export type Point = readonly [number, number];
/** A line through two points (pixels of the picture). */
export type Segment = readonly [Point, Point];

/** Lines along a card's edge and along its printed frame: top, right, bottom, left. */
export interface Lines {
  edges: readonly Segment[];
  frame: readonly Segment[];
}

/** Lines as they are sent. */
export function toBody({ edges, frame }: Lines): { edges: number[][][]; frame: number[][][] } {
  const plain = (of: readonly Segment[]) => of.map((line) => line.map((point) => [...point]));
  return { edges: plain(edges), frame: plain(frame) };
}

/** Lines as they came, as they are drawn. */
export function toLines(sent: { edges: number[][][]; frame: number[][][] }): Lines {
  const point = ([x = 0, y = 0]: number[] = []): Point => [x, y];
  const drawn = (of: number[][][]) => of.map(([a, b]): Segment => [point(a), point(b)]);
  return { edges: drawn(sent.edges), frame: drawn(sent.frame) };
}

/** The part of a picture that is shown (pixels). */
export interface View {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A line moved across itself by so many pixels: inwards for positive ones where it runs clockwise. */
export function shifted([a, b]: Segment, by: number): Segment {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const long = Math.hypot(dx, dy) || 1;
  const [nx, ny] = [(-dy / long) * by, (dx / long) * by];
  return [
    [a[0] + nx, a[1] + ny],
    [b[0] + nx, b[1] + ny],
  ];
}

/** A line with one of its ends (0 or 1) moved across it, so that it turns. */
export function turned(line: Segment, end: 0 | 1, by: number): Segment {
  const moved = shifted(line, by);
  return end === 0 ? [moved[0], line[1]] : [line[0], moved[1]];
}

/** Which way an arrow moves a line across itself: 1 inwards, -1 outwards, 0 along it, which does nothing. */
export function acrossBy(key: string, [a, b]: Segment): -1 | 0 | 1 {
  const arrow: Record<string, Point> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, -1],
    ArrowDown: [0, 1],
  };
  const way = arrow[key];
  if (!way) return 0;
  const across = -(b[1] - a[1]) * way[0] + (b[0] - a[0]) * way[1];
  const long = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
  return Math.abs(across) < 0.5 * long ? 0 : across > 0 ? 1 : -1;
}

/** How far a point lies from a line, and which end of it is nearer, by how much of its length from the middle. */
export function fromLine([a, b]: Segment, [x, y]: Point): { far: number; along: number } {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const long = Math.hypot(dx, dy) || 1;
  const along = ((x - a[0]) * dx + (y - a[1]) * dy) / long ** 2;
  return { far: ((x - a[0]) * -dy + (y - a[1]) * dx) / long, along };
}

/** A view that shows the same place under a point, closer by a factor; never more than the whole picture. */
export function zoomed(view: View, whole: View, by: number, [x, y]: Point): View {
  const width = Math.min(Math.max(view.width / by, whole.width / 40), whole.width);
  const height = (width * whole.height) / whole.width;
  const next = {
    x: x - ((x - view.x) * width) / view.width,
    y: y - ((y - view.y) * height) / view.height,
    width,
    height,
  };
  return kept(next, whole);
}

/** A view moved back onto the picture. */
export function kept(view: View, whole: View): View {
  return {
    ...view,
    x: Math.min(Math.max(view.x, whole.x), whole.x + whole.width - view.width),
    y: Math.min(Math.max(view.y, whole.y), whole.y + whole.height - view.height),
  };
}

/** Lines to begin with by hand: the edge a tenth of the picture in, the frame a little further. */
export function begun(width: number, height: number): { edges: Segment[]; frame: Segment[] } {
  const box = (share: number): Segment[] => {
    const [l, t, r, b] = [width * share, height * share, width * (1 - share), height * (1 - share)];
    return [
      [
        [l, t],
        [r, t],
      ],
      [
        [r, t],
        [r, b],
      ],
      [
        [r, b],
        [l, b],
      ],
      [
        [l, b],
        [l, t],
      ],
    ];
  };
  return { edges: box(0.1), frame: box(0.15) };
}
