import { describe, expect, it } from "vitest";
import { asksFor, EMPTY_THING, emptyPurchase, toRequest } from "./draft";

describe("what is sent of a purchase", () => {
  const draft = {
    ...emptyPurchase("2026-11-25", "EUR"),
    fun: "30",
    charges: [
      { kind: "price" as const, amount: " 12.50", currency: "EUR", day: "", rate: "", purse: "bank" },
      { kind: "duty" as const, amount: "3", currency: "GBP", day: "2026-11-28", rate: "1.2", purse: "card" },
    ],
    things: [
      { ...EMPTY_THING, what: "harbour-2025/box", name: "Box", fixed: "5", weight: "3" },
      { ...EMPTY_THING, what: "card", name: "A card", release: "r", line: "l", number: "7", count: "x" },
    ],
  };

  it("keeps the day and rate of each cost, and the version of a card", () => {
    const sent = toRequest(draft);
    expect(sent.charges.map((charge) => [charge.day, charge.rate])).toEqual([
      ["2026-11-25", null],
      ["2026-11-28", "1.2"],
    ]);
    expect(sent.things[0]).toMatchObject({
      kind: "sealed",
      release: "harbour-2025",
      format: "box",
      value: null,
    });
    expect(sent.things[1]).toMatchObject({ kind: "card", release: "r", line: "l", number: "7" });
    expect(sent.entertainment).toBe("0.3000");
    expect(sent.name).toBe("Box");
  });

  it("sends what is mistyped as it is, to be refused, and parts by hand and weights only where they count", () => {
    expect(Number.isNaN(toRequest(draft).things[1]?.count)).toBe(true);
    expect(toRequest({ ...draft, fun: "much" }).entertainment).toBe("much");
    expect(toRequest(draft).things[0]).toMatchObject({ fixed: null, weight: "1" });
    expect(toRequest({ ...draft, method: "residual" }).things[0]).toMatchObject({ fixed: "5" });
    expect(toRequest({ ...draft, method: "count" }).things[0]).toMatchObject({ weight: "3" });
    expect(asksFor("hand")).toEqual({ fixed: true, weight: false });
  });
});
