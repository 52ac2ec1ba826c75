import { pathOf } from "./LongWork";

test("long work leads to the page that shows its result, and what is of no known kind to none", () => {
  expect(pathOf({ kind: "set", belongs_to: "release:skerrylight-2025/harbour" })).toBe(
    "/products/skerrylight-2025/harbour/set",
  );
  expect(pathOf({ kind: "worlds", belongs_to: "release:nocturnes-1998-one/moonbox" })).toContain("/sure");
  expect(pathOf({ kind: "other", belongs_to: "release:a/b" })).toBeNull();
  expect(pathOf({ kind: "set", belongs_to: "batch:12" })).toBeNull();
});
