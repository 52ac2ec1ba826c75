import { describe, expect, it } from "vitest";
import {
  asksFor,
  EMPTY_THING,
  emptyPurchase,
  fromLine,
  purchaseShape,
  worthOfAll,
  type Draft,
} from "./draft";

const shape = purchaseShape("2026-11-26", "EUR");
const sent = (draft: Draft) => shape.parse(draft);
const wrong = (draft: Draft) =>
  Object.fromEntries(
    (shape.safeParse(draft).error?.issues ?? []).map((it) => [it.path.join("."), it.message]),
  );

describe("the worth of all that a row is of", () => {
  it("is that of one so many times, in the digits of its price", () => {
    expect(worthOfAll("96.00", "2")).toBe("192.00");
    expect(worthOfAll("1200", "3")).toBe("3600");
    expect([worthOfAll(null, "2"), worthOfAll("96.00", "two")]).toEqual(["", ""]);
  });
});

describe("what is sent of a purchase", () => {
  const draft: Draft = {
    ...emptyPurchase("2026-11-25", "EUR"),
    fun: "30",
    charges: [
      { kind: "price", amount: " 12,50", currency: "EUR", day: "", rate: "x", purse: "bank" },
      { kind: "duty", amount: "3", currency: "GBP", day: "28 nov", rate: "1.2", purse: "card" },
    ],
    things: [
      { ...EMPTY_THING, what: "harbour-2025/box", name: "Box", fixed: "5", weight: "3" },
      { ...EMPTY_THING, what: "card", name: "A card", release: "r", line: "l", number: "7", count: "x" },
    ],
  };

  it("reads each field as people write it, and leaves out what is not shown", () => {
    const body = sent(draft);
    expect(body.charges).toMatchObject([
      { amount: "12.50", day: "2026-11-25", rate: null }, // the rate of the home currency is folded away
      { amount: "3", day: "2026-11-28", rate: "1.2" },
    ]);
    expect(body.things[0]).toMatchObject({
      kind: "sealed",
      release: "harbour-2025",
      format: "box",
      value: null,
    });
    expect(body.things[1]).toMatchObject({ kind: "card", release: "r", line: "l", number: "7", count: 1 });
    expect(body.entertainment).toBe("0.3");
    expect(body.name).toBe("Box");
  });

  it("says what is mistyped at its field, in words, and parts by hand and weights only where they count", () => {
    const typed = {
      ...draft,
      fun: "much",
      things: [{ ...EMPTY_THING, name: "Stars", count: "some", fixed: "x" }],
    };
    expect(wrong(typed)).toEqual({ fun: "write a share from 0 to 100 per cent" });
    expect(wrong({ ...typed, fun: "" })).toEqual({ "things.0.count": "write a whole number" });
    expect(wrong({ ...typed, fun: "", method: "hand" })).toMatchObject({
      "things.0.fixed": "write an amount like 12.50",
    });
    expect(sent({ ...draft, method: "residual" }).things[0]).toMatchObject({ fixed: "5" });
    expect(sent({ ...draft, method: "count" }).things[0]).toMatchObject({ fixed: null, weight: "3" });
    expect(asksFor("hand")).toEqual({ fixed: true, weight: false });
  });

  it("takes from a line what it says and nothing else", () => {
    const spoken = {
      count: 2,
      things: [
        {
          kind: "sealed",
          name: "Box",
          release: "r",
          format: "f",
          line: null,
          number: null,
          variant: null,
          value: "192",
        },
      ],
      costs: [{ kind: "price", amount: "176", currency: null }],
      seller: "",
      knows_seller: false,
      bought_on: null,
      is_here: false,
    };
    expect(fromLine(spoken, "EUR")).toEqual({
      things: [{ ...EMPTY_THING, what: "r/f", name: "Box", count: "2", value: "192" }],
      charges: [{ kind: "price", amount: "176", currency: "EUR", day: "", rate: "", purse: "bank" }],
    });
  });
});
