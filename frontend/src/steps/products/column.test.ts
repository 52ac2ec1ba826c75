import { expect, test } from "vitest";
import { readColumn } from "./column";

test("a column out of a table is read row by row; what cannot be is said with its row", () => {
  expect(readColumn("1\t3,50\r\n2;\n\nUT8 4\n  9   12.00 ")).toEqual([
    { row: 1, number: "1", price: "3.50" },
    { row: 2, number: "2", price: "" },
    { row: 4, number: "UT8", price: "4" },
    { row: 5, number: "9", price: "12.00" },
  ]);
  expect(readColumn("3\tlots\n\t5").map(({ row, fault }) => [row, fault])).toEqual([
    [1, "write an amount like 12.50"],
    [2, "it names no card"],
  ]);
});
