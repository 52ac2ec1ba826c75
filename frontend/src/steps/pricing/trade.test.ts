import { expect, test } from "vitest";
import { faultOf, laid, shareOf, toTraded, type OnTable } from "./trade";

const card = (more: Partial<OnTable> = {}): OnTable => ({
  version: 7,
  name: "Quern Bank",
  state: "NM",
  count: "1",
  value: "",
  ...more,
});

test("what is typed for a card is sent once nothing is wrong with it; a value that is not said is not sent", () => {
  expect(toTraded([card({ count: "2", value: "12,5" }), card()])).toEqual([
    { version: 7, state: "NM", count: 2, value: "12.5" },
    { version: 7, state: "NM", count: 1 },
  ]);
  expect(toTraded([card(), card({ count: "0" })])).toBeNull();
  expect(faultOf(card({ value: "much" }))).toContain("12.50");
  expect(faultOf(card({ state: " " }))).toBe("say its state");
});

test("a discount in per cent is a share, and never all of it", () => {
  expect([shareOf(""), shareOf("20"), shareOf("12,5"), shareOf("100"), shareOf("dear")]).toEqual([
    "0",
    "0.2",
    "0.125",
    null,
    null,
  ]);
});

test("where lists meet, each card lies on the table in the state that the other says, at what it costs", () => {
  const match = { version: 7, count: 2, state: "NM", worth: "5", planned: null, words: "", same_state: true };
  const laidOut = laid(
    [
      { ...match, their_state: null, asked: null },
      { ...match, their_state: "LP", asked: "3.50" },
    ],
    () => "Quern Bank",
  );
  expect(laidOut).toEqual([card({ count: "2" }), card({ count: "2", state: "LP", value: "3.50" })]);
});
