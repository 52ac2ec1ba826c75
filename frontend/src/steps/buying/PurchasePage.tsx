import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useParams } from "react-router";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { day, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside, Quiet, Trouble } from "../../shared/states";
import { Table } from "../../shared/Table";
import { TwoColumns } from "../../shared/TwoColumns";
import { useToday } from "../../shared/useToday";
import { useAct } from "../../shared/useAct";
import { METHODS } from "./draft";
import { usePurchase, type Purchase } from "./queries";

const KEYS = ["purchases", "items", "books", "sessions"];

/** One purchase: what came, what it cost, receiving, disputes, refunds, dividing again, and its trace. */
export default function PurchasePage() {
  const { number = "" } = useParams();
  const purchase = usePurchase(Number(number));
  if (purchase.isPending) return <Quiet />;
  if (purchase.isError) return <Trouble error={purchase.error} again={() => void purchase.refetch()} />;
  const data = purchase.data;
  const words = {
    ordered: "is on its way",
    received: "is here",
    disputed: "is in dispute",
    undone: "was taken back",
  }[data.state];
  return (
    <PageTitle
      title={data.name}
      plain={`${data.name.charAt(0).toUpperCase()}${data.name.slice(1)} ${words}; it cost ${money(data.landed)} landed.`}
      crumbs={[{ name: "Buying", to: "/buying" }, { name: data.name }]}
    >
      <TwoColumns
        main={
          <>
            {data.state === "ordered" && <Receive key={data.version} data={data} />}
            <Things key={`things ${data.version}`} data={data} />
            <Trace data={data} />
          </>
        }
        aside={<Side data={data} />}
      />
    </PageTitle>
  );
}

function Receive({ data }: { data: Purchase }) {
  const today = useToday();
  const [found, setFound] = useState({ seal: true, series: true, contents: true });
  const [note, setNote] = useState("");
  const receive = useAct(
    () =>
      take(
        client.POST("/api/purchases/{number}/receive", {
          params: { path: { number: data.number } },
          body: { version: data.version, day: today, ...found, note },
        }),
      ),
    { keys: KEYS, text: (row) => (row.state === "disputed" ? "Received, and in dispute." : "Received.") },
  );
  const questions = [
    ["seal", "The seal is intact"],
    ["series", "It is the right series"],
    ["contents", "It is as described"],
  ] as const;
  return (
    <Section title="Receive and inspect" point="what is not as it should be opens a dispute">
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, mt: 1.5, alignItems: "flex-start" }}>
        {questions.map(([name, words]) => (
          <TextField
            key={name}
            select
            label={words}
            value={found[name] ? "yes" : "no"}
            onChange={(event) => setFound({ ...found, [name]: event.target.value === "yes" })}
            sx={{ width: 190 }}
          >
            <MenuItem value="yes">yes</MenuItem>
            <MenuItem value="no">no</MenuItem>
          </TextField>
        ))}
        <TextField
          label="Note"
          value={note}
          onChange={(event) => setNote(event.target.value)}
          sx={{ width: 260 }}
        />
        <Button variant="contained" onClick={() => receive.mutate(undefined)} sx={{ mt: 0.5 }}>
          It is here
        </Button>
      </Box>
    </Section>
  );
}

function Things({ data }: { data: Purchase }) {
  const [method, setMethod] = useState(data.method);
  const [values, setValues] = useState<Record<number, string>>({});
  const held = data.things.filter((thing) => ["held", "in_transit", "at_grading"].includes(thing.state));
  const divide = useAct(
    (book: boolean) =>
      take(
        client.POST("/api/purchases/{number}/divide", {
          params: { path: { number: data.number } },
          body: {
            version: data.version,
            method,
            book,
            parts: held.map((thing) => {
              const text = (values[thing.number] ?? thing.value ?? "").trim();
              const byHand = method === "hand";
              return {
                item: thing.number,
                value: byHand ? thing.value : text || null,
                fixed: byHand ? (values[thing.number] ?? thing.basis ?? "").trim() || null : thing.fixed,
                gift: thing.gift,
              };
            }),
          },
        }),
      ),
    { keys: KEYS, quiet: true },
  );
  const shares = new Map(held.map((thing, at) => [thing.number, divide.data?.shares[at]]));
  const isOpen = data.state !== "undone" && held.length > 0;
  return (
    <Section title="What came, and what each carries" point={METHODS[data.method]}>
      <Table label="Things of the purchase">
        <thead>
          <tr>
            <th>Thing</th>
            <th className="figure">how many</th>
            <th>state</th>
            <th className="figure">{method === "hand" ? "part, by hand" : "value"}</th>
            <th className="figure">carries</th>
            {divide.data && <th className="figure">would carry</th>}
          </tr>
        </thead>
        <tbody>
          {data.things.map((thing) => (
            <tr key={thing.number} data-row>
              <td>
                {thing.name}
                {thing.gift && ", a gift"}
              </td>
              <td className="figure">{thing.count}</td>
              <td>{thing.state.replace("_", " ")}</td>
              <td className="figure">
                {held.includes(thing) && isOpen ? (
                  <TextField
                    variant="standard"
                    value={
                      values[thing.number] ?? (method === "hand" ? (thing.basis ?? "") : (thing.value ?? ""))
                    }
                    onChange={(event) => setValues({ ...values, [thing.number]: event.target.value })}
                    slotProps={{
                      htmlInput: { "aria-label": `Value of ${thing.name}`, style: { textAlign: "right" } },
                    }}
                    sx={{ width: 90 }}
                  />
                ) : (
                  money(thing.value)
                )}
              </td>
              <td className="figure">{money(thing.basis)}</td>
              {divide.data && (
                <td className="figure">{shares.get(thing.number) ? money(shares.get(thing.number)) : ""}</td>
              )}
            </tr>
          ))}
        </tbody>
      </Table>
      {isOpen && held.length > 1 && (
        <Box sx={{ display: "flex", gap: 1.5, mt: 1.5, alignItems: "center", flexWrap: "wrap" }}>
          <TextField
            select
            label="Divide again"
            value={method}
            onChange={(event) => setMethod(event.target.value as typeof method)}
            sx={{ width: 230 }}
          >
            {Object.entries(METHODS).map(([name, words]) => (
              <MenuItem key={name} value={name}>
                {words}
              </MenuItem>
            ))}
          </TextField>
          <Button variant="outlined" color="inherit" onClick={() => divide.mutate(false)}>
            Show it
          </Button>
          <Button color="inherit" onClick={() => divide.mutate(true)}>
            Book the new division
          </Button>
        </Box>
      )}
      {divide.isError && (
        <Box role="alert" sx={{ color: "error.main", mt: 1 }}>
          {inWords(divide.error)}
        </Box>
      )}
    </Section>
  );
}

function Trace({ data }: { data: Purchase }) {
  return (
    <Section title="What happened" point="nothing is rewritten; a step taken back stays">
      <Table label="History of the purchase">
        <thead>
          <tr>
            <th>Day</th>
            <th>Event</th>
            <th>What</th>
          </tr>
        </thead>
        <tbody>
          {data.history.map((item) => (
            <tr key={item.number} data-row>
              <td>{day(item.day)}</td>
              <td>{item.event.replace("_", " ")}</td>
              <td>
                <span tabIndex={0} data-cell>
                  {item.text}
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}

function Side({ data }: { data: Purchase }) {
  const today = useToday();
  const [amount, setAmount] = useState("");
  const [currency, setCurrency] = useState(data.charges[0]?.currency ?? "EUR");
  const [why, setWhy] = useState("");
  const path = { number: data.number };
  const refund = useAct(
    () =>
      take(
        client.POST("/api/purchases/{number}/refund", {
          params: { path },
          body: { version: data.version, amount: amount.trim(), currency, day: today, purse: "bank" },
        }),
      ),
    { keys: KEYS, text: "Refund booked.", done: () => setAmount("") },
  );
  const dispute = useAct(
    (text: string) =>
      take(
        client.PUT("/api/purchases/{number}/dispute", {
          params: { path },
          body: { version: data.version, why: text },
        }),
      ),
    { keys: KEYS, text: (row) => (row.dispute ? "In dispute." : "Dispute closed.") },
  );
  const undo = useAct(
    () =>
      take(
        client.POST("/api/purchases/{number}/undo", { params: { path }, body: { version: data.version } }),
      ),
    { keys: KEYS, text: "Taken back; all of it stays on record." },
  );
  const rows = data.charges.map((charge): readonly [string, string] => [
    charge.currency === "EUR" || Number(charge.rate) === 1
      ? charge.kind
      : `${charge.kind}, ${money(charge.amount)} ${charge.currency} at ${Number(charge.rate).toFixed(4)}`,
    money(charge.home as unknown as Schemas["ChargeOut"]["home"]),
  ]);
  return (
    <>
      <Section title="Landed cost" point="home currency">
        <Figures rows={[...rows, ["Landed", <b key="landed">{money(data.landed)}</b>]]} />
      </Section>
      <Section title="Parcel" point={data.received_on ? `here since ${day(data.received_on)}` : "on its way"}>
        <Figures
          rows={[
            ["Bought", day(data.bought_on)],
            ["From", data.seller ?? "not said"],
            ["Tracking", [data.carrier, data.tracking].filter(Boolean).join(", ") || "not said"],
            ["Due", data.due_on ? day(data.due_on) : "not said"],
          ]}
        />
      </Section>
      {data.dispute && <Aside>In dispute: {data.dispute}</Aside>}
      {data.state !== "undone" && (
        <>
          <Box sx={{ display: "flex", gap: 1, mb: 1.5 }}>
            <TextField
              label="Refund"
              value={amount}
              onChange={(event) => setAmount(event.target.value)}
              sx={{ width: 100 }}
            />
            <TextField
              label="in"
              value={currency}
              onChange={(event) => setCurrency(event.target.value.toUpperCase())}
              sx={{ width: 75 }}
            />
            <Button
              variant="outlined"
              color="inherit"
              disabled={!amount}
              onClick={() => refund.mutate(undefined)}
            >
              Book it
            </Button>
          </Box>
          {data.state === "received" && (
            <Box sx={{ display: "flex", gap: 1, mb: 1.5 }}>
              <TextField label="What is wrong" value={why} onChange={(event) => setWhy(event.target.value)} />
              <Button color="inherit" disabled={!why.trim()} onClick={() => dispute.mutate(why)}>
                Dispute
              </Button>
            </Box>
          )}
          {data.state === "disputed" && (
            <Button color="inherit" onClick={() => dispute.mutate("")}>
              Close the dispute
            </Button>
          )}
          <Button color="inherit" onClick={() => undo.mutate(undefined)}>
            Take the purchase back
          </Button>
        </>
      )}
    </>
  );
}
