import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import * as z from "zod/mini";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { faultAt } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { count, money } from "../../shared/format";
import { EntryRow } from "../../shared/forms/EntryRow";
import { CheckField, ChoiceField, MoneyField, WordsField } from "../../shared/forms/fields";
import { readAmount } from "../../shared/forms/reading";
import { maybeAmount, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useAct } from "../../shared/useAct";
import { ValueField } from "../../shared/ValueField";
import { KEYS, supplies, type Supply } from "./queries";
import { SellingTabs } from "./SellingTabs";
import { inSizes, maybeSizes } from "../../shared/sizes";

const ROLES: Readonly<Record<Supply["role"], string>> = {
  sleeve: "sleeve",
  holder: "holder",
  wrap: "wrap",
  outer: "outer",
};

function body(it: Supply, change: Partial<Schemas["SupplyIn"]>): Schemas["SupplyIn"] {
  const { version, name, role, inside, outside, adds, wall, weight, cost, rigid } = it;
  return { version, name, role, inside, outside, adds, wall, weight, cost, rigid, ...change };
}

/** What there is to pack with, by its sizes: counted down, and what to buy. */
export default function SuppliesPage() {
  const found = useQuery(supplies());
  const begin = useAct(() => take(client.POST("/api/packing-supplies/usual")), {
    keys: KEYS,
    text: ({ added }) => `${added} are described now: look whether yours are of these sizes.`,
  });
  const save = useAct(
    ({ number, said }: { number: number; said: Schemas["SupplyIn"] }) =>
      take(client.PUT("/api/packing-supplies/{number}", { params: { path: { number } }, body: said })),
    { keys: KEYS, text: "Kept.", quiet: true },
  );
  const remove = useAct(
    (number: number) =>
      take(client.DELETE("/api/packing-supplies/{number}", { params: { path: { number } } })),
    {
      keys: KEYS,
      text: "It is out of use.",
      undo: (number) =>
        take(client.POST("/api/packing-supplies/{number}/restore", { params: { path: { number } } })),
    },
  );
  if (!found.data) return <Answer of={found} />;
  const read = (text: string) => {
    const amount = readAmount(text);
    return "value" in amount ? amount.value : text;
  };
  const edited = (key: "cost" | "weight", name: string, what: string): Column<Supply> => ({
    key,
    name,
    kind: "figure",
    cell: () => "",
    edit: {
      label: (row) => `${what} of ${row.name}`,
      value: (row) => row[key],
      shown: (row) => (key === "cost" ? money(row.cost) : Number(row.weight).toFixed(1)),
      width: 70,
      save: (row, text) => save.mutateAsync({ number: row.number, said: body(row, { [key]: read(text) }) }),
    },
  });
  const columns: Column<Supply>[] = [
    { key: "name", name: "Supply", cell: (row) => row.name },
    { key: "role", name: "for", cell: (row) => ROLES[row.role] },
    {
      key: "inside",
      name: "takes, mm",
      cell: (row) => (row.inside ? inSizes(row.inside) : ""),
    },
    {
      key: "outside",
      name: "outside or adds, mm",
      cell: (row) => (row.outside ? inSizes(row.outside) : row.adds ? `+ ${inSizes(row.adds)}` : ""),
    },
    edited("weight", "g", "Weight"),
    edited("cost", "costs", "What one costs"),
    {
      key: "count",
      name: "there",
      kind: "figure",
      cell: (row) => (row.count === null ? "not counted" : <b>{count(row.count)}</b>),
      text: (row) => (row.count === null ? "" : String(row.count)),
    },
    {
      key: "used",
      name: "used in 90 days",
      kind: "figure",
      cell: (row) => (row.used ? count(row.used) : ""),
    },
    {
      key: "remove",
      name: "",
      cell: (row) => (
        <Button color="inherit" aria-label={`Remove ${row.name}`} onClick={() => remove.mutate(row.number)}>
          Remove
        </Button>
      ),
      text: () => "",
    },
  ];
  return (
    <PageTitle
      title="Packing supplies"
      verdict={found.data.verdict}
      crumbs={[{ name: "Selling", to: "/selling" }, { name: "Packing supplies" }]}
    >
      <SellingTabs />
      <Section title="What there is to pack with" point={`sizes in mm, money in ${found.data.currency}`}>
        <DataTable
          label="Packing supplies"
          rows={found.data.supplies}
          columns={columns}
          keyOf={(row) => row.number}
          empty="None is described yet."
        />
        <Button
          variant={found.data.supplies.length ? "text" : "contained"}
          color={found.data.supplies.length ? "inherit" : "primary"}
          disabled={begin.isPending}
          onClick={() => begin.mutate(undefined)}
        >
          Begin with the usual ones
        </Button>
        <Another />
      </Section>
      <HowTheyGo />
      <Aside>
        What you buy to pack with is a <Link to="/buying/-/new">purchase</Link> of supplies under the same
        name: then it is counted down by every parcel. What was salvaged is brought in at no cost in{" "}
        <Link to="/stock">Stock</Link>, and is used first. What takes what, and up to which size a class goes,
        is said with the <Link to="/grading/-/graders">carriers</Link>.
      </Aside>
    </PageTitle>
  );
}

const SHAPE = z.object({
  name: words,
  role: z.string(),
  inside: maybeSizes,
  outside: maybeSizes,
  adds: maybeSizes,
  weight: maybeAmount,
  cost: maybeAmount,
  rigid: z.boolean(),
});

function Another() {
  const { form, submit, busy, faults } = useEntry({
    draft: "a packing supply",
    empty: {
      name: "",
      role: "holder",
      inside: "",
      outside: "",
      adds: "",
      weight: "",
      cost: "",
      rigid: false,
    },
    shape: SHAPE,
    send: ({ role, weight, cost, ...said }) =>
      take(
        client.POST("/api/packing-supplies", {
          body: {
            ...said,
            version: 0,
            role: role as Supply["role"],
            wall: role === "outer" ? "0.4" : "0",
            weight: weight ?? "0",
            cost: cost ?? "0",
          } as Schemas["SupplyIn"],
        }),
      ),
    keys: KEYS,
    text: "It is described.",
  });
  const { control } = form;
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="Describe it">
      <WordsField control={control} name="name" label="Another supply" width={170} />
      <ChoiceField control={control} name="role" label="It is a" choices={ROLES} width={100} />
      <WordsField control={control} name="inside" label="Takes, mm" hint="70 x 95 x 1" width={110} />
      <WordsField control={control} name="outside" label="Outside, mm" hint="76 x 101 x 1.6" width={120} />
      <WordsField control={control} name="adds" label="Adds, mm" hint="sleeves, wraps" width={110} />
      <MoneyField control={control} name="weight" label="Weighs, g" width={90} />
      <MoneyField control={control} name="cost" label="Costs" width={90} />
      <Box sx={{ mt: "20px" }}>
        <CheckField control={control} name="rigid" label="rigid" />
      </Box>
    </EntryRow>
  );
}

function HowTheyGo() {
  const found = useQuery({
    queryKey: ["supplies", "habits"],
    queryFn: () => take(client.GET("/api/packing-habits")),
  });
  const save = useAct(
    (said: Schemas["PackingHabitsIn"]) => take(client.PUT("/api/packing-habits", { body: said })),
    { keys: KEYS, text: "Kept.", quiet: true },
  );
  if (!found.data) return null;
  const data = found.data;
  const now = { version: data.version, tracking_from: data.tracking_from, sender: data.sender };
  return (
    <Section title="How parcels go" point="your rule, and what stands on labels">
      <FieldRow>
        <ValueField
          label="Tracked from a value of"
          value={data.tracking_from ?? ""}
          commit={(text) => {
            const read = readAmount(text);
            save.mutate({
              ...now,
              tracking_from: text === "" ? null : "value" in read ? read.value : text,
            });
          }}
          fault={faultAt(save.error, "tracking_from") ?? null}
          hint="empty: never needed"
          inputMode="decimal"
          width={170}
        />
        <ValueField
          label="Sender, a line each"
          value={data.sender.join("\n")}
          commit={(text) => save.mutate({ ...now, sender: text.split("\n") })}
          fault={faultAt(save.error, "sender") ?? null}
          lines={3}
          width={280}
        />
      </FieldRow>
    </Section>
  );
}
