import { expect, test } from "vitest";
import { readAmount, readDay, readShare, readWhole } from "./reading";

test.each([
  ["12.5", "12.5"],
  ["12,50", "12.50"],
  ["1 234,50", "1234.50"],
  ["1,234.50", "1234.50"],
  ["1.234,50", "1234.50"],
  ["1,234,567", "1234567"],
  ["\u22125", "-5"],
  ["0,125", "0.125"],
  ["7.", "7.0"],
])("an amount typed as %s is %s", (text, value) => expect(readAmount(text)).toEqual({ value }));

test.each(["", "x", "1.2.3", "12,34,56.7", "1e3", "--4", ","])(
  "“%s” is no amount, and says so in words",
  (text) => expect(readAmount(text)).toHaveProperty("fault"),
);

test("what could mean a thousand or a fraction is asked about", () =>
  expect(readAmount("1,005")).toEqual({ fault: "write 1005 or 1.00: “1,005” could mean either" }));

test("counts and shares are read as people write them", () => {
  expect(readWhole("1,200")).toEqual({ value: 1200 });
  expect(readWhole("1.5")).toHaveProperty("fault");
  expect(readShare("12,5 %")).toEqual({ value: "0.125" });
  expect(readShare("101")).toEqual({ fault: "write a share from 0 to 100 per cent" });
});

test.each([
  ["3 nov", "2026-11-03"],
  ["3 November 2025", "2025-11-03"],
  ["2025-2-9", "2025-02-09"],
  ["3.11.", "2026-11-03"],
  ["today", "2026-11-26"],
  ["yesterday", "2026-11-25"],
])("a day typed as %s is %s", (text, value) => expect(readDay(text, "2026-11-26")).toEqual({ value }));

test.each(["31 feb", "11/3/2026", "soon", "2026-13-01"])("“%s” is no day", (text) =>
  expect(readDay(text, "2026-11-26")).toHaveProperty("fault"),
);
