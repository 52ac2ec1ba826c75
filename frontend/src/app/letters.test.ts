import { expect, test } from "vitest";
import { lettersFor } from "./letters";

test("each act has the first letter that no other has, and one that stands twice has it once", () => {
  expect(lettersFor(["It is here", "It arrived", "Look up", "Look up", "i"])).toEqual([
    "i",
    "t",
    "l",
    null,
    null,
  ]);
});
