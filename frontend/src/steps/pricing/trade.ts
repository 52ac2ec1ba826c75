import type { Schemas } from "../../shared/api/client";

/** A card on the table, as it is typed. */
export interface OnTable {
  version: number;
  name: string;
  state: string;
  count: string;
  /** What one is agreed to be worth; empty: what is known. */
  value: string;
}

export const EMPTY_TRADE = { give: [] as OnTable[], get: [] as OnTable[], discount: "" };

export type Match = Schemas["MatchOut"];

/** Where two lists meet, laid on the table: what one says it costs is what it counts. */
export function laid(matches: readonly Match[], nameOf: (version: number) => string): OnTable[] {
  return matches.map(({ version, state, their_state, count, asked }) => ({
    version,
    name: nameOf(version),
    state: their_state ?? state,
    count: String(count),
    value: asked ?? "",
  }));
}

export type Side = "give" | "get";

const WHOLE = /^[1-9]\d{0,3}$/;
const AMOUNT = /^\d{1,8}([.,]\d{1,3})?$/;

/** What is wrong with what was typed for a card; null if nothing is. */
export function faultOf({ count, value, state }: OnTable): string | null {
  if (!WHOLE.test(count.trim())) return "write a whole number from 1 on";
  if (value.trim() && !AMOUNT.test(value.trim())) return "write an amount, like 12.50";
  return state.trim() ? null : "say its state";
}

/** The cards as they are sent; null while something of them cannot be. */
export function toTraded(side: readonly OnTable[]): Schemas["TradedIn"][] | null {
  if (side.some((card) => faultOf(card) !== null)) return null;
  return side.map(({ version, state, count, value }) => ({
    version,
    state: state.trim(),
    count: Number(count),
    ...(value.trim() && { value: value.trim().replace(",", ".") }),
  }));
}

/** A discount in per cent as a share; null if it is none. */
export function shareOf(percent: string): string | null {
  const text = percent.trim().replace(",", ".");
  if (text === "") return "0";
  const number = Number(text);
  return /^\d{1,2}(\.\d{1,3})?$/.test(text) && number < 100
    ? String(Number((number / 100).toFixed(6)))
    : null;
}
