import { expect, test } from "vitest";
import type { Schemas } from "../../shared/api/client";
import { byRelease, listFormats } from "./shelf";

function format(name: string, price: string | null, loss: number | null, most: number, meets_rule = false) {
  return { id: name, name, price, figures: { loss, meets_rule, most: { sticker: most } } };
}
const RELEASES = [
  {
    id: "a",
    title: "Harbour 2025",
    publisher: "Otter",
    formats: [format("Box", "96", 0.6, 80), format("Tin", null, null, 12)],
  },
  { id: "b", title: "Moths 1998", publisher: "Lamp", formats: [format("Moonbox", "145", 0.3, 150, true)] },
] as unknown as Schemas["ReleaseOut"][];
const names = (asked: { find?: string; show?: string; sort?: string }) =>
  listFormats(RELEASES, { find: "", show: "", sort: "", ...asked }).map((row) => row.format.name);

test("formats are found by several words, filtered and put in order; what is not known comes last", () => {
  expect(names({})).toEqual(["Box", "Tin", "Moonbox"]);
  expect(names({ find: "otter BOX" })).toEqual(["Box"]);
  expect(names({ show: "rule" })).toEqual(["Moonbox"]);
  expect(names({ show: "dear" })).toEqual(["Box"]);
  expect(names({ show: "unpriced" })).toEqual(["Tin"]);
  expect(names({ sort: "loss" })).toEqual(["Moonbox", "Box", "Tin"]);
  expect(names({ sort: "under" })).toEqual(["Moonbox", "Box", "Tin"]); // 5 under, 16 over, nobody knows
  expect(names({ sort: "price" })).toEqual(["Box", "Moonbox", "Tin"]);
  expect(
    byRelease(listFormats(RELEASES, { find: "", show: "", sort: "" })).map(({ rows }) => rows.length),
  ).toEqual([2, 1]);
});
