import type { Schemas } from "../../shared/api/client";
import { fromPercent } from "../../shared/format";

export interface Charge {
  kind: Schemas["ChargeIn"]["kind"];
  amount: string;
  currency: string;
  day: string;
  rate: string;
  purse: string;
}

export interface Thing {
  what: string;
  name: string;
  release: string | null;
  line: string | null;
  number: string | null;
  variant: string | null;
  count: string;
  value: string;
  fixed: string;
  weight: string;
  gift: boolean;
  condition: string;
  serial: string;
  place: string;
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
  note: string;
  method: NonNullable<Schemas["PurchaseIn"]["method"]>;
  charges: Charge[];
  things: Thing[];
}

export const CHARGES = ["price", "premium", "shipping", "tax", "duty", "other"] as const;

export const METHODS: Record<Draft["method"], string> = {
  value: "by value",
  equal: "equally",
  count: "by how many there are, with weights",
  hand: "by hand",
  residual: "some by hand, the rest by value",
};

export const EMPTY_THING: Thing = {
  what: "other",
  name: "",
  release: null,
  line: null,
  number: null,
  variant: null,
  count: "1",
  value: "",
  fixed: "",
  weight: "",
  gift: false,
  condition: "",
  serial: "",
  place: "",
};

export function emptyCharge(kind: Charge["kind"], currency: string, purse = "bank"): Charge {
  return { kind, amount: "", currency, day: "", rate: "", purse };
}

export function emptyPurchase(today: string, currency: string): Draft {
  return {
    name: "",
    seller: "",
    bought_on: today,
    received_on: "",
    carrier: "",
    tracking: "",
    due_on: "",
    fun: "",
    note: "",
    method: "value",
    charges: [emptyCharge("price", currency)],
    things: [EMPTY_THING],
  };
}

/** Which fields of a thing decide how the cost is divided. */
export function asksFor(method: Draft["method"]) {
  return {
    fixed: method === "hand" || method === "residual",
    weight: method === "count",
  };
}

function orNull(text: string): string | null {
  return text.trim() || null;
}

/** What is sent of a form: empty fields are left out, and a cost without a day of its own is of the day of buying. */
export function toRequest(draft: Draft): Schemas["PurchaseIn"] {
  const asked = asksFor(draft.method);
  return {
    name: draft.name.trim() || (draft.things[0]?.name.trim() ?? ""),
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
      day: charge.day || draft.bought_on,
      rate: orNull(charge.rate),
      purse: charge.purse.trim(),
    })),
    things: draft.things.map((thing) => {
      const [release, format] = thing.what.includes("/") ? thing.what.split("/") : [null, null];
      return {
        kind: format ? "sealed" : (thing.what as "card" | "stack" | "other"),
        name: thing.name.trim(),
        count: Number(thing.count),
        release: release ?? thing.release,
        format: format ?? null,
        line: thing.line,
        number: thing.number,
        variant: thing.variant,
        value: orNull(thing.value),
        fixed: asked.fixed ? orNull(thing.fixed) : null,
        weight: (asked.weight && orNull(thing.weight)) || "1",
        gift: thing.gift,
        condition: orNull(thing.condition) as Schemas["ThingIn"]["condition"],
        serial: orNull(thing.serial),
        place: orNull(thing.place),
      };
    }),
    entertainment: draft.fun.trim() === "" ? "0" : (fromPercent(draft.fun)?.toFixed(4) ?? draft.fun),
    note: orNull(draft.note),
  };
}
