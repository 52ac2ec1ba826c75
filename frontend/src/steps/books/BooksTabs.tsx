import { PageTabs } from "../../shared/PageTabs";

const LINKS = [
  { to: "/books", name: "Where they stand", end: true },
  { to: "/books/-/results", name: "Results", end: false },
  { to: "/books/-/friends", name: "Friends", end: false },
  { to: "/books/-/purses", name: "Purses", end: false },
];

/** The pages of the books. */
export function BooksTabs() {
  return <PageTabs links={LINKS} label="Books" />;
}
