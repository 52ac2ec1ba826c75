import { expect, test } from "vitest";
import { begins, saleOf, toListings, turned, type Proposal } from "./listings";
import { rowsTaken } from "./salesFile";

const PROPOSED: Proposal = {
  item: 7,
  name: "a card",
  title: "2025 a card",
  words: "",
  must: [],
  asking: [
    { name: "quick", price: "9", net: 7, days: 10 },
    { name: "market", price: "11.5", net: 9, days: 20 },
  ],
  value: "11",
  lowest: "9",
  count: 1,
  photos: [],
  place: null,
  refused: null,
};

test("a proposal begins at the market, else at what it is worth, else empty", () => {
  expect(begins(PROPOSED)).toBe("11.50");
  expect(begins({ asking: [], value: "11" })).toBe("11.00");
  expect(begins({ asking: [], value: null })).toBe("");
});

test("what is written is sent, and what lacks something is said and left out", () => {
  const said = {
    7: { price: "12,50", title: " A title " },
    8: { price: "a lot" },
    9: { out: true },
    10: { auction: true, ends: "soon" },
    11: { auction: true, ends: "3 dec" },
  };
  const all = [7, 8, 9, 10, 11].map((item) => ({ ...PROPOSED, item }));
  const { ready, lacking } = toListings(
    [...all, { ...PROPOSED, item: 12, refused: "it is sold" }],
    said,
    "2026-11-28",
  );
  expect(ready).toMatchObject([
    { items: [7], price: "12.50", title: "A title", kind: "fixed", ends_on: null },
    { items: [11], price: "11.50", title: "2025 a card", kind: "auction", ends_on: "2026-12-03" },
  ]);
  expect(lacking.map((it) => it.item)).toEqual([8, 10]);
});

test("a listing is sold at its price or for an offer", () => {
  expect(saleOf(5, null)).toBe("/selling/-/new?listing=5");
  expect(saleOf(5, 7)).toBe("/selling/-/new?listing=5&offer=7");
});

test("photos go with a listing in an order of one's own", () => {
  expect(turned([1, 2, 3], 3, "first")).toEqual([3, 1, 2]);
  expect(turned([1, 2, 3], 2, "out")).toEqual([1, 3]);
  expect(turned([1, 3], 2, "in")).toEqual([1, 3, 2]);
});

test("rows that are orders come in, others only as sold before the books and if asked", () => {
  const row = (at: number, problem: string | null, more = {}) =>
    ({ row: { at, refused: null, ...more }, problem, is_there: false }) as unknown as Parameters<
      typeof rowsTaken
    >[0][number];
  const rows = [
    row(1, null),
    row(2, "nothing is called so"),
    row(3, "“soon” is no day", { refused: "“soon” is no day" }),
  ];
  expect(rowsTaken(rows, {}, false)).toEqual({ rows: [1], before: [] });
  expect(rowsTaken(rows, {}, true)).toEqual({ rows: [1], before: [2] });
  expect(rowsTaken(rows, { 1: false }, true)).toEqual({ rows: [], before: [2] });
  expect(rowsTaken([{ ...row(4, "there already"), is_there: true }], {}, true)).toEqual({
    rows: [],
    before: [],
  });
});
