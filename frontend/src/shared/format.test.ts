import { age, hits, money, oneIn, percent } from "./format";

const plain = (text: string) => text.replace(/\u00a0/g, " ");

describe("numbers as people read them", () => {
  it("sets amounts with two digits and a real minus, and never shows the unknown as nothing", () => {
    expect(money(-1234.5)).toBe("\u22121,234.50");
    expect(money("0.20")).toBe("0.20");
    expect(money(null)).toBe("unknown");
    expect(money(0)).toBe("0.00");
  });

  it("never rounds a chance to a certainty", () => {
    expect([0, 0.0004, 0.026, 0.826, 0.9996, 1].map(percent).map(plain)).toEqual([
      "0 %",
      "< 0.1 %",
      "2.6 %",
      "83 %",
      "> 99.9 %",
      "100 %",
    ]);
    expect(percent(null)).toBe("unknown");
  });

  it("keeps rare hits visible", () => {
    expect([1110.62, 1.067, 0.007, null].map(hits)).toEqual(["1,110.6", "1.07", "0.007", "unknown"]);
    expect(oneIn(14, "boxes")).toBe("1 in 14 boxes");
    expect(oneIn(0.5, "boxes")).toBe("2 in each");
  });

  it("tells the age of a price", () => {
    expect(age("2026-11-01", new Date("2026-11-24T09:00:00"))).toBe("23 days old");
  });
});
