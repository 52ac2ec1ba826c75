import { Link } from "react-router";
import { percent } from "../../shared/format";
import { Figures } from "../../shared/Figures";
import { Section } from "../../shared/Section";
import { useSureness } from "./planning";
import { type View } from "./view";

const MARKETS = [
  [0.5, "half, by the sale"],
  [1, "as today"],
  [1.5, "half again"],
] as const;

/** The chance of a loss of one box if the market moves before the sale. */
export function MarketRows({ release, format, view, price }: Props) {
  const sure = useSureness(release, format, view, price);
  const curves = sure.data?.curves;
  const rows = MARKETS.map(([factor, name]) => {
    const chance = curves?.at_price?.[curves.factors.indexOf(factor)];
    return [name, !curves ? "…" : chance === undefined ? "no price" : percent(1 - chance)] as const;
  });
  return (
    <Section title="If the market moves" point={<Link to="sure">a box loses in</Link>}>
      <Figures rows={rows} />
    </Section>
  );
}

interface Props {
  release: string;
  format: string;
  view: View;
  price: number | null;
}
