import { PageTabs } from "../../shared/PageTabs";

const LINKS = [
  { to: "/grading", name: "Submissions", end: true },
  { to: "/grading/-/worth", name: "Worth grading", end: false },
  { to: "/grading/-/batch", name: "Best batch", end: false },
  { to: "/grading/-/record", name: "Your record", end: false },
  { to: "/grading/-/eye", name: "Train your eye", end: false },
  { to: "/grading/-/graders", name: "Graders", end: false },
];

/** The pages of grading. */
export function GradingTabs() {
  return <PageTabs links={LINKS} label="Grading" />;
}
