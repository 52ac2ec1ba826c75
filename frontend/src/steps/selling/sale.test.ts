import { feesAsked, fresh } from "./sale";

describe("what a way of selling is asked for its fees", () => {
  const line = (price: string) => ({ item: 1, name: "a card", worth: "", price });

  it("once every price can be read, with a comma too", () => {
    const sale = { ...fresh("1 Nov"), way: "bellbuoy", lines: [line("12,50"), line("3")], shipping: "1.2" };
    expect(feesAsked(sale)).toEqual({ way: "bellbuoy", prices: ["12.50", "3"], shipping: "1.2" });
  });

  it.each([
    ["no way", { way: "", lines: [line("3")] }],
    ["nothing sold", { way: "fair", lines: [] }],
    ["a price that is not typed yet", { way: "fair", lines: [line("3"), line("")] }],
    ["a price that is none", { way: "fair", lines: [line("three")] }],
    ["shipping that is no amount", { way: "fair", lines: [line("3")], shipping: "-" }],
  ])("not for %s", (_, said) => {
    expect(feesAsked({ ...fresh(""), ...said })).toBeNull();
  });
});
