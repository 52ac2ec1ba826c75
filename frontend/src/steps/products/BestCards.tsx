import Button from "@mui/material/Button";
import { Link } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import { money, oneIn, percent } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Table } from "../../shared/Table";
import { useWant, useWanted } from "./planning";
import type { Corrections } from "./queries";

/** The cards that carry most of the expected value; their prices are corrected here. */
export function BestCards({
  answer,
  corrections,
}: {
  answer: Schemas["AnswerOut"];
  corrections: Corrections;
}) {
  const isNet = answer.basis.basis !== "gross";
  const wanted = useWanted(answer.release);
  const want = useWant(answer.release);
  const isWanted = (card: Schemas["CardShareOut"]) =>
    wanted.data?.wanted.some((item) => item.line === card.line && item.number === card.number) ?? false;
  return (
    <Section
      title="Cards that carry it"
      point={`without the best one: ${money(answer.top_heavy.without_best)}`}
    >
      <Table label="Cards that carry the value">
        <thead>
          <tr>
            <th scope="col">No.</th>
            <th scope="col">Subject, to chase it</th>
            <th scope="col">Line</th>
            <th scope="col" className="figure">
              comes
            </th>
            <th scope="col" className="figure">
              price, {answer.currency}
            </th>
            {isNet && (
              <th scope="col" className="figure">
                worth
              </th>
            )}
            <th scope="col" className="figure">
              carries
            </th>
            <th scope="col" className="figure">
              share
            </th>
            <th scope="col">wanted</th>
          </tr>
        </thead>
        <tbody>
          {answer.best_cards.map((card) => (
            <tr key={card.line + card.number} data-row>
              <td>{card.number}</td>
              <td>
                <Link data-cell to={`chase?targets=${encodeURIComponent(`${card.line}:${card.number}`)}`}>
                  {card.subject}
                </Link>
              </td>
              <td>{card.line_name}</td>
              <td className="figure">{oneIn(card.one_in, "boxes")}</td>
              <td className="figure">
                <EditableCell
                  value={card.assumed ? "" : card.price.toFixed(2)}
                  shown={card.assumed ? `about ${money(card.price)}` : money(card.price)}
                  label={`Price of ${card.subject}, ${card.line_name}`}
                  save={(text) => corrections.priceCard(card.line, card.number, text)}
                />
              </td>
              {isNet && <td className="figure">{money(card.worth)}</td>}
              <td className="figure">{money(card.value)}</td>
              <td className="figure">{percent(card.share)}</td>
              <td>
                <WantButton card={card} wanted={isWanted(card)} want={want.mutate} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}

interface WantProps {
  card: Schemas["CardShareOut"];
  wanted: boolean;
  want: (body: Schemas["WantedIn"]) => void;
}

function WantButton({ card, wanted, want }: WantProps) {
  return (
    <Button
      color="inherit"
      data-cell
      aria-pressed={wanted}
      aria-label={`Wanted: ${wanted ? "yes" : "no"}, ${card.subject}, ${card.line_name}`}
      onClick={() => want({ line: card.line, number: card.number, wanted: !wanted })}
      sx={{ minWidth: 0, px: 0.5, py: 0, fontWeight: wanted ? 700 : 400 }}
    >
      {wanted ? "yes" : "no"}
    </Button>
  );
}
