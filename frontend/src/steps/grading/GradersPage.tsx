import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import * as z from "zod/mini";
import { Answer } from "../../shared/Answer";
import { client, take } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { count, money } from "../../shared/format";
import { EntryRow } from "../../shared/forms/EntryRow";
import { ChoiceField, MoneyField, WordsField } from "../../shared/forms/fields";
import { amount, code, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useAct } from "../../shared/useAct";
import { Carriers } from "./Carriers";
import { GradingTabs } from "./GradingTabs";
import { graders, KEYS, type Grader } from "./queries";

const COLUMNS: Column<Grader>[] = [
  {
    key: "name",
    name: "Grader",
    cell: (row) => <Link to={`/grading/-/graders/${row.number}`}>{row.name}</Link>,
    text: (row) => row.name,
  },
  {
    key: "grades",
    name: "grades",
    cell: (row) =>
      row.grades.length ? `${row.grades[0]} to ${row.grades.at(-1)}` : "none: signs or repairs",
  },
  {
    key: "tiers",
    name: "tiers",
    cell: (row) => row.tiers.map((tier) => `${tier.name} ${money(tier.fee)}`).join(", "),
  },
  { key: "currency", name: "bills in", cell: (row) => row.currency },
  { key: "sub", name: "subgrades", kind: "figure", cell: (row) => count(row.subgrades.length) },
];

const SCALES: Record<string, string[]> = {
  whole: ["10", "9", "8", "7", "6", "5", "4", "3", "2", "1"],
  half: Array.from({ length: 19 }, (_, at) => String((20 - at) / 2)),
};
const SHAPE = z.object({ name: words, currency: code, scale: words, tier: words, fee: amount });

/** Graders and carriers as the owner describes them. */
export default function GradersPage() {
  const found = useQuery(graders());
  const begin = useAct(
    (name: string) => take(client.POST("/api/graders/offered/{name}", { params: { path: { name } } })),
    { keys: KEYS, text: "It is described now; look whether it is still so." },
  );
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  return (
    <PageTitle
      title="Graders"
      verdict={data.verdict}
      crumbs={[{ name: "Grading", to: "/grading" }, { name: "Graders" }]}
    >
      <GradingTabs />
      <Section title="Graders" point="">
        <DataTable
          label="Graders"
          rows={data.graders}
          columns={COLUMNS}
          keyOf={(row) => row.number}
          empty="None is described yet."
        />
        {data.offered.length > 0 && (
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}>
            {data.offered.map((name) => (
              <Button
                key={name}
                variant="outlined"
                color="inherit"
                disabled={begin.isPending}
                onClick={() => begin.mutate(name)}
              >
                Begin with {name}
              </Button>
            ))}
          </Box>
        )}
        <Another />
      </Section>
      <Carriers />
      <Aside>Fees, limits and rules change: check them with the grader before you send.</Aside>
    </PageTitle>
  );
}

function Another() {
  const navigate = useNavigate();
  const { form, submit, busy, faults } = useEntry({
    draft: "a grader",
    empty: { name: "", currency: "", scale: "whole", tier: "Standard", fee: "" },
    shape: SHAPE,
    names: { "tiers[0].fee": "fee", "tiers[0].name": "tier" },
    send: ({ name, currency, scale, tier, fee }) =>
      take(
        client.POST("/api/graders", {
          body: {
            version: 0,
            name,
            currency,
            grades: SCALES[scale] ?? [],
            tiers: [
              {
                id: tier.toLowerCase(),
                name: tier,
                fee,
                min_cards: 1,
                value_limit: null,
                up_charge: "0",
                days: null,
                members_only: false,
              },
            ],
            subgrades: [],
            membership: null,
            refusal: "0",
            limits: [],
            whole: "weakest",
            cap: "1",
            back_weight: "0.5",
            duty_share: "0",
            duty_fixed: "0",
            columns: ["line", "name", "number", "release", "declared"],
            packing: [],
          },
        }),
      ),
    keys: KEYS,
    done: ({ number }) => void navigate(`/grading/-/graders/${number}`),
  });
  const { control } = form;
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="Describe it">
      <WordsField control={control} name="name" label="Another grader, signer or repairer" width={250} />
      <WordsField control={control} name="currency" label="Bills in" width={90} hint="like USD" />
      <ChoiceField
        control={control}
        name="scale"
        label="Scale"
        choices={{ whole: "10 to 1, whole", half: "10 to 1, halves", none: "none: signs or repairs" }}
        width={190}
      />
      <WordsField control={control} name="tier" label="A tier of it" width={120} />
      <MoneyField control={control} name="fee" label="Its fee" />
    </EntryRow>
  );
}
