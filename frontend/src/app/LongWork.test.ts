import { pathOf } from "./LongWork";

test("long work leads to the page that shows its result, and what is of no known kind to none", () => {
  expect(pathOf({ kind: "set", belongs_to: "release:skerrylight-2025/harbour", number: 1 })).toBe(
    "/products/skerrylight-2025/harbour/set",
  );
  expect(pathOf({ kind: "fetch", belongs_to: "prices:all that is held", number: 7 })).toBe(
    "/pricing/-/fetch?fetch=7",
  );
  expect(pathOf({ kind: "worlds", belongs_to: "release:nocturnes-1998-one/moonbox", number: 1 })).toContain(
    "/sure",
  );
  expect(pathOf({ kind: "other", belongs_to: "release:a/b", number: 1 })).toBeNull();
  expect(pathOf({ kind: "set", belongs_to: "batch:12", number: 1 })).toBeNull();
});
