import { isAlive, stoppedOf } from "./longWork";

test("only what waits or runs is alive", () => {
  expect((["waiting", "running", "done", "cancelled", "failed"] as const).filter((state) => isAlive({ state }))).toEqual([
    "waiting",
    "running",
  ]); // prettier-ignore
  expect(isAlive(null)).toBe(false);
});

test("work that is stopped says what stays of it: of a computation nothing, of what was done step by step its steps", () => {
  expect(stoppedOf("boxes")).toBe("Stopped. Nothing was kept of it.");
  expect(stoppedOf("markets")).toContain("did or said until then was kept");
});
