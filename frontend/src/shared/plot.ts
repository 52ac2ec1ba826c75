export type Point = readonly [number, number];

export interface PlotLine {
  name: string;
  points: readonly Point[];
  tone: "gain" | "loss" | "ink" | "soft";
  dashed?: boolean;
}

/** The height of a line at x, between its points; null outside them. */
export function heightAt(points: readonly Point[], x: number): number | null {
  const after = points.findIndex(([at]) => at >= x);
  const next = points[after];
  if (!next) return null;
  const before = points[after - 1];
  if (!before || next[0] === x) return after === 0 && next[0] > x ? null : next[1];
  const share = (x - before[0]) / (next[0] - before[0]);
  return before[1] + share * (next[1] - before[1]);
}

/** Heights at which labels stand at least so far apart, in the order given, none above `top` or below `bottom`. */
export function spreadLabels(
  wanted: readonly number[],
  apart: number,
  top: number,
  bottom: number,
): number[] {
  const order = wanted.map((_, index) => index).sort((a, b) => (wanted[a] ?? 0) - (wanted[b] ?? 0));
  const placed = [...wanted];
  let last = top - apart;
  for (const index of order) {
    last = Math.max(placed[index] ?? 0, last + apart);
    placed[index] = last;
  }
  let next = bottom + apart;
  for (const index of [...order].reverse()) {
    next = Math.min(placed[index] ?? 0, next - apart);
    placed[index] = next;
  }
  return placed;
}

/** The ticks of an axis; of those that read alike only the one that stands where it reads. */
export function apart(ticks: readonly number[], text: (value: number) => string): number[] {
  const off = (tick: number) => Math.abs(Number(text(tick).replaceAll(",", "")) - tick) || 0;
  return ticks.filter((tick) =>
    ticks.every((other) => text(other) !== text(tick) || off(tick) <= off(other)),
  );
}

const ROWS = 12;

/** What all lines say at x, as words. */
export function readOff(
  lines: readonly PlotLine[],
  at: number,
  xText: (value: number) => string,
  yText: (value: number) => string,
): string {
  const said = lines
    .map((line) => [line.name, heightAt(line.points, at)] as const)
    .filter(([, value]) => value !== null)
    .map(([name, value]) => `${name} ${yText(value ?? 0)}`);
  return `${xText(Math.round(at * 100) / 100)}: ${said.join(", ")}`;
}

/** Some points of the lines as rows: x, then what each line says there. */
export function tableOf(
  lines: readonly PlotLine[],
  xText: (value: number) => string,
  yText: (value: number) => string,
): string[][] {
  const xs = [...new Set(lines.flatMap((line) => line.points.map(([at]) => at)))].sort((a, b) => a - b);
  const every = Math.max(Math.ceil(xs.length / ROWS), 1);
  return xs
    .filter((_, index) => index % every === 0 || index === xs.length - 1)
    .map((at) => [
      xText(at),
      ...lines.map((line) => {
        const value = heightAt(line.points, at);
        return value === null ? "" : yText(value);
      }),
    ]);
}

const STEPS = 40;

/** Where a key leads along an axis: the arrows by a step, Page by ten, Home and End; Escape ends reading. Undefined for
 * other keys. */
export function stepAlong(
  key: string,
  at: number | null,
  [start, end]: readonly [number, number],
): number | null | undefined {
  const step = (end - start) / STEPS;
  const from = at ?? start;
  const to: Record<string, number> = {
    ArrowRight: from + step,
    ArrowLeft: from - step,
    PageUp: from + 10 * step,
    PageDown: from - 10 * step,
    Home: start,
    End: end,
  };
  if (key === "Escape") return at === null ? undefined : null;
  const next = to[key];
  return next === undefined ? undefined : Math.min(Math.max(next, start), end);
}
