import { askedBy, lineOf } from "./confirming";
import type { Order } from "./queries";
import { nextWay } from "./Ways";

const line = (item: number, number: string | null) => ({ item, number }) as Order["lines"][number];

describe("what goes into a parcel is confirmed by a number", () => {
  const lines = [line(41, "NP7"), line(42, "12"), line(43, "12"), line(12, null)];

  it("its own, or its card's", () => {
    expect(lineOf("41", lines)?.item).toBe(41);
    expect(lineOf(" np7 ", lines)?.item).toBe(41);
    expect(lineOf("12", lines)?.item).toBe(12); // its own number goes before a card's
    expect(lineOf("99", lines)).toBeUndefined();
  });

  it("is asked for by the number that tells it from the others", () => {
    expect(lines.map((it) => askedBy(it, lines))).toEqual(["NP7", "42", "43", "12"]);
  });

  it("never guesses between two copies", () => {
    expect(lineOf("12", lines.slice(0, 3))).toBeUndefined();
    expect(lineOf("43", lines)?.item).toBe(43);
  });
});

test("ways go round", () => {
  expect(nextWay(["a", "b", "c"], "a")).toBe("b");
  expect(nextWay(["a", "b", "c"], "c")).toBe("a");
  expect(nextWay(["a"], "a")).toBeNull();
});
