import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useState } from "react";
import { client, inWords, take } from "../../shared/api/client";
import { faultAt } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { count, day, money } from "../../shared/format";
import { readAmount } from "../../shared/forms/reading";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { useDayField } from "../../shared/useDayField";
import { ValueField } from "../../shared/ValueField";
import { KEYS, type Order } from "./queries";

/** After the post: it arrives, or the buyer complains, and is paid back for what comes back or what they keep. */
export function Afterwards({ data }: { data: Order }) {
  const [complaint, setComplaint] = useState("");
  const path = { number: data.number };
  const arrived = useDayField();
  const arrive = useAct(
    () =>
      take(client.POST("/api/orders/{number}/arrived", { params: { path }, body: { day: arrived.day! } })),
    { keys: KEYS, text: "It arrived.", quiet: true },
  );
  const complain = useAct(
    (said: string | null) =>
      take(client.PUT("/api/orders/{number}/complaint", { params: { path }, body: { complaint: said } })),
    { keys: KEYS, text: "Noted.", done: () => setComplaint(""), quiet: true },
  );
  const unpost = useAct(() => take(client.DELETE("/api/orders/{number}/posted", { params: { path } })), {
    keys: KEYS,
    text: "It is packed, and not posted.",
  });
  const parcel = data.parcels.find((it) => it.direction === "out");
  return (
    <>
      <Section
        title="Where it is"
        point={parcel?.tracking ? `tracked ${parcel.tracking}` : parcel ? "not tracked" : ""}
      >
        <Box component="ol" sx={{ m: 0, pl: 2.5 }}>
          {parcel?.sent_on && <li>posted on {day(parcel.sent_on)}</li>}
          {parcel?.due_on && !parcel.received_on && <li>due on {day(parcel.due_on)}</li>}
          {parcel?.received_on && <li>arrived on {day(parcel.received_on)}</li>}
          {data.claim_until && !parcel?.received_on && <li>a claim must be in by {day(data.claim_until)}</li>}
        </Box>
        {data.complaint && (
          <Box role="status" sx={{ my: 1, borderLeft: 3, borderColor: "tone.marker", pl: 1.25 }}>
            {data.buyer ?? "The buyer"} complains: {data.complaint}{" "}
            <Button color="inherit" disabled={complain.isPending} onClick={() => complain.mutate(null)}>
              It is settled
            </Button>
          </Box>
        )}
        {data.stage === "sent" && (
          <FieldRow>
            <ValueField label="Arrived on" {...arrived.field(faultAt(arrive.error, "day"))} width={130} />
            <Button
              variant="contained"
              disabled={arrive.isPending || arrived.day === null}
              onClick={() => arrive.mutate(undefined)}
            >
              It arrived
            </Button>
            <Button color="inherit" disabled={unpost.isPending} onClick={() => unpost.mutate(undefined)}>
              Not posted after all
            </Button>
          </FieldRow>
        )}
        {["sent", "done"].includes(data.stage) && (
          <FieldRow>
            <ValueField
              label="The buyer complains of"
              value={complaint}
              commit={setComplaint}
              fault={faultAt(complain.error, "complaint") ?? null}
              width={320}
            />
            <Button
              variant="outlined"
              color="inherit"
              disabled={complain.isPending}
              onClick={() => complain.mutate(complaint)}
            >
              Note it
            </Button>
          </FieldRow>
        )}
      </Section>
      <PayBack data={data} />
    </>
  );
}

function PayBack({ data }: { data: Order }) {
  const [amounts, setAmounts] = useState<Readonly<Record<number, string>>>({});
  const [returned, setReturned] = useState(false);
  const back = useDayField();
  const sold = data.lines.filter((it) => it.state === "sold");
  const said = sold.flatMap((it) => {
    const text = amounts[it.item]?.trim();
    const read = text ? readAmount(text) : null;
    return text ? [{ item: it.item, price: read && "value" in read ? read.value : text }] : [];
  });
  const pay = useAct(
    () =>
      take(
        client.POST("/api/orders/{number}/refunds", {
          params: { path: { number: data.number } },
          body: { day: back.day!, lines: said, purse: "bank", returned, rate: null },
        }),
      ),
    { keys: KEYS, text: "It is paid back.", done: () => setAmounts({}), quiet: true },
  );
  const wrong = (item: number) =>
    faultAt(pay.error, `lines[${said.findIndex((it) => it.item === item)}].price`) ??
    faultAt(pay.error, "refunded");
  const others = pay.isError && !faultAt(pay.error, "day") && !sold.some((it) => wrong(it.item));
  if (sold.length === 0) return null;
  return (
    <Section title="Money back" point="for what comes back, or what the buyer keeps">
      <FieldRow>
        {sold.map((it) => (
          <ValueField
            key={it.item}
            label={`Back for ${it.name}`.slice(0, 60)}
            value={amounts[it.item] ?? ""}
            commit={(text) => setAmounts({ ...amounts, [it.item]: text })}
            fault={wrong(it.item) ?? null}
            hint={`paid ${money(it.price)}`}
            inputMode="decimal"
            width={220}
          />
        ))}
        <ValueField label="On" {...back.field(faultAt(pay.error, "day"))} width={120} />
      </FieldRow>
      <FormControlLabel
        control={
          <Checkbox size="small" checked={returned} onChange={(event) => setReturned(event.target.checked)} />
        }
        label="it comes back to me"
      />
      <Button
        variant="outlined"
        color="inherit"
        disabled={pay.isPending || back.day === null}
        onClick={() => pay.mutate(undefined)}
      >
        {said.length > 0 ? `Pay back for ${count(said.length)}` : "Pay back"}
      </Button>
      {others && (
        <Box role="alert" sx={{ color: "error.main" }}>
          {inWords(pay.error)}
        </Box>
      )}
    </Section>
  );
}
