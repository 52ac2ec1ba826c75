import { bars, labelSide, niceStep, snap } from "./bars";

describe("the histogram", () => {
  it("gives every chance a bar, and the last one what lies beyond", () => {
    const all = bars({ edges: [0, 10, 20], chances: [0.2, 0.5, 0.3] });
    expect(all.map((bar) => [bar.from, bar.to, bar.open])).toEqual([
      [0, 10, false],
      [10, 20, false],
      [20, 30, true],
    ]);
    expect(all.reduce((sum, bar) => sum + bar.chance, 0)).toBeCloseTo(1);
  });

  it("moves the price in round steps, in whole cents", () => {
    expect([280, 30, 4, 1200].map(niceStep)).toEqual([5, 0.5, 0.05, 20]);
    expect(snap(96.13, 1.25)).toBe(96.25);
    expect(snap(0.333, 0.01)).toBe(0.33);
  });

  it("puts a label where no other line crosses it", () => {
    expect(labelSide(200, 90, 740, [150], "left")).toBe("right");
    expect(labelSide(200, 90, 740, [260], "right")).toBe("left");
    expect(labelSide(40, 90, 740, [], "left")).toBe("right");
    expect(labelSide(200, 90, 740, [], "left")).toBe("left");
  });
});
