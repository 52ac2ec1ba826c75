import { back, keyOf } from "./identifying";

test("every answer has a key of its own as far as there are keys, and none is that of “I cannot tell”", () => {
  const keys = Array.from({ length: 25 }, (_, at) => keyOf(at));
  const known = keys.filter((key) => key !== null);
  expect(new Set(known).size).toBe(known.length);
  expect(known).not.toContain(keyOf(-1));
  expect(keys.at(-1)).toBeNull();
});

test("the last answer is taken back, and what was said before stays", () => {
  const said = [
    ["run", "160"],
    ["variant", "?"],
  ] as const;
  expect(back(said)).toEqual([["run", "160"]]);
  expect(back([])).toEqual([]);
});
