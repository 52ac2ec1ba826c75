import { choose, doubtOf, takenOf, toRows, type Result } from "./pages";

function result(row: number, more: Partial<Result> = {}): Result {
  return {
    row,
    title: `card ${row}`,
    version: row,
    choices: [row],
    kind: "sold",
    day: "2026-11-03",
    price: "12.50",
    shipping: null,
    currency: "EUR",
    state: "NM",
    bids: null,
    market: null,
    tax: null,
    own_id: null,
    subgrades: null,
    photo: null,
    lot: 1,
    doubt: null,
    refused: null,
    known: false,
    ready: true,
    unexplained: [],
    ...more,
  };
}

const ALL = [
  result(1),
  result(2, { doubt: "the release is not said", ready: false, choices: [2, 9] }),
  result(3, { version: null, refused: "no card is named in it", ready: false }),
  result(4, { price: null, kind: null, refused: "it is still running", ready: false }),
  result(5, { known: true, ready: false }),
];

test("what is ready is kept, and what the owner says of a doubtful one", () => {
  expect([...takenOf(ALL, {})]).toEqual([1]);
  const said = { 2: { taken: true, version: 9, state: "LP" } };
  expect(toRows(ALL, said).map(({ version, state }) => [version, state])).toEqual([
    [1, "NM"],
    [9, "LP"],
  ]);
});

test("a refused one is kept once its card is said, one without a price never, a known one if asked", () => {
  const said = { 3: { taken: true, version: 7 }, 4: { taken: true, version: 7 }, 5: { taken: true } };
  expect(toRows(ALL, said).map(({ version }) => version)).toEqual([1, 7, 5]);
});

test("choosing all and none again leaves what cannot be kept out", () => {
  const all = choose(ALL, {}, new Set([1, 2, 3, 4, 5]));
  expect([...takenOf(ALL, all)]).toEqual([1, 2, 5]);
  expect([...takenOf(ALL, choose(ALL, all, new Set()))]).toEqual([]);
});

test("what is said of a result is one sentence for each matter", () => {
  expect(doubtOf(result(1, { known: true, doubt: "it may be another card" }), {})).toBe(
    "There already. It may be another card.",
  );
  const refused = result(2, { refused: "it is still running" });
  expect(doubtOf(refused, {})).toBe("Not taken: it is still running.");
  expect(doubtOf(refused, { 2: { version: 3 } })).toBe(""); // the owner said which card it is
  expect(doubtOf(result(1), {})).toBe("");
});
