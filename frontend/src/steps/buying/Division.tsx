import Checkbox from "@mui/material/Checkbox";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Link } from "react-router";
import { client, take } from "../../shared/api/client";
import { DivisionChoice } from "../../shared/DivisionChoice";
import { money } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Table } from "../../shared/Table";
import { useDraft } from "../../shared/useDraft";
import { readAmount } from "../../shared/forms/reading";
import { useAct } from "../../shared/useAct";
import { asksFor, METHODS } from "./draft";
import { KEYS, type Purchase } from "./queries";

type Thing = Purchase["things"][number];
type Part = { value: string; fixed: string; weight: string; gift: boolean };

function asTyped(thing: Thing): Part {
  return {
    value: thing.value ?? "",
    fixed: thing.fixed ?? "",
    weight: Number(thing.weight) === 1 ? "" : thing.weight,
    gift: thing.gift,
  };
}

/** An amount as people write it; what cannot be read is sent as it is and refused at its field. */
function asAmount(text: string): string | null {
  const read = readAmount(text);
  return "value" in read ? read.value : text.trim() || null;
}

/** What a purchase brought and what each thing carries of its cost; what is still held can be divided again. */
export function Division({ data }: { data: Purchase }) {
  const [method, setMethod] = useState(data.method);
  const [typed, setTyped, forget] = useDraft<Record<number, Part>>(`division ${data.number}`, {});
  const asked = asksFor(method);
  const held = data.things.filter((thing) => ["held", "in_transit", "at_grading"].includes(thing.state));
  const part = (thing: Thing) => typed[thing.number] ?? asTyped(thing);
  const divide = useAct(
    async (book: boolean) => {
      const found = await take(
        client.POST("/api/purchases/{number}/divide", {
          params: { path: { number: data.number } },
          body: {
            version: data.version,
            method,
            book,
            parts: held.map((thing) => {
              const { value, fixed, weight, gift } = part(thing);
              return {
                item: thing.number,
                value: asAmount(value),
                fixed: asked.fixed ? asAmount(fixed) : null,
                weight: (asked.weight && asAmount(weight)) || "1",
                gift,
              };
            }),
          },
        }),
      );
      if (book) forget();
      return found;
    },
    { keys: KEYS, quiet: true },
  );
  const change = (thing: Thing, fresh: Partial<Part>) => {
    setTyped({ ...typed, [thing.number]: { ...part(thing), ...fresh } });
    divide.reset();
  };
  const shares = new Map(held.map((thing, at) => [thing.number, divide.data?.shares[at]]));
  const isOpen = data.state !== "undone" && held.length > 1;
  const cell = (thing: Thing, name: "value" | "fixed" | "weight", label: string, shown: string) => (
    <td className="figure">
      {isOpen && held.includes(thing) ? (
        <TextField
          variant="standard"
          value={part(thing)[name]}
          onChange={(event) => change(thing, { [name]: event.target.value })}
          slotProps={{
            htmlInput: { "aria-label": `${label} of ${thing.name}`, style: { textAlign: "right" } },
          }}
          sx={{ width: 80 }}
        />
      ) : (
        shown
      )}
    </td>
  );
  return (
    <Section title="What came, and what each carries" point={METHODS[data.method]}>
      <Table label="Things of the purchase">
        <thead>
          <tr>
            <th scope="col">Thing</th>
            <th scope="col" className="figure">
              how many
            </th>
            <th scope="col">state</th>
            <th scope="col">gift</th>
            <th scope="col" className="figure">
              worth
            </th>
            {asked.fixed && (
              <th scope="col" className="figure">
                by hand
              </th>
            )}
            {asked.weight && (
              <th scope="col" className="figure">
                weight
              </th>
            )}
            <th scope="col" className="figure">
              carries
            </th>
            {divide.data && (
              <th scope="col" className="figure">
                would carry
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {data.things.map((thing) => (
            <tr key={thing.number} data-row>
              <td>
                <Link data-cell to={`/stock/${thing.number}`}>
                  {thing.name}
                </Link>
              </td>
              <td className="figure">{thing.count}</td>
              <td>{thing.state.replace("_", " ")}</td>
              <td>
                {isOpen && held.includes(thing) ? (
                  <Checkbox
                    size="small"
                    checked={part(thing).gift}
                    onChange={(event) => change(thing, { gift: event.target.checked })}
                    slotProps={{ input: { "aria-label": `${thing.name} is a gift and carries nothing` } }}
                    sx={{ p: 0.25 }}
                  />
                ) : thing.gift ? (
                  "yes"
                ) : (
                  ""
                )}
              </td>
              {cell(thing, "value", "Worth", money(thing.value))}
              {asked.fixed && cell(thing, "fixed", "Part by hand", "")}
              {asked.weight && cell(thing, "weight", "Weight", "")}
              <td className="figure">{money(thing.basis)}</td>
              {divide.data && (
                <td className="figure">{shares.get(thing.number) ? money(shares.get(thing.number)) : ""}</td>
              )}
            </tr>
          ))}
        </tbody>
      </Table>
      {isOpen && (
        <DivisionChoice
          label="Divide again"
          methods={METHODS}
          method={method}
          choose={(fresh) => {
            setMethod(fresh);
            divide.reset();
          }}
          divide={divide}
        />
      )}
    </Section>
  );
}
