import { useSearchParams } from "react-router";
import { PageTabs } from "../../shared/PageTabs";

const OF_FORMAT = [
  ["", "Value"],
  ["sure", "How sure"],
  ["chase", "Chase"],
  ["set", "A set"],
  ["choice", "Rip, hold or buy"],
  ["trial", "What if"],
] as const;

/** The questions about a format; how values are looked at goes along. */
export function PlanTabs({ release, format }: { release: string; format: string }) {
  const [params] = useSearchParams();
  const kept = new URLSearchParams();
  for (const name of ["basis", "way"]) {
    const value = params.get(name);
    if (value) kept.set(name, value);
  }
  const search = kept.size ? `?${kept}` : "";
  const beside = new URLSearchParams(kept);
  beside.set("box", format); // so that the questions about the box stay there
  const links = [
    ...OF_FORMAT.map(([path, name]) => ({
      to: `/products/${release}/${format}${path ? `/${path}` : ""}${search}`,
      name,
      end: true,
    })),
    { to: `/products/${release}/-/formats?${beside}`, name: "Formats side by side", end: true },
    { to: `/products/${release}/-/made?${beside}`, name: "How many exist", end: true },
  ];
  return <PageTabs links={links} label="Questions about this box" />;
}

/** The questions about a whole release; or those about the box that one came from. */
export function ReleaseTabs({ release }: { release: string }) {
  const [params] = useSearchParams();
  const box = params.get("box");
  return box ? <PlanTabs release={release} format={box} /> : <OfRelease release={release} />;
}

function OfRelease({ release }: { release: string }) {
  const links = [
    { to: `/products/${release}`, name: "The release", end: true },
    { to: `/products/${release}/-/formats`, name: "Formats side by side", end: true },
    { to: `/products/${release}/-/made`, name: "How many exist", end: true },
    { to: `/products/${release}/-/seen`, name: "Beside the sheet", end: true },
  ];
  return <PageTabs links={links} label="Questions about this release" />;
}
