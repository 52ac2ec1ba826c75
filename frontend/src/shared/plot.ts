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
