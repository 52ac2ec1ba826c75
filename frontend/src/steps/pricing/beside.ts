import type { Schemas } from "../../shared/api/client";
import type { Point } from "../../shared/plot";

export type Beside = Schemas["BesideOut"];

/** By what the rows can be ordered: a figure of each, null where it is not known. */
export function figureOf(row: Beside, by: string): number | null {
  const [what, grade = ""] = by.split(" ");
  const found =
    what === "held"
      ? row.held
      : what === "grade"
        ? row.graded[grade]
        : what === "gain"
          ? row.gains[grade]
          : row.value;
  return found === null || found === undefined ? null : Number(found);
}

/** Rows in an order; what is not known comes last, whichever way. */
export function ordered(rows: readonly Beside[], by: string, descending: boolean): Beside[] {
  const sign = descending ? -1 : 1;
  return [...rows].sort((a, b) => {
    const [one, two] = [figureOf(a, by), figureOf(b, by)];
    if (one === null || two === null) return Number(one === null) - Number(two === null);
    return sign * (one - two);
  });
}

/** Which share of the value so many of the dearest cards hold, of those whose value is known. */
export function shares(rows: readonly Beside[]): Point[] {
  const values = rows.flatMap((row) => (row.value === null ? [] : [Number(row.value)])).sort((a, b) => b - a);
  const total = values.reduce((sum, value) => sum + value, 0);
  if (total <= 0) return [];
  let soFar = 0;
  return [[0, 0], ...values.map((value, at): Point => [at + 1, (soFar += value) / total])];
}
