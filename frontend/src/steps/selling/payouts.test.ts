import { openOf } from "./payouts";

test("what orders have open is summed exactly, with fees that were more than a price", () => {
  expect(openOf([])).toBe("0.00");
  expect(openOf([{ amount: "0.1" }, { amount: "0.20" }, { amount: "11.57" }])).toBe("11.87");
  expect(openOf([{ amount: "-0.4" }, { amount: "0.15" }])).toBe("-0.25");
  expect(openOf([{ amount: "90071992547409.93" }, { amount: "0.005" }])).toBe("90071992547409.935");
});
