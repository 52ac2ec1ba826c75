import { readAmount } from "../../shared/forms/reading";

export interface SaleLine {
  item: number;
  name: string;
  worth: string;
  price: string;
}

export interface Sale {
  day: string;
  lines: SaleLine[];
  buyer: string;
  reference: string;
  way: string;
  owes: boolean;
  handed: boolean;
  shipping: string;
  fees: string;
  purse: string;
  address: string;
  /** The offer that it takes; 0: none. */
  offer: number;
}

export function fresh(day: string): Sale {
  return {
    day,
    lines: [],
    buyer: "",
    reference: "",
    way: "",
    owes: false,
    handed: false,
    shipping: "",
    fees: "",
    purse: "bank",
    address: "",
    offer: 0,
  };
}

type Typed = Partial<Omit<Sale, "lines">> & { lines?: readonly Partial<SaleLine>[] | undefined };

/** What a way of selling is asked for its fees, once every price can be read; null before that. */
export function feesAsked({ way, lines, shipping }: Typed) {
  if (!way || !lines?.length) return null;
  const prices: string[] = [];
  for (const line of lines) {
    const read = readAmount(line.price ?? "");
    if (!("value" in read) || !line.price) return null;
    prices.push(read.value);
  }
  const post = shipping ? readAmount(shipping) : { value: "0" };
  return "value" in post ? { way, prices, shipping: post.value } : null;
}
