import { expect, test } from "vitest";
import { nextDot, type Dot } from "./dots";

const dot = (key: string, at: number): Dot => ({
  key,
  at,
  value: 1,
  shape: "disc",
  tone: "ink",
  hollow: false,
  text: key,
});

test("the arrows go from dot to dot in the order of time, whatever order they came in", () => {
  const dots = [dot("late", 30), dot("early", 10), dot("middle", 20), dot("twin", 20)];
  const path: (number | null | undefined)[] = [null];
  for (const key of [
    "ArrowRight",
    "ArrowRight",
    "ArrowRight",
    "ArrowRight",
    "ArrowRight",
    "ArrowLeft",
    "Home",
  ])
    path.push(nextDot(key, dots, path.at(-1) ?? null));
  expect(path).toEqual([null, 1, 2, 3, 0, 0, 3, 1]);
  expect(nextDot("ArrowLeft", dots, null)).toBe(0); // from the newest back
  expect(nextDot("Escape", dots, 2)).toBeNull();
  expect(nextDot("Escape", dots, null)).toBeUndefined(); // what is not read off is not ended
  expect(nextDot("x", dots, 2)).toBeUndefined();
});
