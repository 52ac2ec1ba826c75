import { expect, it } from "vitest";
import { carried } from "./carried";

it("adds up the dearest cards first", () => {
  expect(carried([1, 6, 3])).toEqual([
    [0, 0],
    [1, 0.6],
    [2, 0.9],
    [3, 1],
  ]);
});
