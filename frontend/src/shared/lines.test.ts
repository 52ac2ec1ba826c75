import {
  acrossBy,
  begun,
  fromLine,
  kept,
  shifted,
  toBody,
  toLines,
  turned,
  zoomed,
  type Segment,
} from "./lines";

const TOP: Segment = [
  [0, 10],
  [100, 10],
];
const WHOLE = { x: 0, y: 0, width: 100, height: 200 };

describe("lines on a picture", () => {
  it("move across themselves, inwards where they run clockwise", () => {
    expect(shifted(TOP, 0.1)[0][1]).toBeCloseTo(10.1);
    const { edges, frame } = begun(100, 200);
    expect(edges.map((line) => fromLine(line, [50, 100]).far > 0)).toEqual([true, true, true, true]);
    expect(shifted(edges[1]!, 5)[0][0]).toBeCloseTo(frame[1]![0][0]);
  });

  it("turn about the end that stays", () => {
    expect(turned(TOP, 1, 2)).toEqual([
      [0, 10],
      [100, 12],
    ]);
  });

  it("follow the arrows that point across them", () => {
    expect(["ArrowDown", "ArrowUp", "ArrowLeft", "a"].map((key) => acrossBy(key, TOP))).toEqual([
      1, -1, 0, 0,
    ]);
    const left: Segment = [
      [10, 90],
      [10, 0],
    ];
    expect(["ArrowRight", "ArrowLeft"].map((key) => acrossBy(key, left))).toEqual([1, -1]);
  });

  it("are seen closer about a point that stays under the finger, and never beyond the picture", () => {
    const near = zoomed(WHOLE, WHOLE, 4, [20, 40]);
    expect((20 - near.x) / near.width).toBeCloseTo(0.2);
    expect(zoomed(near, WHOLE, 0.01, [20, 40])).toEqual(WHOLE);
    expect(kept({ ...near, x: 90 }, WHOLE).x).toBe(75);
  });

  it("come as they were sent", () => {
    const lines = begun(300, 400);
    expect(toLines(toBody(lines))).toEqual(lines);
  });
});
