import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { client, take, type Schemas } from "../../shared/api/client";
import { faultAt, otherFaults } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { day, day as inDays, money } from "../../shared/format";
import { readAmount, readDay } from "../../shared/forms/reading";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { useToday } from "../../shared/useToday";
import { ValueField } from "../../shared/ValueField";
import { openOf } from "./payouts";
import { KEYS } from "./queries";

/** What markets owe, and what they pay out, set against the orders that it is for. */
export function Payouts({
  owed,
  currency,
}: {
  owed: readonly Schemas["OwedByMarketOut"][];
  currency: string;
}) {
  if (owed.length === 0) return null;
  return (
    <Section title="What markets owe" point={`not paid out yet, ${currency}`}>
      {owed.map((it) => (
        <Payout key={it.market} owed={it} />
      ))}
    </Section>
  );
}

/** Of an order of many things the first few are named. */
const CUT = { display: "-webkit-box", WebkitLineClamp: 2, WebkitBoxOrient: "vertical", overflow: "hidden" };

function Payout({ owed }: { owed: Schemas["OwedByMarketOut"] }) {
  const today = useToday();
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const [said, setSaid] = useState<string | null>(null);
  const [when, setWhen] = useState<string | null>(null);
  const [asFee, setAsFee] = useState(false);
  const found = useQuery({
    queryKey: ["orders", "owed", owed.market],
    queryFn: () => take(client.GET("/api/orders/owed", { params: { query: { market: owed.market } } })),
  });
  const orders = found.data?.orders ?? [];
  const chosen = orders.filter((it) => !left.has(it.document));
  const open = openOf(chosen);
  const typed = said ?? (found.data ? open : "");
  const read = readAmount(typed);
  const on = when === null ? { value: today } : readDay(when, today);
  const pay = useAct(
    () =>
      take(
        client.POST("/api/orders/payouts", {
          body: {
            market: owed.market,
            amount: "value" in read ? read.value : typed,
            day: "value" in on ? on.value : today,
            purse: "bank",
            orders: chosen.map((it) => it.document),
            as_fee: asFee,
          },
        }),
      ),
    {
      keys: KEYS,
      text: `${owed.market} paid out.`,
      done: () => {
        setSaid(null);
        setLeft(new Set());
        setAsFee(false);
      },
      quiet: true,
    },
  );
  const turn = (order: number) => {
    const fresh = new Set(left);
    if (!fresh.delete(order)) fresh.add(order);
    setLeft(fresh);
    setSaid(null);
  };
  const others = pay.error ? otherFaults(pay.error, (field) => field === "amount" || field === "day") : [];
  const differs = "value" in read && Number(read.value) !== Number(open) && chosen.length > 0;
  return (
    <Box sx={{ mb: 2 }}>
      <Box sx={{ fontWeight: 600 }}>
        {owed.market} owes {money(owed.amount)}
        {found.data && Number(found.data.rest) !== 0 && `, ${money(found.data.rest)} of it for no order`}
      </Box>
      {orders.length > 0 && (
        <Table label={`What ${owed.market} owes`}>
          <Heads of={[{ hidden: "in this payout" }, "Sold on", "order", "what", { figure: "open" }]} />
          <tbody>
            {orders.map((it) => (
              <tr key={it.document} data-row>
                <td>
                  <Checkbox
                    checked={!left.has(it.document)}
                    onChange={() => turn(it.document)}
                    slotProps={{ input: { "aria-label": `${it.reference} is in this payout` } }}
                  />
                </td>
                <td className="day">{day(it.day)}</td>
                <td style={{ whiteSpace: "nowrap" }}>
                  <Link to={`/selling/${it.document}`}>{it.reference}</Link>
                </td>
                <td>
                  <Box component="span" sx={CUT}>
                    {it.text.replace(/^sold: /, "")}
                  </Box>
                </td>
                <td className="figure">{money(it.amount)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <FieldRow>
        <ValueField
          label={`${owed.market} paid out`}
          value={typed}
          commit={setSaid}
          fault={"fault" in read ? read.fault : (faultAt(pay.error, "amount") ?? null)}
          hint={chosen.length ? `those have ${money(open)} open` : "for no order"}
          inputMode="decimal"
          width={170}
        />
        <ValueField
          label="On"
          value={when ?? inDays(today)}
          commit={setWhen}
          fault={"fault" in on ? on.fault : (faultAt(pay.error, "day") ?? null)}
          width={130}
        />
        {differs && (
          <FormControlLabel
            sx={{ mt: "20px" }}
            control={<Checkbox checked={asFee} onChange={(event) => setAsFee(event.target.checked)} />}
            label="the difference is its fee"
          />
        )}
        <Button
          variant="outlined"
          color="inherit"
          disabled={pay.isPending || "fault" in read || "fault" in on}
          onClick={() => pay.mutate(undefined)}
          sx={{ mt: "20px" }}
        >
          It is in the bank
        </Button>
      </FieldRow>
      {others.length > 0 && (
        <Box role="alert" sx={{ color: "tone.lossText", fontSize: 13 }}>
          {others.join(" ")}
        </Box>
      )}
    </Box>
  );
}
