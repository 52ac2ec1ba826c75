import { expect, test } from "vitest";
import type { Schemas } from "../../shared/api/client";
import { countsOf, takesState } from "./tables";

function counted(more: Partial<Schemas["CountedOut"]> = {}): Schemas["CountedOut"] {
  return {
    row: 1,
    title: "Quern Bank FS3",
    version: 7,
    choices: [7],
    grader: "Plumbline",
    grade: "9",
    count: 40,
    day: "2026-11-20",
    doubt: null,
    refused: null,
    ...more,
  };
}

test("a count is kept of a card that is known, each grade of a day once: the last that is said", () => {
  const found = [
    counted(),
    counted({ count: 41 }), // the same grade once more
    counted({ grade: "10", count: 0 }), // none is a count too
    counted({ version: null }),
    counted({ version: 8, doubt: "it may be another card" }),
    counted({ version: 9, refused: "say of which grade", grade: null }),
  ];
  expect(countsOf(found).map(({ version, grade, count }) => [version, grade, count])).toEqual([
    [7, "9", 41],
    [7, "10", 0],
  ]);
});

test("only amounts and copies are of one state", () => {
  expect(takesState("price") && takesState("copies")).toBe(true);
  expect(takesState("title") || takesState("day")).toBe(false);
});
