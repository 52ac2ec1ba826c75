import type { Schemas } from "../../shared/api/client";

export type SaleColumn = Schemas["SalesFileOut"]["columns"][number];

/** What a column of sales may mean, in words. */
export const MEANINGS: Readonly<Record<SaleColumn, string>> = {
  "": "nothing",
  listing: "listing’s number",
  order: "order’s number",
  title: "what was sold",
  day: "day",
  price: "price",
  shipping: "shipping paid",
  fees: "fees",
  buyer: "buyer",
  address: "address",
  cost: "what it had cost",
};

/** Which rows come in as orders, and which as results of before the books, unless their owner turned them. */
export function rowsTaken(
  rows: readonly Pick<Schemas["ReadSaleOut"], "row" | "problem" | "is_there">[],
  turned: Readonly<Record<number, boolean>>,
  before: boolean,
): { rows: number[]; before: number[] } {
  const open = rows.filter(
    ({ row, is_there }) => row.refused === null && !is_there && turned[row.at] !== false,
  );
  return {
    rows: open.filter(({ problem }) => problem === null).map(({ row }) => row.at),
    before: before ? open.filter(({ problem }) => problem !== null).map(({ row }) => row.at) : [],
  };
}
