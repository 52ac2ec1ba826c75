import { queryOptions } from "@tanstack/react-query";
import { client, take, type Schemas } from "../../shared/api/client";
import { readAmount, readDay } from "../../shared/forms/reading";

export type Listing = Schemas["ListingRowOut"];
export type ListingState = Listing["state"];
export type Proposal = Schemas["ProposalOut"];

/** What a listing or what a market said of it may have changed elsewhere. */
export const LISTED = ["listings", "orders", "items", "books", "parcels"];

/** How far a listing is, in words. */
export const LISTING_STATES: Readonly<Record<ListingState, string>> = {
  drafted: "drafted",
  listed: "listed",
  sold: "sold",
  ended: "ended",
};

export function listing(number: number) {
  return queryOptions({
    queryKey: ["listings", "one", number],
    queryFn: () => take(client.GET("/api/listings/{number}", { params: { path: { number } } })),
  });
}

/** A listing as it is being written, by the thing that it is of. */
export interface Written {
  out: boolean;
  title: string;
  price: string;
  auction: boolean;
  ends: string;
}

/** Which price a proposal begins with: at the market, else what it is said to be worth. */
export function begins({ asking, value }: Pick<Proposal, "asking" | "value">): string {
  const market = asking.find((it) => it.name === "market")?.price ?? value;
  return market === null ? "" : Number(market).toFixed(2);
}

/** What is sent of the things that are chosen, or which of them still lack what. */
export function toListings(
  proposals: readonly Proposal[],
  written: Readonly<Record<number, Partial<Written>>>,
  today: string,
): { ready: Schemas["ListingIn"][]; lacking: { item: number; why: string }[] } {
  const ready: Schemas["ListingIn"][] = [];
  const lacking: { item: number; why: string }[] = [];
  for (const it of proposals) {
    const said = written[it.item] ?? {};
    if (it.refused !== null || said.out) continue;
    const read = readAmount(said.price ?? begins(it));
    if (!("value" in read) || Number(read.value) === 0) {
      lacking.push({ item: it.item, why: "value" in read ? "say what to ask" : read.fault });
      continue;
    }
    const closes = said.auction ? readDay(said.ends ?? "", today) : null;
    if (closes && "fault" in closes) {
      lacking.push({ item: it.item, why: "say when the auction closes, like 3 Nov 2026" });
      continue;
    }
    ready.push({
      items: [it.item],
      price: read.value,
      title: said.title?.trim() || it.title,
      words: null,
      kind: said.auction ? "auction" : "fixed",
      lowest: null,
      ends_on: closes?.value ?? null,
    });
  }
  return { ready, lacking };
}

/** Where a listing is written down as sold, at its price or for an offer. */
export function saleOf(listed: number, offer: number | null): string {
  return `/selling/-/new?listing=${listed}${offer === null ? "" : `&offer=${offer}`}`;
}

/** Photos with one of them put first, or left out, or taken in again at the end. */
export function turned(photos: readonly number[], photo: number, to: "first" | "out" | "in"): number[] {
  const others = photos.filter((it) => it !== photo);
  return to === "first" ? [photo, ...others] : to === "in" ? [...others, photo] : others;
}
