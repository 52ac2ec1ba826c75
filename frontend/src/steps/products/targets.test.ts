import { parseTargets, writeTargets } from "./targets";

it("reads targets from an address and writes the same", () => {
  const text = "hand; fog:FS1, FS2";
  expect(parseTargets(text)).toEqual([
    { line: "hand", numbers: "" },
    { line: "fog", numbers: "FS1, FS2" },
  ]);
  expect(writeTargets(parseTargets(text))).toBe(text);
  expect(parseTargets(" ; ")).toEqual([]);
});
