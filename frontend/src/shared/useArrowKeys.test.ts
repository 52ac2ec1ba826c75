import { neighbour } from "./useArrowKeys";

describe("arrows in a table", () => {
  const rows = [["a", "b", "c"], ["d"], ["e", "f", "g"]];
  it("moves by one, keeps to rows that are shorter, and stops at the border", () => {
    expect(neighbour(rows, "a", "ArrowRight")).toBe("b");
    expect(neighbour(rows, "c", "ArrowDown")).toBe("d");
    expect(neighbour(rows, "d", "ArrowDown")).toBe("e");
    expect(neighbour(rows, "a", "ArrowUp")).toBeNull();
    expect(neighbour(rows, "g", "ArrowRight")).toBeNull();
  });
});
