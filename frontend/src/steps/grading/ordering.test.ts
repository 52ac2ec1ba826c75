import { inOrder } from "./ordering";

describe("rows by a field", () => {
  const rows = [
    { name: "Gull", gain: 3.5, raw: "10.00" },
    { name: "auk", gain: null, raw: "9.00" },
    { name: "Tern", gain: -2, raw: null },
  ];

  it("puts what is not known last, whichever way", () => {
    expect(inOrder(rows, "gain", true).map((row) => row.gain)).toEqual([3.5, -2, null]);
    expect(inOrder(rows, "gain", false).map((row) => row.gain)).toEqual([-2, 3.5, null]);
  });

  it("takes amounts as numbers and names without regard to capitals", () => {
    expect(inOrder(rows, "raw", false).map((row) => row.raw)).toEqual(["9.00", "10.00", null]);
    expect(inOrder(rows, "name", false).map((row) => row.name)).toEqual(["auk", "Gull", "Tern"]);
  });
});
