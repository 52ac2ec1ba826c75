import { rowsTaken } from "./salesFile";

type Row = Parameters<typeof rowsTaken>[0][number];

const row = (at: number, problem: string | null = null, more: Partial<Row> & { refused?: string } = {}) =>
  ({
    row: { at, refused: more.refused ?? null },
    problem,
    is_there: more.is_there ?? false,
  }) as unknown as Row;

describe("which rows of a file of sales come in", () => {
  const rows = [
    row(1),
    row(2, "nothing that is here is called so"),
    row(3, null, { is_there: true }),
    row(4, null, { refused: "write a day like 3 Nov 2026" }),
    row(5),
  ];

  it("takes what was found, and never twice, nor what could not be read", () => {
    expect(rowsTaken(rows, {}, false)).toEqual({ rows: [1, 5], before: [] });
  });

  it("takes what is not here as sold before the books where its owner says so", () => {
    expect(rowsTaken(rows, {}, true)).toEqual({ rows: [1, 5], before: [2] });
  });

  it("leaves out what its owner turned, and turned back again takes it", () => {
    expect(rowsTaken(rows, { 1: false, 2: false, 5: true }, true)).toEqual({ rows: [5], before: [] });
  });
});
