import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { Ask } from "../../shared/Ask";
import { client, take } from "../../shared/api/client";
import { faultAt } from "../../shared/faults";
import { Figures } from "../../shared/Figures";
import { count, gain, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { Trace } from "../../shared/Trace";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { ValueField } from "../../shared/ValueField";
import { Minutes } from "../../shared/Minutes";
import { Afterwards } from "./Afterwards";
import { Claim } from "./Claim";
import { Packed } from "./Packed";
import { ToPack } from "./ToPack";
import { Ways } from "./Ways";
import { KEYS, order, packing, STAGES, type Order } from "./queries";

/** One order: how it is packed and sent, who it goes to, and what it made; nothing is rewritten. */
export default function OrderPage() {
  const number = Number(useParams().number);
  const found = useQuery(order(number));
  if (!found.data) return <Answer of={found} />;
  return <Shown data={found.data} />;
}

function Shown({ data }: { data: Order }) {
  const isToPack = data.stage === "to_pack";
  const plan = useQuery({ ...packing(data.number), enabled: isToPack });
  return (
    <PageTitle
      title={`Order ${data.reference}`}
      verdict={isToPack && plan.data ? plan.data.verdict : data.verdict}
      crumbs={[
        { name: "Selling", to: "/selling" },
        { name: STAGES[data.stage], to: `/selling?stage=${data.stage}` },
        { name: `order ${data.reference}` },
      ]}
    >
      <TwoColumns
        main={
          <>
            {isToPack && plan.data && <ToPack order={data} plan={plan.data} />}
            {isToPack && plan.isError && <Answer of={plan} />}
            {data.stage === "packed" && <Packed data={data} />}
            {["sent", "complained", "done", "returned"].includes(data.stage) && <Afterwards data={data} />}
            {["sent", "complained", "returned"].includes(data.stage) && <Claim data={data} />}
            <Trace of="order" history={data.history} />
          </>
        }
        aside={
          <>
            {isToPack && plan.data && <Ways order={data} plan={plan.data} />}
            <To data={data} />
            <Lines data={data} />
            <Leaves data={data} />
            {(isToPack || data.stage === "packed") && <Cancel data={data} />}
            <Minutes document={data.number} />
          </>
        }
      />
    </PageTitle>
  );
}

function Cancel({ data }: { data: Order }) {
  const [asked, setAsked] = useState(false);
  const cancel = useAct(
    () =>
      take(
        client.POST("/api/orders/{number}/cancelled", {
          params: { path: { number: data.number } },
          body: { version: data.version },
        }),
      ),
    {
      keys: [...KEYS, "listings"],
      text: "It is cancelled; its things are here again.",
      done: () => setAsked(false),
    },
  );
  return (
    <>
      <Button color="inherit" variant="outlined" sx={{ mb: 2.5 }} onClick={() => setAsked(true)}>
        Cancel the order
      </Button>
      {asked && (
        <Ask
          title={`Cancel order ${data.reference}?`}
          act="Cancel the order"
          busy={cancel.isPending}
          go={() => cancel.mutate(undefined)}
          close={() => setAsked(false)}
        >
          What was booked of it is taken back, and its things and supplies are here again. Give the buyer back
          what was paid. A listing of it can be listed again.
        </Ask>
      )}
    </>
  );
}

function To({ data }: { data: Order }) {
  const save = useAct(
    (address: string) =>
      take(
        client.PUT("/api/orders/{number}/address", {
          params: { path: { number: data.number } },
          body: { version: data.version, address },
        }),
      ),
    { keys: KEYS, text: "The address is kept.", quiet: true },
  );
  return (
    <Section title="To" point={data.buyer ?? "nobody named"}>
      <ValueField
        label="Address, a line each"
        value={data.address}
        commit={(text) => save.mutate(text)}
        fault={faultAt(save.error, "address") ?? null}
        lines={4}
        width={284}
      />
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 2, fontSize: 13, "& a": { py: "4px" } }}>
        <a href={`/api/orders/${data.number}/slip.pdf`} download>
          Slip (PDF)
        </a>
        {data.address && (
          <>
            <a href={`/api/orders/${data.number}/label.pdf`} download>
              Label (PDF, A6)
            </a>
            <a href={`/api/orders/${data.number}/customs.pdf`} download>
              Customs form (PDF)
            </a>
          </>
        )}
      </Box>
      <Aside>
        Beyond the border a customs form states what is in it and what was paid, honestly: an insurer may
        refuse a parcel that was understated. Ask your carrier which form it wants.
      </Aside>
    </Section>
  );
}

function Lines({ data }: { data: Order }) {
  return (
    <Section
      title="From stock"
      point={data.lines.length === 1 ? (data.lines[0]!.place ?? "no place said") : ""}
    >
      <Table label="Things of the order">
        <Heads of={["thing", { figure: data.currency }]} />
        <tbody>
          {data.lines.map((it) => (
            <tr key={it.item} data-row>
              <td>
                <Link to={`/stock/${it.item}`}>
                  {it.count > 1 && `${count(it.count)} x `}
                  {it.name}
                </Link>
                <Box sx={{ fontSize: 12, color: "text.secondary" }}>
                  {[
                    `no. ${it.item}`,
                    it.label ?? it.condition,
                    data.lines.length > 1 ? it.place : null,
                    it.is_own ? null : "a friend’s",
                    it.state === "sold" ? null : it.state,
                  ]
                    .filter(Boolean)
                    .join(" · ")}
                </Box>
              </td>
              <td className="figure">{money(it.price)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}

function Leaves({ data }: { data: Order }) {
  const { result } = data;
  const less = (amount: string) => (Number(amount) === 0 ? "0.00" : gain(-Number(amount)));
  return (
    <Section title="It leaves you" point={data.home}>
      <Figures
        rows={[
          ["price and shipping paid", money(result.brought)],
          ["fees", less(result.fees)],
          ["post", less(result.postage)],
          ["packing", less(result.supplies)],
          ["what it cost", result.cost === null ? "nobody remembers" : less(result.cost)],
          ["profit", <b key="profit">{result.profit === null ? "unknown" : gain(Number(result.profit))}</b>],
        ]}
      />
    </Section>
  );
}
