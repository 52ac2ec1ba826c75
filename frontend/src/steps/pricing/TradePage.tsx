import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { CardSearch, cardName } from "../../shared/CardSearch";
import { FieldRow } from "../../shared/FieldRow";
import { money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { useDebounced } from "../../shared/useDebounced";
import { useDraft } from "../../shared/useDraft";
import { EMPTY_TRADE, faultOf, shareOf, toTraded, type OnTable, type Side } from "./trade";

const SIDES: readonly [Side, string][] = [
  ["give", "You give"],
  ["get", "You get"],
];

/** A trade of several cards for several: what both sides are worth, and the cash that evens it. */
export default function TradePage() {
  const [table, setTable, forget] = useDraft("a trade", EMPTY_TRADE);
  const settled = useDebounced(table, 250);
  const [give, get] = [toTraded(settled.give), toTraded(settled.get)];
  const discount = shareOf(settled.discount);
  const body = give && get && discount !== null ? { give, get, discount } : null;
  const found = useQuery({
    queryKey: ["prices", "trade", body],
    queryFn: ({ signal }) =>
      take(client.POST("/api/prices/trade", { body: body ?? { give: [], get: [], discount: "0" }, signal })),
    enabled: body !== null,
    placeholderData: (before) => before,
  });
  const data = found.data;
  const put = (side: Side, cards: OnTable[]) => setTable({ ...table, [side]: cards });
  return (
    <PageTitle
      title="A trade"
      {...(data ? { verdict: data.verdict } : {})}
      crumbs={[{ name: "Pricing", to: "/pricing" }, { name: "A trade" }]}
    >
      {found.isError && (
        <Box role="alert" sx={{ color: "error.main", fontSize: 13 }}>
          {inWords(found.error)}
        </Box>
      )}
      {SIDES.map(([side, title]) => (
        <OneSide
          key={side}
          title={title}
          comesIn={side === "get"}
          cards={table[side]}
          put={(cards) => put(side, cards)}
          worths={body ? (data?.[side] ?? []) : []}
          total={data && body ? (side === "give" ? data.given : data.got) : null}
          currency={data?.currency ?? ""}
        />
      ))}
      <FieldRow>
        <TextField
          label="Your cards count less by, %"
          value={table.discount}
          onChange={(event) => setTable({ ...table, discount: event.target.value })}
          error={shareOf(table.discount) === null}
          helperText={
            shareOf(table.discount) === null ? "write per cent, from 0 to under 100" : "if you agreed so"
          }
          slotProps={{ htmlInput: { inputMode: "decimal" } }}
          sx={{ width: 230 }}
        />
      </FieldRow>
      <Box sx={{ display: "flex", gap: 1, "@media print": { display: "none" } }}>
        <Button color="inherit" variant="outlined" onClick={() => window.print()}>
          Print
        </Button>
        <Button
          color="inherit"
          disabled={table.give.length + table.get.length === 0}
          onClick={() => {
            forget();
            setTable(EMPTY_TRADE);
          }}
        >
          Clear the table
        </Button>
      </Box>
      <Aside>
        Nothing is booked here: once it is agreed, take out what you gave in Stock and record what you got as
        a purchase.
      </Aside>
    </PageTitle>
  );
}

interface SideProps {
  title: string;
  cards: readonly OnTable[];
  put: (cards: OnTable[]) => void;
  worths: readonly Schemas["TradedOut"][];
  total: string | null;
  currency: string;
  comesIn?: boolean;
}

function OneSide({ title, comesIn = false, cards, put, worths, total, currency }: SideProps) {
  const [typed, setTyped] = useState("");
  const change = (at: number, more: Partial<OnTable>) =>
    put(cards.map((card, place) => (place === at ? { ...card, ...more } : card)));
  return (
    <Section title={title} point={total === null ? "" : `${money(total)} ${currency}`}>
      {cards.length > 0 && (
        <Table label={title}>
          <Heads
            of={[
              "Card",
              "State",
              "Copies",
              { figure: "known" },
              "Agreed",
              { figure: "worth" },
              { hidden: "actions" },
            ]}
          />
          <tbody>
            {cards.map((card, at) => {
              const known = worths[at]?.card.version === card.version ? worths[at] : undefined;
              const fault = faultOf(card);
              return (
                <tr key={at} data-row>
                  <td>
                    <span data-cell>{card.name}</span>
                    {fault && <Box sx={{ fontSize: 12, color: "error.main" }}>{fault}</Box>}
                  </td>
                  <td>
                    <Bare
                      label={`State of ${card.name}`}
                      value={card.state}
                      set={(state) => change(at, { state })}
                    />
                  </td>
                  <td>
                    <Bare
                      label={`Copies of ${card.name}`}
                      value={card.count}
                      set={(count) => change(at, { count })}
                      width={60}
                    />
                  </td>
                  <td className="figure">
                    {card.value ? "" : known?.value == null ? "unknown" : money(known.value)}
                  </td>
                  <td>
                    <Bare
                      label={`What one ${card.name} is agreed to be worth`}
                      value={card.value}
                      set={(value) => change(at, { value })}
                    />
                  </td>
                  <td className="figure">{known?.worth == null ? "unknown" : money(known.worth)}</td>
                  <td className="figure">
                    <Button
                      color="inherit"
                      onClick={() => put(cards.filter((_, place) => place !== at))}
                      aria-label={`Take ${card.name} off the table`}
                      sx={{ py: 0 }}
                    >
                      Take off
                    </Button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </Table>
      )}
      <Box sx={{ mt: 1, "@media print": { display: "none" } }}>
        <CardSearch
          label={`${title}: a card, by number or subject`}
          value={typed}
          type={setTyped}
          {...(comesIn ? { comesIn: { chosen: null } } : {})}
          pick={(card) => {
            put([
              ...cards,
              {
                version: card.version,
                name: `${cardName(card)} ${card.number}`,
                state: "NM",
                count: "1",
                value: "",
              },
            ]);
            setTyped("");
          }}
          width={420}
        />
      </Box>
    </Section>
  );
}

function Bare(props: { label: string; value: string; set: (text: string) => void; width?: number }) {
  return (
    <TextField
      variant="standard"
      value={props.value}
      onChange={(event) => props.set(event.target.value.slice(0, 60))}
      slotProps={{ htmlInput: { "aria-label": props.label } }}
      sx={{ width: props.width ?? 110 }}
    />
  );
}
