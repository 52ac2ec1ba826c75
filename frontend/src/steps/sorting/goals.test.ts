import { sayOf, shownOf, subjectsOf, type Slot } from "./goals";

const slot = (name: string, item: number | null, spare = 0, subject?: string) =>
  ({ name, item, spare, card: subject === undefined ? null : { subject } }) as unknown as Slot;

describe("a goal", () => {
  it("takes names between commas or lines, each once", () => {
    expect(subjectsOf(" Gull Point,\nTern Isle , Gull Point\n\n")).toEqual(["Gull Point", "Tern Isle"]);
    expect(subjectsOf(" , ")).toEqual([]);
  });

  it("shows all, what is missing, or what is there more than once", () => {
    const slots = [slot("1", 11), slot("2", null), slot("3", 13, 2)];
    expect(shownOf(slots, "all")).toEqual(slots);
    expect(shownOf(slots, "missing").map((it) => it.name)).toEqual(["2"]);
    expect(shownOf(slots, "doubles").map((it) => it.name)).toEqual(["3"]);
  });

  it("says a slot to whoever cannot see the grid, without saying a name twice", () => {
    expect(sayOf(slot("FS3", null, 0, "Gull Point"))).toBe("FS3 Gull Point: missing");
    expect(sayOf(slot("Gull Point", 4, 2, "Gull Point"))).toBe("Gull Point: here, 2 double");
    expect(sayOf(slot("a gold one", 4))).toBe("a gold one: here");
  });
});
