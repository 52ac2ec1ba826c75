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
import { Figures } from "../../shared/Figures";
import { EntryRow } from "../../shared/forms/EntryRow";
import { WordsField } from "../../shared/forms/fields";
import { words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { count, day, money, percent } from "../../shared/format";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { useAddress } from "../../shared/useAddress";
import { keyed } from "../../shared/useOnce";
import { fetchOf, KINDS, pasteOf, PRICED } from "./kinds";
import { Graded } from "./Graded";
import { LookUp } from "./LookUp";
import { SalesPlot } from "./SalesPlot";

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

/** A school by its name, and whether it is the one that counts. */
function mark(data: Schemas["PriceOut"], school: Schemas["PriceOut"]["school"], name: string): string {
  return data.school === school ? `${name}, which counts` : name;
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
      `${count(added)} added${known > 0 ? `, ${count(known)} ${known === 1 ? "was" : "were"} there already` : ""}.`,
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

function Act({ text, go }: { text: string; go: () => void }) {
  return (
    <Button color="inherit" onClick={go} sx={{ p: 0, minWidth: 24, minHeight: 24, whiteSpace: "nowrap" }}>
      {text}
    </Button>
  );
}

/** A change with its sign. */
const moved = (share: number) => `${share < 0 ? "\u2212" : "+"}${percent(Math.abs(share))}`;

/** The page of bids with what is known here. */
function bidOf(known: Record<string, string | null>): string {
  const told = Object.entries(known).filter((it): it is [string, string] => it[1] !== null);
  return `/buying/-/bid?${new URLSearchParams(told).toString()}`;
}

function Working({ data, choose }: { data: Price; choose: (state: string) => void }) {
  const { trend } = data;
  return (
    <>
      <Section title="What to ask" point={data.way ? `net by ${data.way}` : data.currency}>
        {data.asking.length === 0 && <Box sx={{ py: 1, color: "text.secondary" }}>Nothing to go by yet.</Box>}
        <Figures
          rows={data.asking.map((it) => [
            it.name,
            `${money(it.price)}${it.net === null ? "" : `, nets ${money(it.net)}`}${it.days === null ? "" : `, about ${count(Math.ceil(it.days))} days`}`,
          ])}
        />
        {data.others.length > 0 && data.asking.length > 0 && (
          <Table label="What it nets elsewhere">
            <Heads of={["Net elsewhere", ...data.asking.map((it) => ({ figure: it.name }))]} />
            <tbody>
              {data.others.map((other) => (
                <tr key={other.way} data-row>
                  <td>{other.way}</td>
                  {other.nets.map((net, at) => (
                    <td key={data.asking[at]?.name} className="figure">
                      {money(net)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </Table>
        )}
      </Section>
      {data.meeting.lowest !== null && (
        <Section title="Offers" point={data.currency}>
          <Figures
            rows={[
              ["Lowest to take", money(data.meeting.lowest)],
              [
                "In person",
                data.meeting.middle === null
                  ? "you net more by selling it"
                  : `${money(data.meeting.seller)} to ${money(data.meeting.buyer)}, say ${money(data.meeting.middle)}`,
              ],
            ]}
          />
          <Aside>
            Less than the lowest is had by asking the quick price. The most to bid:{" "}
            <Link to={bidOf({ ceiling: data.meeting.buyer })}>to keep it</Link>, or{" "}
            <Link to={bidOf({ price: data.asking[1]?.price ?? null })}>to sell it again</Link>.
          </Aside>
        </Section>
      )}
      <Section title="By school" point={`${count(data.used)} sales`}>
        <Figures
          rows={[
            [mark(data, "weighted", "Weighted median"), money(data.weighted)],
            [mark(data, "last", "Last"), money(data.last)],
            [mark(data, "average", "Average"), money(data.mean)],
            [mark(data, "median", "Median"), money(data.median)],
            [
              "Highest ever",
              data.highest === null ? "unknown" : `${money(data.highest)}, ${day(data.highest_on ?? "")}`,
            ],
            [
              "Lowest and highest",
              data.low === null ? "unknown" : `${money(data.low)} to ${money(data.high)}`,
            ],
            ...data.asks.map(
              (ask) =>
                [
                  `Lowest ask${ask.market ? `, ${ask.market}` : ""}, ${ask.state ?? "not said"}`,
                  money(ask.lowest),
                ] as const,
            ),
            [
              "Book",
              data.book_low === null && data.book_high === null
                ? "unknown"
                : `${money(data.book_low)} to ${money(data.book_high)}`,
            ],
          ]}
        />
      </Section>
      <Section title="How it moves" point="per 30 days">
        <Figures
          rows={[
            [
              "Trend",
              trend === null
                ? "too few sales"
                : `${moved(trend.per_30_days)} (${moved(trend.low)} to ${moved(trend.high)})`,
            ],
            ...(trend
              ? ([
                  ["From", `${day(trend.start_on)}, ${money(trend.start)}`],
                  ["To", `${day(trend.end_on)}, ${money(trend.end)}`],
                ] as const)
              : []),
            ["Sales in 30 days", data.sales_per_30_days.toFixed(1)],
            [
              "Asks last for",
              data.asks.length === 0
                ? "nobody asks"
                : data.months_of_supply === null
                  ? "unknown"
                  : `${data.months_of_supply.toFixed(1)} months`,
            ],
          ]}
        />
        {trend?.starts_at_extreme && (
          <Aside>It starts at its highest or lowest: the plain change misleads.</Aside>
        )}
      </Section>
      {data.states.length > 1 && (
        <Section title="By state" point={data.currency}>
          {data.states.map((it) => (
            <Box key={it.state} sx={{ display: "flex", justifyContent: "space-between", fontSize: 13 }}>
              <Act text={it.state} go={() => choose(it.state)} />
              <span>
                {money(it.estimate)}, {count(it.used)} sales
              </span>
            </Box>
          ))}
        </Section>
      )}
      {data.elsewhere.length > 0 && (
        <Section title="The same grade elsewhere" point={data.currency}>
          <Figures
            rows={data.elsewhere.map((it) => [
              it.state.replace(":", " "),
              `${money(it.estimate)}${it.estimate && data.estimate ? `, ${moved(it.estimate / data.estimate - 1)}` : ""}`,
            ])}
          />
        </Section>
      )}
      {data.assumed && <Aside>{data.assumed}</Aside>}
    </>
  );
}
