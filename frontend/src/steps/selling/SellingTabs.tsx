import { PageTabs } from "../../shared/PageTabs";

const LINKS = [
  { to: "/selling", name: "Orders", end: true },
  { to: "/selling/-/listings", name: "Listings", end: false },
  { to: "/selling/-/new", name: "Something is sold", end: false },
  { to: "/selling/-/trade", name: "A trade", end: false },
  { to: "/selling/-/parcels", name: "Parcels", end: false },
  { to: "/selling/-/supplies", name: "Packing supplies", end: false },
];

/** The pages of selling. */
export function SellingTabs() {
  return <PageTabs links={LINKS} label="Selling" />;
}
