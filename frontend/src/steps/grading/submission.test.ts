import { NOTHING, toGrades, type SentCard } from "./submission";

const card = (item: number) => ({ item, line: item, name: `card ${item}` }) as SentCard;

describe("what came back, as it is typed", () => {
  const cards = [card(1), card(2), card(3)];

  it("is sent for the cards of which something is said, with subgrades by their names", () => {
    const typed = { 1: { ...NOTHING, grade: " 9.5 ", certificate: "77", subgrades: "9.5/9.5/9/10" } };
    const [only, ...others] = toGrades(cards, typed, ["centering", "corners", "edges", "surface"]);
    expect(others).toEqual([]);
    expect(only).toMatchObject({ item: 1, grade: "9.5", certificate: "77", lost: false });
    expect(only!.subgrades).toEqual({ centering: "9.5", corners: "9.5", edges: "9", surface: "10" });
  });

  it("may be words instead of a grade, and lost is lost", () => {
    const typed = { 2: { ...NOTHING, words: "trimmed" }, 3: { ...NOTHING, words: "Lost" } };
    expect(toGrades(cards, typed, []).map((it) => [it.item, it.grade, it.lost])).toEqual([
      [2, null, false],
      [3, null, true],
    ]);
  });
});
