import type { Schemas } from "../../shared/api/client";

export type ColumnSaid = Schemas["ColumnIn"];

/** What a column may mean, as a collector says it. */
export const COLUMNS: Record<ColumnSaid["means"], string> = {
  "": "leave it out",
  title: "what the card is",
  release: "release",
  line: "line",
  number: "number",
  variant: "variant",
  state: "state",
  grader: "grader",
  grade: "grade",
  kind: "kind of price",
  day: "day",
  price: "price",
  ask: "price asked",
  low: "low of a book",
  high: "high of a book",
  shipping: "shipping",
  tax: "tax",
  currency: "currency",
  market: "market",
  bids: "bids",
  lot: "copies in the lot",
  copies: "graded copies",
  subgrades: "subgrades",
  photo: "photo: of the copy, or stock",
};

/** Whether what stands in a column may be of one state or grade. */
export function takesState(means: ColumnSaid["means"]): boolean {
  return ["price", "ask", "low", "high", "copies"].includes(means);
}

/** A column as it is sent. */
export function sayColumn({ means, of, currency }: Schemas["ColumnOut"]): ColumnSaid {
  return { means, of, currency };
}

/** The counts that will be kept: of a card that is known beyond doubt, each grade of a day once, the last that is said. */
export function countsOf(found: readonly Schemas["CountedOut"][]): Schemas["CountIn"][] {
  const kept = new Map<string, Schemas["CountIn"]>();
  for (const { version, grader, grade, count, day, doubt, refused } of found) {
    if (version === null || doubt !== null || refused !== null) continue;
    if (grader === null || grade === null || count === null || day === null) continue;
    kept.set(`${version} ${grader} ${grade} ${day}`, { version, grader, grade, count, day });
  }
  return [...kept.values()];
}
