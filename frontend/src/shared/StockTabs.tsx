import { PageTabs } from "./PageTabs";

const LINKS = [
  { to: "/stock", name: "All of it", end: true },
  { to: "/stock/-/enter", name: "Enter", end: false },
  { to: "/stock/-/plan", name: "Plan", end: false },
  { to: "/stock/-/pull", name: "What to pull", end: false },
  { to: "/stock/-/goals", name: "Goals", end: false },
  { to: "/stock/-/doubles", name: "Doubles", end: false },
];

/** The pages that sorting goes over. */
export function StockTabs() {
  return <PageTabs links={LINKS} label="Sorting" />;
}
