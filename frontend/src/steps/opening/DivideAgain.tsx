import Box from "@mui/material/Box";
import { useState } from "react";
import { client, take, type Schemas } from "../../shared/api/client";
import { DivisionChoice } from "../../shared/DivisionChoice";
import { gain, money } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import type { Opening } from "./entering";

type Method = NonNullable<Schemas["DivideSessionIn"]["method"]>;
const METHODS: Record<Method, string> = {
  value: "by what they are worth today",
  count: "by how many there are",
  equal: "equally",
};
const SHOWN = 12;

/** The cost that lies on what came out, divided anew: shown first, the largest changes first, then booked with a trace. */
export function DivideAgain({ data }: { data: Opening }) {
  const [method, setMethod] = useState<Method>("value");
  const divide = useAct(
    (book: boolean) =>
      take(
        client.POST("/api/sessions/{number}/divide", {
          params: { path: { number: data.number } },
          body: { version: data.version, method, book },
        }),
      ),
    { keys: ["items", "books", "sessions"], quiet: true },
  );
  const parts = [...(divide.data?.parts ?? [])].sort(
    (a, b) => Math.abs(Number(b.share) - Number(b.basis)) - Math.abs(Number(a.share) - Number(a.basis)),
  );
  return (
    <Section title="Divide its cost again" point="what is still held of it; nothing is rewritten">
      <DivisionChoice
        label="Divide"
        methods={METHODS}
        method={method}
        choose={(fresh) => {
          setMethod(fresh);
          divide.reset();
        }}
        divide={divide}
      />
      {parts.length > 0 && (
        <Table label="The new division">
          <Heads
            of={[
              "Card",
              { figure: "worth today" },
              { figure: "carried" },
              { figure: divide.variables ? "carries" : "would carry" },
              { figure: "change" },
            ]}
          />
          <tbody>
            {parts.slice(0, SHOWN).map((part, at) => (
              <tr key={at} data-row>
                <td>
                  <span data-cell>{part.count > 1 ? `${part.count} × ${part.name}` : part.name}</span>
                </td>
                <td className="figure">{money(part.value)}</td>
                <td className="figure">{money(part.basis)}</td>
                <td className="figure">{money(part.share)}</td>
                <td className="figure">{gain(Number(part.share) - Number(part.basis))}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {parts.length > SHOWN && (
        <Box sx={{ color: "text.secondary", fontSize: 13, mt: 0.5 }}>
          The {SHOWN} largest changes of {parts.length}.
        </Box>
      )}
    </Section>
  );
}
