import { expect, test } from "vitest";
import { openOf } from "./payouts";

test("what orders have open is summed to the cent", () => {
  expect(openOf([])).toBe("0.00");
  expect(openOf([{ amount: "0.10" }, { amount: "0.20" }, { amount: "11.570" }])).toBe("11.87");
});
