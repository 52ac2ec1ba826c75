import { day } from "./format";
import { Section } from "./Section";
import { Heads, Table } from "./Table";
import { TakeBack } from "./TakeBack";

interface Booked {
  number: number;
  day: string;
  event: string;
  text: string;
  taken_back: boolean;
  can_be_taken_back: boolean;
}

/** What was booked of a document; each step is taken back by itself. `of`: what the document is. */
export function Trace({ of, history }: { of: string; history: readonly Booked[] }) {
  if (history.length === 0) return null;
  return (
    <Section title="What happened" point="nothing is rewritten; a step taken back stays">
      <Table label={`History of the ${of}`}>
        <Heads of={["Day", "Event", "What", { hidden: "actions" }]} />
        <tbody>
          {history.map((it) => (
            <tr key={it.number} data-row>
              <td className="day">{day(it.day)}</td>
              <td>{it.event.replaceAll("_", " ")}</td>
              <td>
                <span data-cell>{it.text}</span>
              </td>
              <td className="figure">
                <TakeBack entry={it.number} booked={it} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}
