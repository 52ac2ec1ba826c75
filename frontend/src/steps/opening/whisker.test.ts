import { expect, it } from "vitest";
import { besideStated } from "./whisker";

it("puts the stated rate in the middle, half and double as far from it, and keeps what is further at the ends", () => {
  expect(besideStated(0.1, 0.1)).toBeCloseTo(0.5);
  expect(0.5 - besideStated(0.05, 0.1)).toBeCloseTo(besideStated(0.2, 0.1) - 0.5);
  expect(besideStated(0.8, 0.1)).toBeCloseTo(1);
  expect([besideStated(0, 0.1), besideStated(9, 0.1)]).toEqual([0, 1]);
});
