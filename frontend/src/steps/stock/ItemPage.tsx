import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { client, take, type Schemas } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { count, day, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside, Quiet, Trouble } from "../../shared/states";
import { Table } from "../../shared/Table";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { ValueField } from "../../shared/ValueField";
import { useCorrection } from "./correcting";

type Detail = Schemas["ItemDetailOut"];

/** A thing that is owned, where it came from, and all that happened to it. */
export default function ItemPage() {
  const { number = "" } = useParams();
  const item = useQuery({
    queryKey: ["items", "one", number],
    queryFn: () => take(client.GET("/api/items/{number}", { params: { path: { number: Number(number) } } })),
  });
  if (item.isPending) return <Quiet />;
  if (item.isError) return <Trouble error={item.error} again={() => void item.refetch()} />;
  const data = item.data;
  return (
    <PageTitle
      title={data.name}
      plain={`${data.name}: ${data.basis === null ? "nobody remembers what it cost" : `it cost ${money(data.basis)}`}.`}
      crumbs={[{ name: "Stock", to: "/stock" }, { name: data.name }]}
    >
      <TwoColumns
        main={<History data={data} />}
        aside={
          <>
            <Facts data={data} />
            {data.state === "held" && <TakeOut data={data} />}
          </>
        }
      />
    </PageTitle>
  );
}

function History({ data }: { data: Detail }) {
  return (
    <Section title="What happened to it" point="nothing is rewritten">
      <Table label="History of the item">
        <thead>
          <tr>
            <th>Day</th>
            <th>What</th>
            <th>state</th>
            <th className="figure">carries</th>
          </tr>
        </thead>
        <tbody>
          {data.history.map((event, at) => (
            <tr key={at} data-row>
              <td>
                <span tabIndex={0} data-cell>
                  {day(event.day)}
                </span>
              </td>
              <td>{event.text}</td>
              <td>{event.state.replace("_", " ")}</td>
              <td className="figure">{money(event.basis)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}

function Facts({ data }: { data: Detail }) {
  const correct = useCorrection(data);
  return (
    <Section title="What it is" point={data.state.replace("_", " ")}>
      <Figures
        rows={[
          ["How many", count(data.count)],
          ["Cost", money(data.basis)],
          ["About worth", money(data.value)],
          ["Condition", data.condition ?? "not said"],
          ["For sale", data.never_for_sale ? "never" : "yes"],
          ["Since", data.acquired_on ? day(data.acquired_on) : "unknown"],
        ]}
      />
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 1.5 }}>
        <ValueField
          label="Serial number"
          value={data.serial ?? ""}
          commit={(text) => correct.mutate({ serial: text.trim() || null })}
          width={130}
        />
        <ValueField
          label="Place"
          value={data.place ?? ""}
          commit={(text) => correct.mutate({ place: text.trim() || null })}
          width={130}
        />
        <ValueField
          label="Note"
          value={data.note ?? ""}
          commit={(text) => correct.mutate({ note: text.trim() || null })}
          width={272}
        />
      </Box>
      <Box sx={{ display: "flex", gap: 2, fontSize: 13 }}>
        {data.purchase && <Link to={`/buying/${data.purchase}`}>Its purchase</Link>}
        {data.session && <Link to={`/opening/${data.session}`}>The opening it came from</Link>}
      </Box>
    </Section>
  );
}

const WAYS = { lose: "It is lost", give_away: "Given away", send_back: "Sent back" } as const;

function TakeOut({ data }: { data: Detail }) {
  const [why, setWhy] = useState("");
  const out = useAct(
    (action: keyof typeof WAYS) =>
      take(
        client.POST("/api/items/{number}/out", {
          params: { path: { number: data.number } },
          body: { version: data.version, action, why },
        }),
      ),
    { keys: ["items", "books"], text: "Booked." },
  );
  return (
    <Section title="It leaves the stock" point="not by a sale">
      <TextField
        label="Why"
        value={why}
        onChange={(event) => setWhy(event.target.value)}
        fullWidth
        sx={{ my: 1.5 }}
      />
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
        {(Object.keys(WAYS) as (keyof typeof WAYS)[]).map((action) => (
          <Button
            key={action}
            variant="outlined"
            color="inherit"
            disabled={out.isPending}
            onClick={() => out.mutate(action)}
          >
            {WAYS[action]}
          </Button>
        ))}
      </Box>
      <Aside>Its cost goes with it, into the books. This stays on record.</Aside>
    </Section>
  );
}
