import { inSizes, readSizes } from "./sizes";

describe("sizes as people type them", () => {
  it.each([
    ["70 x 95 x 1", ["70", "95", "1"]],
    ["70×95×1,6", ["70", "95", "1.6"]],
    ["70 95 1", ["70", "95", "1"]],
    ["162 X 114", ["162", "114", null]],
    ["  ", null],
  ])("%s", (text, value) => {
    expect(readSizes(text)).toEqual({ value });
  });

  it.each(["70", "70 x", "a x b x c", "1 x 2 x 3 x 4", "70 x -1 x 2"])("%s is refused", (text) => {
    expect(readSizes(text)).toEqual({ fault: "write it like 70 x 95 x 1" });
  });

  it("are shown without needless figures", () => {
    expect(inSizes(["162.00", "114", null])).toBe("162 x 114 x content");
  });
});
