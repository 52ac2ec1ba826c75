import { apart, readOff, stepAlong, tableOf, type PlotLine, heightAt, spreadLabels } from "./plot";

describe("a plot's lines", () => {
  it("are read between their points, and say nothing outside them", () => {
    const points = [
      [0, 0],
      [10, 1],
      [20, 0.5],
    ] as const;
    expect([0, 5, 15, 20].map((x) => heightAt(points, x))).toEqual([0, 0.5, 0.75, 0.5]);
    expect([heightAt(points, -1), heightAt(points, 21)]).toEqual([null, null]);
  });

  it("have labels that stand apart and inside the picture", () => {
    expect(spreadLabels([50, 52, 20], 14, 0, 100)).toEqual([50, 64, 20]);
    expect(spreadLabels([98, 99], 14, 0, 100)).toEqual([86, 100]);
  });
});

test("a curve is read off by keys, in words and as a table of some of its points", () => {
  const line: PlotLine = {
    name: "tried",
    points: [
      [0, 1],
      [100, 0],
    ],
    tone: "ink",
  };
  expect(readOff([line], 25, String, (share) => `${share * 100} %`)).toBe("25: tried 75 %");
  expect(tableOf([line, { ...line, name: "sheet", points: [[0, 1]] }], String, String)).toEqual([
    ["0", "1", "1"],
    ["100", "0", ""],
  ]);
  expect(stepAlong("ArrowRight", null, [0, 400])).toBe(10);
  expect(stepAlong("PageDown", 50, [0, 400])).toBe(0);
  expect(stepAlong("End", 50, [0, 400])).toBe(400);
  expect(stepAlong("Escape", 50, [0, 400])).toBeNull();
  expect(stepAlong("Escape", null, [0, 400])).toBeUndefined(); // it closes what lies over the page
  expect(stepAlong("x", 50, [0, 400])).toBeUndefined();
});

test("an axis of few boxes counts them once", () => {
  expect(apart([0, 0.5, 1, 1.5, 2], (value) => value.toFixed(0))).toEqual([0, 1, 2]);
  expect(apart([0, 20, 40], String)).toEqual([0, 20, 40]);
});
