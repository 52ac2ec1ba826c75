import { parseBrackets, toId, writeBrackets } from "./ways";

describe("commission in brackets", () => {
  it("is read and written as people say it", () => {
    const text = "12 % to 1000, then 3 %";
    const brackets = parseBrackets(text);
    expect(brackets).toEqual([
      { up_to: "1000", share: "0.12" },
      { up_to: null, share: "0.03" },
    ]);
    expect(writeBrackets(brackets ?? [])).toBe(text);
    expect(parseBrackets("0 %")).toEqual([{ up_to: null, share: "0" }]);
  });

  it("refuses what leaves a part open", () => {
    for (const text of ["", "12", "12 % to 1000", "12 %, then 3 %", "120 %"]) {
      expect(parseBrackets(text)).toBeNull();
    }
  });
});

it("makes an id of a name", () => {
  expect([toId("Quay Fair"), toId("  ")]).toEqual(["quay-fair", "way"]);
});
