import type { Schemas } from "../../shared/api/client";
import { fromPercent } from "../../shared/format";

export interface Charge {
  kind: Schemas["ChargeIn"]["kind"];
  amount: string;
  currency: string;
  purse: string;
}

export interface Thing {
  what: string;
  name: string;
  count: string;
  value: string;
  fixed: string;
  gift: boolean;
}

export interface Draft {
  name: string;
  seller: string;
  bought_on: string;
  received_on: string;
  carrier: string;
  tracking: string;
  due_on: string;
  fun: string;
  method: Schemas["PurchaseIn"]["method"];
  charges: Charge[];
  things: Thing[];
}

export const METHODS: Record<NonNullable<Draft["method"]>, string> = {
  value: "by value",
  equal: "equally",
  count: "by how many there are",
  hand: "by hand",
  residual: "some by hand, the rest by value",
};

export function emptyPurchase(today: string): Draft {
  return {
    name: "",
    seller: "",
    bought_on: today,
    received_on: "",
    carrier: "",
    tracking: "",
    due_on: "",
    fun: "",
    method: "value",
    charges: [{ kind: "price", amount: "", currency: "EUR", purse: "bank" }],
    things: [{ what: "other", name: "", count: "1", value: "", fixed: "", gift: false }],
  };
}

/** What is sent of a form: empty fields are left out, formats become their keys, each cost is of the day of buying. */
export function toRequest(draft: Draft): Schemas["PurchaseIn"] {
  const orNull = (text: string) => text.trim() || null;
  return {
    name: draft.name.trim() || draft.things[0]?.name.trim() || "?",
    seller: orNull(draft.seller),
    bought_on: draft.bought_on,
    received_on: orNull(draft.received_on),
    carrier: orNull(draft.carrier),
    tracking: orNull(draft.tracking),
    due_on: orNull(draft.due_on),
    method: draft.method,
    charges: draft.charges.map((charge) => ({
      kind: charge.kind,
      amount: charge.amount.trim(),
      currency: charge.currency.trim(),
      day: draft.bought_on,
      purse: charge.purse.trim() || "bank",
    })),
    things: draft.things.map((thing) => {
      const [release, format] = thing.what.includes("/") ? thing.what.split("/") : [null, null];
      return {
        kind: format ? "sealed" : (thing.what as "card" | "stack" | "other"),
        name: thing.name.trim() || "?",
        count: Number(thing.count) || 0,
        release: release ?? null,
        format: format ?? null,
        line: null,
        number: null,
        value: orNull(thing.value),
        fixed: orNull(thing.fixed),
        gift: thing.gift,
      };
    }),
    entertainment: draft.fun.trim() === "" ? "0" : (fromPercent(draft.fun)?.toFixed(4) ?? draft.fun),
    note: null,
  };
}
