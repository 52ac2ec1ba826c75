import { expect, test } from "vitest";
import { linesOf, perHour, readSet, withChoices } from "./entering";
import { sayOf, shownOf, subjectsOf, type Slot } from "./goals";
import { bodyOf, hours, moved, type Plan } from "./plans";

const SETS = [{ key: "wrack-1987", title: "Tidewrack 1987", lines: ["Base", "Inserts"] }];

test("a set is known by its title or key, begun by name and year, and otherwise asked about", () => {
  expect(readSet(" tidewrack  1987 ", SETS)).toEqual({ release: "wrack-1987", lines: ["Base", "Inserts"] });
  expect(readSet("wrack-1987", SETS)).toMatchObject({ release: "wrack-1987" });
  expect(readSet("Marram Beacons 1986", SETS)).toMatchObject({
    fresh: { name: "Marram Beacons", year: 1986 },
  });
  expect(readSet("Marram", SETS)).toMatchObject({
    fault: expect.stringContaining("name and year") as string,
  });
  expect(readSet("", SETS)).toMatchObject({ fault: "choose a set first" });
});

test("a paste is a line for each card, and taps add to what is typed", () => {
  expect(linesOf("44\r\n 45\tx3 \n\n46 lp\n")).toEqual(["44", "45 x3", "46 lp"]);
  expect(withChoices(" 44 ", 3, "LP")).toBe("44 x3 LP");
  expect(withChoices("44", 1, "")).toBe("44");
});

test("cards an hour are said once there are enough to say", () => {
  const at = (seconds: number, count = 1) => ({ at: seconds * 1000, count });
  expect(perHour([at(0), at(1), at(2), at(3)])).toBeNull();
  expect(perHour([at(0), at(10), at(20, 3), at(30), at(40)])).toBe(540);
  expect(perHour([at(5), at(5), at(5), at(5), at(5)])).toBeNull();
});

const slot = (name: string, item: number | null, spare = 0): Slot => ({
  name,
  item,
  spare,
  card: null,
  value: null,
  options: 1,
});

test("slots are shown by what is asked, and said in words", () => {
  const slots = [slot("1", 7, 2), slot("2", null), slot("3", 8)];
  expect(shownOf(slots, "missing").map(({ name }) => name)).toEqual(["2"]);
  expect(shownOf(slots, "doubles").map(({ name }) => name)).toEqual(["1"]);
  expect(shownOf(slots, "all")).toHaveLength(3);
  expect(slots.map(sayOf)).toEqual(["1: here, 2 double", "2: missing", "3: here"]);
  expect(subjectsOf("Gull Rock, Reed Horn\nGull Rock,")).toEqual(["Gull Rock", "Reed Horn"]);
});

test("a plan is sent whole, with its passes as they were said", () => {
  expect(hours(0.4)).toBe("24 min");
  expect(hours(6.667)).toBe("6.7 h");
  expect(moved(["a", "b", "c"], 2, -1)).toEqual(["a", "c", "b"]);
  expect(moved(["a", "b"], 0, -1)).toEqual(["a", "b"]);
  const pass = {
    kind: "set",
    name: "By set",
    share: "1",
    said_rate: null,
    said_heaps: 4,
    finds: "90",
    rate: 900,
  };
  const plan = {
    version: 3,
    name: "x",
    cards: 10,
    hourly: "12",
    table: 12,
    box_holds: 800,
    expected: null,
    item: null,
    passes: [pass],
  };
  expect(bodyOf(plan as unknown as Plan, { cards: 20 })).toMatchObject({
    version: 3,
    cards: 20,
    passes: [{ kind: "set", name: "By set", rate: null, heaps: 4, finds: "90" }],
  });
});
