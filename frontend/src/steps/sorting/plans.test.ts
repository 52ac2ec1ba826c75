import { bodyOf, hours, moved, saidOf, type Pass, type Plan } from "./plans";

const pass = (name: string) =>
  ({
    kind: "set",
    name,
    share: "0.5",
    said_rate: null,
    rate: 900,
    said_heaps: 6,
    heaps: 6,
    rounds: 1,
    finds: "12",
    hours: 2,
  }) as unknown as Pass;

describe("a plan of sorting as it is sent", () => {
  it("says hours as they are read, minutes under one", () => {
    expect([0.004, 0.5, 0.99, 0.995, 2, 2.25].map(hours)).toEqual([
      "0 min",
      "30 min",
      "59 min",
      "1 h",
      "2 h",
      "2.3 h",
    ]);
  });

  it("keeps what was said of a pass apart from what was worked out", () => {
    expect(saidOf([pass("By set")])).toEqual([
      { kind: "set", name: "By set", share: "0.5", rate: null, heaps: 6, finds: "12" },
    ]);
  });

  it("moves a pass, and leaves the ends where they are", () => {
    const all = ["a", "b", "c"];
    expect(moved(all, 2, -1)).toEqual(["a", "c", "b"]);
    expect(moved(all, 0, 2)).toEqual(["b", "c", "a"]);
    expect(moved(all, 0, -1)).toEqual(all);
    expect(moved(all, 2, 1)).toEqual(all);
    expect(all).toEqual(["a", "b", "c"]);
  });

  it("is sent whole, with its version and the one change", () => {
    const plan = {
      version: 4, name: "Shoeboxes", cards: 12_000, hourly: "15", table: 40, box_holds: 800, expected: null,
      item: 7, passes: [pass("By set")], running: 1, currency: "EUR",
    } as unknown as Plan; // prettier-ignore
    expect(bodyOf(plan, { hourly: "20" })).toEqual({
      version: 4, name: "Shoeboxes", cards: 12_000, hourly: "20", table: 40, box_holds: 800, expected: null,
      item: 7, passes: saidOf(plan.passes),
    }); // prettier-ignore
  });
});
