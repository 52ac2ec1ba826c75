import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import * as z from "zod/mini";
import { client, take, type Schemas } from "../../shared/api/client";
import { FieldRow } from "../../shared/FieldRow";
import { count, money } from "../../shared/format";
import {
  CheckField,
  CountField,
  MoneyField,
  OtherFaults,
  PercentField,
  WordsField,
} from "../../shared/forms/fields";
import { amount, maybeAmount, maybeShare, maybeWhole, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { inSizes, maybeSizes } from "../../shared/sizes";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { KEYS } from "./queries";

type Carrier = Schemas["CarrierOut"];
type PostClass = Schemas["PostClassOut"];
type Opened = { carrier: Carrier; of: PostClass } | null;

export function carriers() {
  return { queryKey: ["graders", "carriers"], queryFn: () => take(client.GET("/api/carriers")) };
}

function put(carrier: Carrier | undefined, name: string, classes: readonly Schemas["PostClassIn"][]) {
  return take(
    client.PUT("/api/carriers", { body: { version: carrier?.version ?? 0, name, classes: [...classes] } }),
  );
}

/** How parcels go: classes with their price, the sizes that they take, and what they are insured to. */
export function Carriers() {
  const found = useQuery(carriers());
  const [opened, setOpened] = useState<Opened>(null);
  const known = found.data?.carriers ?? [];
  return (
    <Section title="Carriers" point="what a parcel costs, which sizes a class takes, and what is insured">
      {known.map((carrier) => (
        <Box key={carrier.name} sx={{ mb: 1.5 }}>
          <Box sx={{ fontWeight: 600 }}>{carrier.name}</Box>
          <Table label={`Classes of ${carrier.name}`}>
            <Heads
              of={[
                "class",
                { figure: "price" },
                "at most, mm",
                { figure: "g" },
                { figure: "insured to" },
                { figure: "days" },
                "tracked",
              ]}
            />
            <tbody>
              {carrier.classes.map((it) => (
                <tr key={it.id} data-row>
                  <td data-cell>
                    <Button
                      color="inherit"
                      sx={{ px: 0, py: 0.5, minWidth: 0 }}
                      aria-label={`Change ${it.name}`}
                      onClick={() => setOpened({ carrier, of: it })}
                    >
                      {it.name}
                    </Button>
                  </td>
                  <td className="figure">{money(it.price)}</td>
                  <td>{it.most ? inSizes(it.most) : "not said"}</td>
                  <td className="figure">{it.most_weight === null ? "" : count(Number(it.most_weight))}</td>
                  <td className="figure">{it.insured_to === null ? "not" : money(it.insured_to)}</td>
                  <td className="figure">{it.days ?? ""}</td>
                  <td>{it.tracked ? "yes" : "no"}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </Box>
      ))}
      {opened ? (
        <ClassForm
          key={`${opened.carrier.name} ${opened.of.id}`}
          known={known}
          opened={opened}
          close={() => setOpened(null)}
        />
      ) : (
        <ClassForm key={known[0]?.name ?? ""} known={known} opened={null} close={() => undefined} />
      )}
    </Section>
  );
}

const SHAPE = z.object({
  carrier: words,
  name: words,
  price: amount,
  insured_to: maybeAmount,
  days: maybeWhole,
  tracked: z.boolean(),
  least: maybeSizes,
  most: maybeSizes,
  most_weight: maybeAmount,
  no_rigid: z.boolean(),
  value_limit: maybeAmount,
  loss: maybeShare,
  claim_days: maybeWhole,
});

/** A carrier is sent whole: what the server calls a field of whichever class. */
const NAMES = Object.fromEntries(
  Array.from({ length: 100 }, (_, at) =>
    Object.keys(SHAPE.shape).map((name) => [`classes[${at}].${name}`, name]),
  ).flat(),
);

const maybeMoney = (value: string | null) => (value === null ? "" : String(Number(value)));
const maybeCount = (value: number | null) => (value === null ? "" : String(value));

function begun(opened: Opened, known: readonly Carrier[]) {
  const it = opened?.of;
  return {
    carrier: opened?.carrier.name ?? known[0]?.name ?? "",
    name: it?.name ?? "",
    price: it ? maybeMoney(it.price) : "",
    insured_to: it ? maybeMoney(it.insured_to) : "",
    days: it ? maybeCount(it.days) : "",
    tracked: it?.tracked ?? false,
    least: it ? inSizes(it.least) : "",
    most: it?.most ? inSizes(it.most) : "",
    most_weight: it ? maybeMoney(it.most_weight) : "",
    no_rigid: it?.no_rigid ?? false,
    value_limit: it ? maybeMoney(it.value_limit) : "",
    loss: it ? String(Number((Number(it.loss) * 100).toFixed(4))) : "",
    claim_days: it ? maybeCount(it.claim_days) : "",
  };
}

interface FormProps {
  known: readonly Carrier[];
  opened: Opened;
  close: () => void;
}

function ClassForm({ known, opened, close }: FormProps) {
  const { form, submit, busy, faults } = useEntry({
    draft: opened ? `a post class: ${opened.carrier.name}, ${opened.of.id}` : "a post class",
    empty: begun(opened, known),
    shape: SHAPE,
    send: ({ carrier, least, most, loss, ...said }) => {
      const of = known.find((it) => it.name === carrier);
      const fresh = {
        ...said,
        id: opened?.of.id ?? said.name.toLowerCase(),
        least: (least ?? ["0", "0", "0"]) as string[],
        most: most as string[] | null,
        loss: loss ?? "0.01",
      };
      const others = of?.classes ?? [];
      return put(
        of,
        carrier,
        opened ? others.map((it) => (it.id === opened.of.id ? fresh : it)) : [...others, fresh],
      );
    },
    names: NAMES,
    keys: KEYS,
    text: "Kept.",
    done: close,
  });
  const remove = useAct(
    () =>
      put(
        opened!.carrier,
        opened!.carrier.name,
        opened!.carrier.classes.filter((it) => it.id !== opened!.of.id),
      ),
    { keys: KEYS, text: "The class is gone.", done: close },
  );
  const { control } = form;
  return (
    <Box
      component="form"
      noValidate
      onSubmit={submit}
      aria-label={opened ? `Change ${opened.of.name}` : "Another class"}
      sx={{ mt: 2 }}
    >
      <b>{opened ? `${opened.of.name}, ${opened.carrier.name}` : "Another class"}</b>
      <FieldRow>
        {!opened && <WordsField control={control} name="carrier" label="Carrier" width={150} />}
        <WordsField control={control} name="name" label="Class" width={150} />
        <MoneyField control={control} name="price" label="Price" />
        <CountField control={control} name="days" label="Days" />
        <Box sx={{ mt: "20px" }}>
          <CheckField control={control} name="tracked" label="tracked" />
        </Box>
      </FieldRow>
      <FieldRow>
        <WordsField control={control} name="least" label="At least, mm" hint="140 x 90 x 0" width={130} />
        <WordsField
          control={control}
          name="most"
          label="At most, mm"
          hint="empty: nothing fits"
          width={140}
        />
        <MoneyField control={control} name="most_weight" label="At most, g" />
        <Box sx={{ mt: "20px" }}>
          <CheckField control={control} name="no_rigid" label="takes nothing rigid" />
        </Box>
      </FieldRow>
      <FieldRow>
        <MoneyField control={control} name="value_limit" label="Value at most" hint="empty: any" />
        <MoneyField control={control} name="insured_to" label="Insured to" hint="empty: not" />
        <PercentField control={control} name="loss" label="Lost" hint="empty: 1 %" />
        <CountField control={control} name="claim_days" label="Claim within" hint="days" />
      </FieldRow>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button type="submit" variant="outlined" color="inherit" disabled={busy}>
          {opened ? "Say it so" : "Add the class"}
        </Button>
        {opened && (
          <>
            <Button color="inherit" disabled={remove.isPending} onClick={() => remove.mutate(undefined)}>
              Remove the class
            </Button>
            <Button color="inherit" onClick={close}>
              Leave it
            </Button>
          </>
        )}
      </Box>
      <OtherFaults faults={faults} />
    </Box>
  );
}
