import { falling, gemOf, likeliest } from "./chances";

describe("chances of grades", () => {
  const chances = { "10": 0.3, "9": 0.5, "9.5": 0.1, "8": 0.1 };

  it("run from the top grade down, however an object orders them", () => {
    expect(falling(chances).map(([grade]) => grade)).toEqual(["10", "9.5", "9", "8"]);
    expect(gemOf(chances)).toBe(0.3);
    expect(likeliest(chances)).toEqual(["9", 0.5]);
    expect(likeliest({})).toBeUndefined();
  });
});
