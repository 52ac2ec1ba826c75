import Box from "@mui/material/Box";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { faultAt, messagesOf } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { Figures } from "../../shared/Figures";
import { count, counted, gain, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { StockTabs } from "../../shared/StockTabs";
import { useAddress } from "../../shared/useAddress";
import { ValueField } from "../../shared/ValueField";
import { useWays, wayNames } from "../../shared/ways";

type SetDoubles = Schemas["SetDoublesOut"];
type Lot = Schemas["LotOfOut"];
const ASKED = ["postage", "per_thousand", "way", "minutes", "hourly", "box_grams", "box_cost"] as const;

const SETS: Column<SetDoubles>[] = [
  { key: "title", name: "Set", cell: (row) => row.title || "not said" },
  { key: "line", name: "line", cell: (row) => row.line },
  { key: "cards", name: "doubles", kind: "figure", cell: (row) => count(row.cards) },
  { key: "worth", name: "singly, as known", kind: "figure", cell: (row) => money(row.worth) },
  { key: "net", name: "as own lots", kind: "figure", cell: (row) => gain(Number(row.plan.net)) },
  { key: "work", name: "after the work", kind: "figure", cell: (row) => gain(Number(row.plan.after_work)) },
  {
    key: "say",
    name: "by itself",
    cell: (row) => (row.plan.give_away ? "give away, or put to others" : "sell"),
  },
];
const LOTS: Column<Lot>[] = [
  { key: "many", name: "Lots", kind: "figure", cell: (row) => count(row.many) },
  { key: "cards", name: "cards each", kind: "figure", cell: (row) => count(row.cards) },
  { key: "grams", name: "kilograms each", kind: "figure", cell: (row) => money(row.grams / 1000) },
  { key: "price", name: "bring each", kind: "figure", cell: (row) => money(row.price) },
  { key: "postage", name: "postage", kind: "figure", cell: (row) => money(row.postage) },
  { key: "net", name: "leave", kind: "figure", cell: (row) => gain(Number(row.net)) },
  { key: "kilo", name: "a kilogram", kind: "figure", cell: (row) => gain(Number(row.per_kilogram)) },
  { key: "work", name: "after the work", kind: "figure", cell: (row) => gain(Number(row.after_work)) },
];

/** Doubles and commons put into lots: what they bring, or whether to give them away. */
export default function DoublesPage() {
  const [params, set] = useAddress();
  const ways = useWays();
  const query = Object.fromEntries(
    ASKED.flatMap((name) => (params.get(name) ? [[name, params.get(name)!]] : [])),
  );
  const found = useQuery({
    queryKey: ["sorting", "doubles", query],
    queryFn: () => take(client.GET("/api/sorting/doubles", { params: { query: query as never } })),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const [last, setLast] = useState(found.data); // what stood before a refusal stays
  if (found.data && found.data !== last) setLast(found.data);
  const data = found.data ?? last;
  if (!data && !found.isError) return <Answer of={found} />;
  const field = (name: (typeof ASKED)[number], label: string, value: string, width = 130, hint?: string) => (
    <ValueField
      label={label}
      value={params.get(name) ?? value}
      commit={(text) => set({ [name]: name === "postage" ? text : text.replace(",", ".") })}
      fault={faultAt(found.error, name) ?? null}
      {...(hint ? { hint } : {})}
      inputMode={name === "postage" ? "text" : "decimal"}
      width={width}
    />
  );
  return (
    <PageTitle
      title="Doubles"
      {...(data ? { verdict: data.verdict } : { plain: "Doubles" })}
      crumbs={[{ name: "Stock", to: "/stock" }, { name: "Doubles" }]}
    >
      <StockTabs />
      <FieldRow>
        {field("per_thousand", "A thousand bring", data?.terms.per_thousand ?? "")}
        {field("postage", "Postage: grams price, …", "", 260, "like 1000 4.50, 5000 6.20")}
        <ChoiceBox
          label="Sold through"
          value={params.get("way") ?? ""}
          set={(way) => set({ way })}
          choices={{
            "": "the usual way",
            ...wayNames(ways.data),
          }}
          width={170}
        />
        {field("minutes", "Minutes for a lot", data?.terms.minutes ?? "")}
        {field("hourly", "An hour is worth", data?.terms.hourly ?? "")}
        {field("box_grams", "A box weighs, g", String(data?.terms.box_grams ?? ""))}
        {field("box_cost", "A box costs", data?.terms.box_cost ?? "")}
      </FieldRow>
      {found.isError && <Aside>{messagesOf(found.error).join("; ")}</Aside>}
      {data?.together && (
        <Section
          title="All together"
          point={`${counted(data.cards, "card")}, ${data.way ?? "without fees"}, in ${data.currency}`}
        >
          <DataTable
            label="Lots"
            rows={data.together.lots}
            columns={LOTS}
            keyOf={(row) => row.cards}
            empty=""
          />
          <Box sx={{ maxWidth: 320, mt: 1 }}>
            <Figures
              rows={[
                ["They leave", gain(Number(data.together.net))],
                ["After the work on them", gain(Number(data.together.after_work))],
                [
                  "For each hour",
                  data.together.per_hour === null
                    ? "no time is counted"
                    : gain(Number(data.together.per_hour)),
                ],
              ]}
            />
          </Box>
        </Section>
      )}
      {data && (
        <Section title="Set by set" point="of each version all but one; what sells by itself is not in it">
          <DataTable
            label="Doubles by set"
            rows={data.sets}
            columns={SETS}
            keyOf={(row) => `${row.title} ${row.line}`}
            empty="Nothing is double."
          />
        </Section>
      )}
    </PageTitle>
  );
}
