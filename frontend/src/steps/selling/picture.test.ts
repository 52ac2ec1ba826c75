import { draw } from "./picture";
import type { Packing } from "./queries";

const way = (size: string[]) => ({ size }) as Packing["ways"][number];

describe("the picture of a parcel", () => {
  it("lies to its own scale, each part in the middle of what holds it", () => {
    const drawn = draw(way(["162", "114", "2.6"]), ["76", "101", "1.6"], 324);
    expect(drawn.outer).toEqual({ x: 0, y: 0, width: 324, height: 228 });
    expect(drawn.holder).toEqual({ x: 61, y: 38, width: 202, height: 152 });
    expect(drawn.card.width).toBeLessThan(drawn.holder!.width);
    expect(drawn.card.x + drawn.card.width / 2).toBeCloseTo(162);
  });

  it("never draws a part over the edge of what holds it", () => {
    const drawn = draw(way(["90", "60", "5"]), ["200", "300", "5"], 180);
    expect(drawn.holder).toEqual({ x: 4, y: 4, width: 172, height: 112 });
    expect(draw(way(["90", "60", "5"]), null).holder).toBeNull();
  });
});
