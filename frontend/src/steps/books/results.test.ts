import { expect, test } from "vitest";
import { nameOf } from "./results";

test("months are written as people write them, and what has no name is called something", () => {
  expect(nameOf("month", "2026-11")).toBe("November 2026");
  expect(nameOf("lot", "")).toBe("of no lot");
  expect(nameOf("lot", "two boxes")).toBe("two boxes");
});
