import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { priceOf } from "../../shared/cardPages";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { Figures } from "../../shared/Figures";
import { count, day, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside, Quiet } from "../../shared/states";
import { StockTabs } from "../../shared/StockTabs";
import { Table, Heads } from "../../shared/Table";
import { EditableCell } from "../../shared/EditableCell";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { useArrowKeys } from "../../shared/useArrowKeys";
import { plain } from "../../shared/VerdictLine";
import * as z from "zod/mini";
import { EntryRow } from "../../shared/forms/EntryRow";
import { DayField, MoneyField, WordsField } from "../../shared/forms/fields";
import { readAmount } from "../../shared/forms/reading";
import { amount, code, day as dayShape } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { keyed } from "../../shared/useOnce";
import { useToday } from "../../shared/useToday";
import { sayOf, shownOf, type Goal, type Shown, type Slot } from "./goals";
import { OFF_PAPER } from "../../shared/print";

type ByPacks = Schemas["ByPacksOut"];
type Terms = Schemas["SellerTermsOut"];

/** A goal: a grid that fills, what is missing and double, and the ways to finish it. */
export default function GoalPage() {
  const { number = "" } = useParams();
  const path = { number: Number(number) };
  const goal = useQuery({
    queryKey: ["goals", number],
    queryFn: () => take(client.GET("/api/goals/{number}", { params: { path } })),
  });
  const navigate = useNavigate();
  const remove = useAct(() => take(client.DELETE("/api/goals/{number}", { params: { path } })), {
    keys: ["goals"],
    text: "The goal is given up; what was held stays.",
    undo: () => take(client.POST("/api/goals/{number}/back", { params: { path } })),
    done: () => void navigate("/stock/-/goals"),
  });
  const [shown, setShown] = useState<Shown>("all");
  if (!goal.data) return <Answer of={goal} />;
  const data = goal.data;
  const slots = shownOf(data.slots, shown);
  return (
    <PageTitle
      title={data.name}
      verdict={data.verdict}
      crumbs={[{ name: "Stock", to: "/stock" }, { name: "Goals", to: "/stock/-/goals" }, { name: data.name }]}
    >
      <Box sx={OFF_PAPER}>
        <StockTabs />
      </Box>
      <Section
        title="The grid"
        point={`${count(data.filled)} of ${count(data.slots.length)}${data.least ? `, at least ${data.least}` : ""}`}
      >
        <Box sx={{ my: 1, ...OFF_PAPER }}>
          <ChoiceBox
            label="Show"
            value={shown}
            set={(value) => setShown(value as Shown)}
            choices={{ all: "all", missing: "what is missing", doubles: "what is double" }}
            width={170}
          />
        </Box>
        <Grid slots={slots} />
      </Section>
      <TwoColumns
        main={
          <>
            {data.filled < data.slots.length && <BasketPart goal={data} />}
            {data.filled < data.slots.length && data.release !== null && data.least === null && (
              <PacksPart goal={data} />
            )}
          </>
        }
        aside={
          <>
            <WholePart goal={data} />
            <Box sx={{ display: "flex", gap: 1, ...OFF_PAPER }}>
              <Button color="inherit" variant="outlined" onClick={() => window.print()}>
                Print
              </Button>
              <Button color="inherit" onClick={() => remove.mutate(undefined)}>
                Give it up
              </Button>
            </Box>
          </>
        }
      />
    </PageTitle>
  );
}

/** The slots as cells: what is here is filled, what is missing is empty, what is double says how many. */
function Grid({ slots }: { slots: readonly Slot[] }) {
  const keys = useArrowKeys<HTMLUListElement>();
  if (slots.length === 0) return <Box sx={{ py: 1, color: "text.secondary" }}>Nothing of that kind.</Box>;
  return (
    <Box
      component="ul"
      aria-label="Slots"
      {...keys}
      sx={{ listStyle: "none", m: 0, p: 0, display: "flex", flexWrap: "wrap", gap: 0.5 }}
    >
      {slots.map((slot, at) => {
        const isHere = slot.item !== null;
        const to = isHere ? `/stock/${slot.item}` : slot.card ? priceOf(slot.card) : null;
        const look = {
          display: "block",
          minWidth: 34,
          maxWidth: 150,
          minHeight: 28,
          px: 0.5,
          py: 0.25,
          fontSize: 12,
          textAlign: "center",
          overflow: "hidden",
          textOverflow: "ellipsis",
          whiteSpace: "nowrap",
          border: 1,
          borderStyle: isHere ? "solid" : "dashed",
          borderColor: isHere ? "tone.ink" : "text.secondary",
          bgcolor: isHere ? "tone.ink" : "transparent",
          color: isHere ? "background.paper" : "text.primary",
          textDecoration: "none",
          ...(slot.spare > 0 ? { "&::after": { content: `"+${slot.spare}"`, ml: 0.25, fontSize: 11 } } : {}),
        } as const;
        return (
          <li key={`${at} ${slot.name}`} data-row>
            {to ? (
              <Box component={Link} to={to} data-cell title={sayOf(slot)} aria-label={sayOf(slot)} sx={look}>
                {slot.name}
              </Box>
            ) : (
              <Box component="span" data-cell title={sayOf(slot)} aria-label={sayOf(slot)} sx={look}>
                {slot.name}
              </Box>
            )}
          </li>
        );
      })}
    </Box>
  );
}

/** The cheapest way to buy what is missing of what is asked for, by the terms that hold here. */
function BasketPart({ goal }: { goal: Goal }) {
  const [terms, setTerms] = useState<Schemas["SellerTermsIn"][]>([]);
  const path = { number: goal.number };
  const found = useQuery({
    queryKey: ["goals", String(goal.number), "basket", terms],
    queryFn: () => take(client.POST("/api/goals/{number}/basket", { params: { path }, body: { terms } })),
    retry: false,
    placeholderData: (before) => before,
  });
  if (found.isError && !found.data) return <Aside>{inWords(found.error)}</Aside>;
  if (!found.data)
    return (
      <Section title="The best basket" point="">
        <Quiet />
      </Section>
    );
  const data = found.data;
  const say = (it: Terms, part: Partial<Schemas["SellerTermsIn"]>) => {
    const said = data.terms.map(({ seller, shipping, each_further, free_from }) => ({
      seller,
      shipping,
      each_further,
      free_from,
    }));
    setTerms(said.map((each) => (each.seller === it.seller ? { ...each, ...part } : each)));
    return Promise.resolve();
  };
  return (
    <Section
      title="The best basket"
      point={`${count(data.asks)} asks of the last 30 days, in ${data.currency}`}
    >
      <Box sx={{ my: 0.5 }}>
        {plain(data.verdict.sentence)}{" "}
        <Box component="span" sx={{ color: "text.secondary" }}>
          {plain(data.verdict.rests_on)}
        </Box>
      </Box>
      {data.orders.map((order) => (
        <Box key={order.seller} sx={{ borderTop: 1, borderColor: "divider", py: 0.5 }}>
          <Box sx={{ display: "flex", justifyContent: "space-between", fontWeight: 600 }}>
            <span>{order.seller}</span>
            <span className="figure">{money(order.total)}</span>
          </Box>
          {order.cards.map((card) => (
            <Box key={card.name} sx={{ display: "flex", justifyContent: "space-between", fontSize: 13 }}>
              <span>
                {card.name}
                {card.card && card.card.subject !== card.name && ` ${card.card.subject}`}
              </span>
              <span className="figure">{money(card.price)}</span>
            </Box>
          ))}
          <Box
            sx={{ display: "flex", justifyContent: "space-between", fontSize: 13, color: "text.secondary" }}
          >
            <span>shipping</span>
            <span className="figure">{money(order.shipping)}</span>
          </Box>
        </Box>
      ))}
      {data.missing.length > 0 && (
        <Box sx={{ fontSize: 13, color: "text.secondary", mt: 0.5 }}>
          Not asked for: {data.missing.slice(0, 40).join(", ")}
          {data.missing.length > 40 && ` and ${count(data.missing.length - 40)} more`}
        </Box>
      )}
      {data.terms.length > 0 && (
        <Box sx={OFF_PAPER}>
          <Table label="What an order costs to send">
            <Heads
              of={["Seller", { figure: "an order" }, { figure: "each further" }, { figure: "free from" }]}
            />
            <tbody>
              {data.terms.map((it) => (
                <tr key={it.seller} data-row>
                  <td>
                    <span data-cell>{it.seller}</span>
                  </td>
                  {(["shipping", "each_further", "free_from"] as const).map((name) => (
                    <td className="figure" key={name}>
                      <EditableCell
                        value={it[name] ?? ""}
                        shown={it[name] === null ? "never" : money(it[name])}
                        label={`${it.seller}, ${name.replace("_", " ")}`}
                        save={(text) => {
                          if (text.trim() === "" && name === "free_from") return say(it, { [name]: null });
                          const read = readAmount(text);
                          return "fault" in read
                            ? Promise.reject(new Error(read.fault))
                            : say(it, { [name]: read.value });
                        }}
                      />
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </Table>
        </Box>
      )}
    </Section>
  );
}

const PACKS: Column<ByPacks>[] = [
  { key: "name", name: "Format", cell: (row) => row.name },
  {
    key: "mean",
    name: "to find all",
    kind: "figure",
    cell: (row) => (row.why_not ? "" : `${count(Math.ceil(row.mean))} ${row.unit}s`),
  },
  {
    key: "open",
    name: "open, then buy the rest",
    kind: "figure",
    cell: (row) =>
      row.why_not ?? (row.open === null ? "not known" : `${count(Math.round(row.open))} ${row.unit}s`),
  },
  {
    key: "cost",
    name: "costs in all",
    kind: "figure",
    cell: (row) => (row.cost === null ? "" : money(row.cost)),
  },
  {
    key: "buy",
    name: "all bought singly",
    kind: "figure",
    cell: (row) => (row.buy_all === null ? "" : money(row.buy_all)),
  },
];

/** Finishing by opening packs, format by format. */
function PacksPart({ goal }: { goal: Goal }) {
  const path = { number: goal.number };
  const found = useQuery({
    queryKey: ["goals", String(goal.number), "packs"],
    queryFn: () => take(client.GET("/api/goals/{number}/packs", { params: { path } })),
  });
  return (
    <Section title="By packs" point="opened until buying the rest is cheaper">
      {!found.data ? (
        <Answer of={found} />
      ) : (
        <DataTable
          label="By packs"
          rows={found.data.formats}
          columns={PACKS}
          keyOf={(row) => row.format}
          empty="No product sheet says what packs hold."
        />
      )}
    </Section>
  );
}

/** The whole set from three sides, each with its day. */
function WholePart({ goal }: { goal: Goal }) {
  const { whole } = goal;
  const said = (it: Schemas["SeenOut"] | null) =>
    it === null
      ? "not known"
      : `${money(it.amount)}${it.other !== null && it.currency !== goal.currency ? ` (${money(it.other)} ${it.currency})` : ""}, ${day(it.day)}`;
  return (
    <Section title="All of it" point={`in ${goal.currency}`}>
      <Figures
        rows={[
          ["Sold as one", said(whole.as_one)],
          [whole.unknown ? `Singly, without ${count(whole.unknown)} unknown` : "Singly", said(whole.singly)],
          ["Book, low", said(whole.book_low)],
          ["Book, high", said(whole.book_high)],
          ["Missing, singly", goal.singly === null ? "not known" : money(goal.singly)],
          ["Doubles", count(goal.doubles)],
        ]}
      />
      <Box sx={OFF_PAPER}>
        <SayWhole goal={goal} />
      </Box>
    </Section>
  );
}

/** What all of it was sold for as one, somewhere, on a day. */
function SayWhole({ goal }: { goal: Goal }) {
  const today = useToday();
  const { form, submit, busy, faults } = useEntry({
    draft: `whole ${goal.number}`,
    empty: { price: "", currency: goal.currency, day: today },
    shape: z.object({ price: amount, currency: code, day: dayShape(today) }),
    send: (whole, key) =>
      take(
        client.PUT("/api/goals/{number}/whole", {
          params: { path: { number: goal.number } },
          body: { version: goal.version, whole },
          ...keyed(key),
        }),
      ),
    keys: ["goals"],
    text: "Kept.",
  });
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="Keep it" label="Sold as one">
      <MoneyField control={form.control} name="price" label="Sold as one for" />
      <WordsField control={form.control} name="currency" label="in" width={64} />
      <DayField control={form.control} name="day" label="On" width={130} />
    </EntryRow>
  );
}
