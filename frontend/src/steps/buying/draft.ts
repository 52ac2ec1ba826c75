import * as z from "zod/mini";
import type { Schemas } from "../../shared/api/client";
import { readAmount, readWhole, type Read } from "../../shared/forms/reading";
import { amount, day, maybeAmount, maybeDay, maybeShare, maybeWords, words } from "../../shared/forms/shapes";

export const CHARGES = ["price", "premium", "shipping", "tax", "duty", "other"] as const;

export const METHODS: Record<Method, string> = {
  value: "by value",
  equal: "equally",
  count: "by how many there are, with weights",
  hand: "by hand",
  residual: "some by hand, the rest by value",
};

type Method = NonNullable<Schemas["PurchaseIn"]["method"]>;

export interface Charge {
  kind: string;
  amount: string;
  currency: string;
  day: string;
  rate: string;
  purse: string;
}

export interface Thing {
  /** A format as "release/format", or card, stack, other. */
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
  /** The whole purchase in one line, as it is said. */
  line: string;
  name: string;
  seller: string;
  bought_on: string;
  received_on: string;
  carrier: string;
  tracking: string;
  due_on: string;
  fun: string;
  note: string;
  method: string;
  charges: Charge[];
  things: Thing[];
}

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

export function emptyCharge(kind: string, currency: string, purse = "bank"): Charge {
  return { kind, amount: "", currency, day: "", rate: "", purse };
}

export function emptyPurchase(today: string, currency: string): Draft {
  return {
    line: "",
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

/** What so many of a thing are worth, by the price of one; "" where either is not known. */
export function worthOfAll(price: string | null | undefined, count: string): string {
  const many = readWhole(count);
  if (!price || !("value" in many)) return "";
  return (Number(price) * many.value).toFixed(price.split(".")[1]?.length ?? 0);
}

/** Which fields of a thing decide how the cost is divided. */
export function asksFor(method: string) {
  return {
    fixed: method === "hand" || method === "residual",
    weight: method === "count",
  };
}

const nullable = z.nullable(z.string());
const SHAPE = (today: string) =>
  z.object({
    line: z.string(),
    name: words,
    seller: maybeWords,
    bought_on: day(today),
    received_on: maybeDay(today),
    carrier: maybeWords,
    tracking: maybeWords,
    due_on: maybeDay(today),
    fun: maybeShare,
    note: maybeWords,
    method: z.string(),
    charges: z.array(
      z.object({
        kind: z.string(),
        amount,
        currency: words,
        day: maybeDay(today),
        rate: z.string(),
        purse: words,
      }),
    ),
    things: z.array(
      z.object({
        what: z.string(),
        name: words,
        release: nullable,
        line: nullable,
        number: nullable,
        variant: nullable,
        count: z.string(),
        value: maybeAmount,
        fixed: z.string(),
        weight: z.string(),
        gift: z.boolean(),
        condition: z.string(),
        serial: maybeWords,
        place: maybeWords,
      }),
    ),
  });

/** What is sent of the form. A field that is not shown is not read and not sent, whatever stands in it. */
export function purchaseShape(today: string, home: string) {
  return z.pipe(
    SHAPE(today),
    z.transform((draft, context): Schemas["PurchaseIn"] => {
      const asked = asksFor(draft.method);
      const isAlone = draft.things.length === 1 && !draft.things[0]?.value;
      const read = <T>(found: Read<T>, input: string, ...path: (string | number)[]): T => {
        if ("value" in found) return found.value;
        context.issues.push({ code: "custom", message: found.fault, input, path });
        return z.NEVER;
      };
      const maybe = (shown: boolean, text: string, ...path: (string | number)[]) =>
        shown && text.trim() ? read(readAmount(text), text, ...path) : null;
      return {
        name: draft.name || (draft.things[0]?.name ?? ""),
        seller: draft.seller,
        bought_on: draft.bought_on,
        received_on: draft.received_on,
        carrier: draft.received_on ? null : draft.carrier,
        tracking: draft.received_on ? null : draft.tracking,
        due_on: draft.received_on ? null : draft.due_on,
        // one thing carries all of it, whatever it is worth
        method: (isAlone && draft.method === "value" ? "equal" : draft.method) as Method,
        charges: draft.charges.map((charge, at) => ({
          kind: charge.kind as Schemas["ChargeIn"]["kind"],
          amount: charge.amount,
          currency: charge.currency,
          day: charge.day ?? draft.bought_on, // a cost without a day of its own is of the day of buying
          rate: maybe(charge.currency !== home, charge.rate, "charges", at, "rate"),
          purse: charge.purse,
        })),
        things: draft.things.map((thing, at) => {
          const [release, format] = thing.what.includes("/") ? thing.what.split("/") : [null, null];
          return {
            kind: format ? "sealed" : (thing.what as "card" | "stack" | "other"),
            name: thing.name,
            count:
              thing.what === "card" ? 1 : read(readWhole(thing.count), thing.count, "things", at, "count"),
            release: release ?? thing.release,
            format: format ?? null,
            line: thing.line,
            number: thing.number,
            variant: thing.variant,
            value: thing.value,
            fixed: maybe(asked.fixed, thing.fixed, "things", at, "fixed"),
            weight: maybe(asked.weight, thing.weight, "things", at, "weight") ?? "1",
            gift: thing.gift,
            condition: (thing.condition || null) as Schemas["ThingIn"]["condition"],
            serial: thing.what === "card" ? thing.serial : null,
            place: thing.place,
          };
        }),
        entertainment: draft.fun ?? "0",
        note: draft.note,
      };
    }),
  );
}

/** What a line says, as fields of the form: only those that it names. */
export function fromLine(spoken: Schemas["SpokenOut"], home: string): Partial<Draft> {
  const [meant] = spoken.things;
  const things = meant && {
    things: [
      {
        ...EMPTY_THING,
        what: meant.format ? `${meant.release}/${meant.format}` : meant.kind,
        name: meant.name,
        release: meant.format ? null : meant.release,
        line: meant.line,
        number: meant.number,
        variant: meant.variant,
        count: String(spoken.count),
        value: meant.value ?? "",
      },
    ],
  };
  const charges = spoken.costs.map((cost) => ({
    ...emptyCharge(cost.kind, cost.currency ?? home),
    amount: cost.amount,
  }));
  return {
    ...things,
    ...(charges.length ? { charges } : {}),
    ...(spoken.seller ? { seller: spoken.seller } : {}),
    ...(spoken.bought_on ? { bought_on: spoken.bought_on } : {}),
    ...(spoken.is_here ? { received_on: spoken.bought_on ?? "today" } : {}),
  };
}

/** The releases that things are of, each once. */
export function releasesOf(things: readonly { what: string; release: string | null }[]): string[] {
  const named = things.map(({ what, release }) => (what.includes("/") ? what.split("/")[0] : release));
  return [...new Set(named.flatMap((release) => (release ? [release] : [])))];
}
