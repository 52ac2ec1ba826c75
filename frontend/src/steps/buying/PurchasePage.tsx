import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useParams } from "react-router";
import { client, take } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { KnownNotes } from "../../shared/KnownNotes";
import { Trace } from "../../shared/Trace";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { Division } from "./Division";
import { LaterMoney } from "./LaterMoney";
import { Parcel, Receive } from "./Parcel";
import { KEYS, usePurchase, type Purchase } from "./queries";
import { Answer } from "../../shared/Answer";

/** One purchase: what came, what it cost, receiving, disputes, refunds, dividing again, and its trace. */
export default function PurchasePage() {
  const { number = "" } = useParams();
  const purchase = usePurchase(Number(number));
  if (!purchase.data) return <Answer of={purchase} />;
  const data = purchase.data;
  const home = data.currency;
  return (
    <PageTitle
      title={data.name}
      verdict={data.verdict}
      crumbs={[{ name: "Buying", to: "/buying" }, { name: data.name }]}
    >
      <TwoColumns
        main={
          <>
            {releasesOf(data).map((release) => (
              <KnownNotes key={release} release={release} />
            ))}
            {data.dispute && <Aside>In dispute: {data.dispute}</Aside>}
            {data.state === "ordered" && <Receive data={data} />}
            <Division key={`things ${data.version}`} data={data} />
            {data.state !== "undone" && <LaterMoney data={data} home={home} />}
            <Trace of="purchase" history={data.history} />
          </>
        }
        aside={
          <>
            <Section title="Landed cost" point={home}>
              <Figures
                rows={[
                  ...data.charges.map((charge): readonly [string, string] => [
                    charge.currency === home
                      ? charge.kind
                      : `${charge.kind}, ${money(charge.amount)} ${charge.currency} at ${Number(charge.rate).toFixed(4)}`,
                    money(charge.home),
                  ]),
                  ["Landed", <b key="landed">{money(data.landed)}</b>],
                ]}
              />
            </Section>
            <Parcel data={data} />
            {data.state !== "undone" && <Disputing data={data} />}
          </>
        }
      />
    </PageTitle>
  );
}

/** The releases of what came, each once. */
function releasesOf(data: Purchase): string[] {
  return [...new Set(data.things.flatMap((thing) => (thing.release ? [thing.release] : [])))];
}

function Disputing({ data }: { data: Purchase }) {
  const [why, setWhy] = useState("");
  const path = { number: data.number };
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
  return (
    <>
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
  );
}
