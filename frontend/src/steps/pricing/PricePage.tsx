import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import * as z from "zod/mini";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { EntryRow } from "../../shared/forms/EntryRow";
import { WordsField } from "../../shared/forms/fields";
import { words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { count, counted, day, money } from "../../shared/format";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { useAddress } from "../../shared/useAddress";
import { keyed } from "../../shared/useOnce";
import { Act } from "./Act";
import { fetchOf, KINDS, pasteOf, PRICED } from "./kinds";
import { Graded } from "./Graded";
import { LookUp } from "./LookUp";
import { SalesPlot } from "./SalesPlot";
import { Lent } from "./Lent";
import { Working } from "./Working";

type Price = Schemas["PriceOut"];
type Comp = Price["seen"][number];

const WINDOWS = { "30": "30 days", "": "90 days", "180": "180 days", "365": "a year", "3650": "ten years" };

/** What a card is worth by what was seen of it: the answer, the prices over time, the working. */
export default function PricePage() {
  const [params] = useSearchParams();
  const [asked, change] = useAddress();
  const card = {
    release: params.get("release") ?? "",
    line: params.get("line") ?? "",
    number: params.get("number") ?? "",
    variant: params.get("variant") ?? "",
  };
  const state = asked.get("state") ?? "";
  const window = asked.get("window") ?? "";
  const subgrades = asked.get("subgrades") ?? "";
  const query = {
    ...card,
    ...(state ? { state } : {}),
    ...(subgrades ? { subgrades } : {}),
    window: Number(window) || 90,
  };
  const price = useQuery({
    queryKey: ["price", query],
    queryFn: () => take(client.GET("/api/prices/card", { params: { query } })),
    placeholderData: (before) => before,
  });
  if (!price.data) return <Answer of={price} />;
  const data = price.data;
  const states = Object.fromEntries(
    [...new Set([data.state, ...data.states.map((it) => it.state), "NM", "LP"])].map((it) => [it, it]),
  );
  return (
    <PageTitle
      title={`${data.name}, prices`}
      verdict={data.verdict}
      crumbs={[
        { name: "Pricing", to: "/pricing" },
        { name: data.release_title, to: `/products/${data.release}` },
        { name: `${data.name}, ${data.line_name} ${data.number}` },
      ]}
    >
      <FieldRow>
        <ChoiceBox
          label="State"
          value={data.state}
          set={(value) => change({ state: value, subgrades: null })}
          choices={states}
          width={150}
        />
        <ChoiceBox
          label="Sales of the last"
          value={window}
          set={(value) => change({ window: value })}
          choices={WINDOWS}
          width={150}
        />
        {data.subgrades.length > 0 && (
          <ChoiceBox
            label="Subgrades"
            value={subgrades}
            set={(value) => change({ subgrades: value })}
            choices={{
              "": "all",
              least: "the least that makes it",
              ...Object.fromEntries(data.subgrades.map((it) => [it, it])),
            }}
            width={210}
          />
        )}
      </FieldRow>
      <TwoColumns
        main={
          <>
            <SalesPlot data={data} />
            <Lent card={card} state={data.state} used={data.used} currency={data.currency} />
            <Adding card={card} state={data.state} />
            <AllSeen data={data} />
            <Graded
              ladders={data.ladders}
              gems={data.gems}
              card={card}
              choose={(value) => change({ state: value })}
            />
          </>
        }
        aside={
          <>
            <LookUp card={card} state={data.state} />
            <Working data={data} choose={(value) => change({ state: value })} />
          </>
        }
      />
    </PageTitle>
  );
}

/** One typed line for a sale, or a whole page of them pasted. */
function Adding({ card, state }: { card: Omit<Schemas["SalesIn"], "text" | "state">; state: string }) {
  const { form, submit, busy, faults } = useEntry({
    draft: `sales of ${card.release} ${card.line} ${card.number} ${card.variant}`,
    empty: { text: "" },
    shape: z.object({ text: words }),
    send: (body, key) =>
      take(client.POST("/api/prices/card", { body: { ...card, ...body, state }, ...keyed(key) })),
    keys: PRICED,
    text: ({ added, known }) =>
      `${count(added)} added${known > 0 ? `, ${counted(known, "was", "were")} there already` : ""}.`,
    undo: (_, { batch }) =>
      batch === null
        ? Promise.resolve()
        : take(client.DELETE("/api/prices/batches/{batch}", { params: { path: { batch } } })),
  });
  const navigate = useNavigate();
  useKey("v", "paste a page of results", () => void navigate(pasteOf(card)));
  useKey("f", "fetch prices", () => void navigate(fetchOf(card)));
  useKey("a", "type what it went for", (event) => {
    event.preventDefault(); // the key is not typed into the field that it leads to
    form.setFocus("text");
  });
  return (
    <EntryRow
      submit={submit}
      busy={busy}
      faults={faults}
      act="Add"
      after={
        <span>
          <Link to={pasteOf(card)}>or paste a page of results</Link> <Key>V</Key>{" "}
          <Link to={fetchOf(card)}>or fetch them</Link> <Key>F</Key>
        </span>
      }
    >
      <WordsField
        control={form.control}
        name="text"
        label="What it went for, a line for each"
        hint={`12.50 + 1.20 bellbuoy 3 nov; also ask, 7 bids, lot of 3, a state (else ${state}), a grade like Plumb:9`}
        width={560}
        more={{ multiline: true, maxRows: 12 }}
      />
    </EntryRow>
  );
}

const FEW = 12;

function AllSeen({ data }: { data: Price }) {
  const [all, setAll] = useState(false);
  const newest = [...data.seen].reverse();
  const choose = useAct(
    ({ comp, choice }: { comp: Comp; choice: Comp["choice"] }) =>
      take(
        client.PUT("/api/comps/{number}/choice", {
          params: { path: { number: comp.number } },
          body: { choice },
        }),
      ),
    {
      keys: PRICED,
      told: ({ choice }) =>
        choice === "keep" ? "It counts." : choice === "leave_out" ? "It is left out." : "As it was.",
      undo: ({ comp }) =>
        take(
          client.PUT("/api/comps/{number}/choice", {
            params: { path: { number: comp.number } },
            body: { choice: comp.choice },
          }),
        ),
    },
  );
  const columns: Column<Comp>[] = [
    { key: "day", name: "Day", kind: "day", cell: (comp) => day(comp.day) },
    {
      key: "kind",
      name: "Kind",
      cell: (comp) => KINDS[comp.kind] + (comp.bids ? `, ${comp.bids} bids` : ""),
    },
    {
      key: "where",
      name: "Where, in which words",
      cell: (comp) => (
        <>
          {comp.market}
          {comp.note && <Box sx={{ fontSize: 12, color: "text.secondary" }}>{comp.note}</Box>}
        </>
      ),
      text: (comp) => [comp.market, comp.note].filter(Boolean).join(": "),
    },
    { key: "state", name: "State", cell: (comp) => comp.state ?? "not said" },
    {
      key: "price",
      name: "price + shipping",
      kind: "figure",
      cell: (comp) =>
        `${money(comp.price)} + ${comp.shipping === null ? "?" : money(comp.shipping)} ${comp.currency}`,
    },
    {
      key: "all_in",
      name: "all-in",
      kind: "figure",
      cell: (comp) => (comp.all_in === null ? "" : money(comp.all_in)),
    },
    {
      key: "counts",
      name: "Counts",
      cell: (comp) => (comp.flagged ? "far off" : (comp.why ?? (comp.choice === "keep" ? "kept" : "yes"))),
    },
    {
      key: "acts",
      name: "",
      cell: (comp) =>
        comp.flagged || comp.choice !== null ? (
          <Act
            text={comp.flagged ? "Keep it" : "As it was"}
            go={() => choose.mutate({ comp, choice: comp.flagged ? "keep" : null })}
          />
        ) : (
          <Act text="Leave out" go={() => choose.mutate({ comp, choice: "leave_out" })} />
        ),
    },
  ];
  return (
    <Section title="All that was seen" point={data.currency}>
      <DataTable
        label="All that was seen"
        rows={all ? newest : newest.slice(0, FEW)}
        columns={columns}
        keyOf={(comp) => comp.number}
        empty="Nothing yet: type above what it went for."
        foot={
          newest.length > FEW && (
            <Button color="inherit" onClick={() => setAll(!all)}>
              {all ? `The newest ${FEW}` : `All ${count(newest.length)}`}
            </Button>
          )
        }
      />
    </Section>
  );
}
