import { expect, test } from "vitest";
import { ordered, shares, type Beside } from "./beside";

function row(number: string, value: string | null, graded: Record<string, string> = {}): Beside {
  const card = {
    release: "sky",
    release_title: "Skerrylight",
    line: "fog",
    line_name: "Fog",
    number,
    variant: "",
    subject: number,
    version: Number(number),
    price: value,
  };
  return { card, held: 1, value, day: null, graded, gains: {}, least: null };
}

const ROWS = [row("1", "10"), row("2", null, { "9": "4" }), row("3", "30"), row("4", "0")];

test("what is not known comes last, whichever way the rows are ordered", () => {
  const numbers = (by: string, down: boolean) => ordered(ROWS, by, down).map((it) => it.card.number);
  expect(numbers("value", true)).toEqual(["3", "1", "4", "2"]);
  expect(numbers("value", false)).toEqual(["4", "1", "3", "2"]);
  expect(numbers("grade 9", true)[0]).toBe("2");
});

test("the share of the value goes from none to all, the dearest first", () => {
  expect(shares(ROWS)).toEqual([
    [0, 0],
    [1, 0.75],
    [2, 1],
    [3, 1],
  ]);
  expect(shares([row("1", null)])).toEqual([]); // nothing is known: no picture
});
