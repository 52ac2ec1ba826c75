import type { Schemas } from "../../shared/api/client";

export interface Bar {
  from: number;
  to: number;
  chance: number;
  open: boolean;
}

/** The bars between the edges, and a last one, as wide as the others, for all from the last edge on. */
export function bars({ edges, chances }: Schemas["HistogramOut"]): Bar[] {
  const width = (edges[1] ?? 1) - (edges[0] ?? 0);
  return edges.map((from, index) => {
    const to = edges[index + 1];
    return { from, to: to ?? from + width, chance: chances[index] ?? 0, open: to === undefined };
  });
}

/** A round step of about a hundredth of the reach: what one press of an arrow moves the price by. */
export function niceStep(reach: number): number {
  const rough = Math.max(reach, 0.1) / 100;
  const unit = 10 ** Math.floor(Math.log10(rough));
  return Math.max(unit * ([1, 2, 5, 10].find((k) => unit * k >= rough) ?? 10), 0.01);
}

/** The nearest multiple of a step, in whole cents. */
export function snap(amount: number, step: number): number {
  return Math.round(Math.round(amount / Math.max(step, 0.01)) * Math.max(step, 0.01) * 100) / 100;
}

/** The side of a line where its label stands free of the other lines and inside the picture; `prefer` on a tie. */
export function labelSide(
  x: number,
  labelWidth: number,
  width: number,
  others: readonly number[],
  prefer: "left" | "right",
): "left" | "right" {
  const crossed = (from: number, to: number) =>
    (from < 0 || to > width ? 10 : 0) + others.filter((other) => other > from && other < to).length;
  const left = crossed(x - labelWidth, x - 1);
  const right = crossed(x + 1, x + labelWidth);
  if (left === right) return prefer;
  return left < right ? "left" : "right";
}
