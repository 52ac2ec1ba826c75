import { heightAt, spreadLabels } from "./plot";

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
