import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import * as z from "zod/mini";
import { client, take, type Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import { money } from "../../shared/format";
import { EntryRow } from "../../shared/forms/EntryRow";
import { CountField, MoneyField, WordsField } from "../../shared/forms/fields";
import { readAmount } from "../../shared/forms/reading";
import { amount, maybeAmount, maybeWhole, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { KEYS } from "./queries";

type Carrier = Schemas["CarrierOut"];
type PostClass = Schemas["PostClassOut"];

export function carriers() {
  return { queryKey: ["graders", "carriers"], queryFn: () => take(client.GET("/api/carriers")) };
}

/** How parcels go: classes with their price and what they are insured to. */
export function Carriers() {
  const found = useQuery(carriers());
  const save = useAct((body: Schemas["CarrierIn"]) => take(client.PUT("/api/carriers", { body })), {
    keys: KEYS,
    text: "Kept.",
    quiet: true,
  });
  const put = (carrier: Carrier, at: number, change: Partial<PostClass>) =>
    save.mutateAsync({
      version: carrier.version,
      name: carrier.name,
      classes: carrier.classes.map((it, place) => (place === at ? { ...it, ...change } : it)),
    });
  const money_ = (text: string) => {
    const read = readAmount(text);
    return "value" in read ? read.value : text;
  };
  return (
    <Section title="Carriers" point="what a parcel costs, and what is insured">
      {found.data?.carriers.map((carrier) => (
        <Box key={carrier.name} sx={{ mb: 1.5 }}>
          <Box sx={{ fontWeight: 600 }}>{carrier.name}</Box>
          <Table label={`Classes of ${carrier.name}`}>
            <Heads of={["class", { figure: "price" }, { figure: "insured to" }, { figure: "days" }]} />
            <tbody>
              {carrier.classes.map((it, at) => (
                <tr key={it.id} data-row>
                  <td data-cell>{it.name}</td>
                  <td className="figure">
                    <EditableCell
                      label={`Price of ${it.name}`}
                      value={it.price}
                      shown={money(it.price)}
                      save={(text) => put(carrier, at, { price: money_(text) })}
                    />
                  </td>
                  <td className="figure">
                    <EditableCell
                      label={`${it.name} is insured to`}
                      value={it.insured_to ?? ""}
                      shown={it.insured_to === null ? "not" : money(it.insured_to)}
                      save={(text) => put(carrier, at, { insured_to: text === "" ? null : money_(text) })}
                    />
                  </td>
                  <td className="figure">{it.days ?? ""}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Box>
      ))}
      <Another known={found.data?.carriers ?? []} />
    </Section>
  );
}

const SHAPE = z.object({
  carrier: words,
  name: words,
  price: amount,
  insured_to: maybeAmount,
  days: maybeWhole,
});

function Another({ known }: { known: readonly Carrier[] }) {
  const { form, submit, busy, faults } = useEntry({
    draft: "a post class",
    empty: { carrier: known[0]?.name ?? "", name: "", price: "", insured_to: "", days: "" },
    shape: SHAPE,
    send: ({ carrier, name, price, insured_to, days }) => {
      const of = known.find((it) => it.name === carrier);
      const fresh = { id: name.toLowerCase(), name, price, insured_to, days };
      return take(
        client.PUT("/api/carriers", {
          body: { version: of?.version ?? 0, name: carrier, classes: [...(of?.classes ?? []), fresh] },
        }),
      );
    },
    keys: KEYS,
    text: "Kept.",
  });
  const { control } = form;
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="Add the class">
      <WordsField control={control} name="carrier" label="Carrier" width={150} />
      <WordsField control={control} name="name" label="Class" width={150} />
      <MoneyField control={control} name="price" label="Price" />
      <MoneyField control={control} name="insured_to" label="Insured to" hint="empty: not" />
      <CountField control={control} name="days" label="Days" />
    </EntryRow>
  );
}
