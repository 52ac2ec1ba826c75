import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { asPercent, fromPercent, money } from "../../shared/format";
import { EditableCell } from "../../shared/EditableCell";
import { EntryRow } from "../../shared/forms/EntryRow";
import { MoneyField, PercentField, WordsField } from "../../shared/forms/fields";
import { maybeAmount, share, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Table } from "../../shared/Table";
import { useWays } from "../../shared/ways";
import { NetCalculator } from "./NetCalculator";
import { parseBrackets, toBody, toId, useRemoveWay, useSaveWay, writeBrackets, type Way } from "./ways";
import { Answer } from "../../shared/Answer";

const REST: Omit<Way, "id" | "name" | "example_net" | "commission"> = {
  version: 0,
  on: "price_and_shipping",
  fixed_fee: "0",
  payment_share: "0",
  payment_fixed: "0",
  least: "0",
  most: null,
  shipping_charged: "0",
  postage: "0",
  packing: "0",
  lost: "0",
  tax: "0",
};

type Amount = "fixed_fee" | "payment_fixed" | "least" | "most" | "shipping_charged" | "postage" | "packing";
type Share = "payment_share" | "lost" | "tax";

const AMOUNTS: [Amount, string][] = [
  ["fixed_fee", "Fixed fee of a sale"],
  ["payment_fixed", "Payment, fixed part"],
  ["least", "Commission, at least"],
  ["most", "Commission, at most"],
  ["shipping_charged", "Shipping that the buyer pays"],
  ["postage", "Postage that you pay"],
  ["packing", "Packing"],
];
const SHARES: [Share, string][] = [
  ["payment_share", "Payment, share"],
  ["lost", "Lost in the post, share"],
  ["tax", "Tax that the buyer pays, if fees are taken on it"],
];
const BASES = {
  price: "the price",
  price_and_shipping: "price and shipping",
  price_shipping_and_tax: "price, shipping and tax",
} as const;

/** The ways of selling and what each takes, corrected where they stand. */
export function Ways() {
  const ways = useWays();
  if (!ways.data) return <Answer of={ways} />;
  return (
    <Section title="Ways of selling" point="what each takes; a sale at 10.00 leaves the figure at the top">
      {ways.data.ways.length === 0 && (
        <Box sx={{ py: 1, color: "text.secondary" }}>
          None yet, so values are gross. Add the way that you usually sell.
        </Box>
      )}
      {ways.data.ways.length > 0 && <WaysTable ways={ways.data.ways} />}
      <AddWay />
      {ways.data.ways.length > 0 && <NetCalculator ways={ways.data.ways} />}
    </Section>
  );
}

const FRESH = z.object({ name: words, commission: share, fixed_fee: maybeAmount });

/** Another way, with the little that most have; the rest is corrected in the table. */
function AddWay() {
  const { form, submit, busy, faults } = useEntry({
    draft: "a way of selling",
    empty: { name: "", commission: "", fixed_fee: "" },
    shape: FRESH,
    names: { "commission[0].share": "commission", "body.name": "name" },
    send: ({ name, commission, fixed_fee }) =>
      take(
        client.PUT("/api/ways/{way}", {
          params: { path: { way: toId(name) } },
          body: {
            ...REST,
            name,
            commission: [{ up_to: null, share: commission }],
            fixed_fee: fixed_fee ?? "0",
          },
        }),
      ),
    keys: ["ways", "answer", "release", "shelf", "preferences"],
    text: (way) => `${way.name} is a way of selling now.`,
  });
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="Add it">
      <WordsField control={form.control} name="name" label="Another way of selling" width={240} />
      <PercentField control={form.control} name="commission" label="It takes" />
      <MoneyField control={form.control} name="fixed_fee" label="And for each sale" hint="0 if left empty" />
    </EntryRow>
  );
}

function WaysTable({ ways }: { ways: Way[] }) {
  const save = useSaveWay();
  const remove = useRemoveWay();
  const change = (way: Way, part: Partial<Way>) =>
    save.mutateAsync({ id: way.id, body: toBody({ ...way, ...part }) });
  const refuse = (message: string) => Promise.reject(new Error(message));
  return (
    <Table label="Ways of selling">
      <thead>
        <tr>
          <th scope="col" aria-label="actions" />
          {ways.map((way) => (
            <th scope="col" key={way.id} className="figure">
              <b>{way.name}</b>
              <br />
              10.00 leaves {money(way.example_net)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        <tr data-row>
          <td>Commission</td>
          {ways.map((way) => (
            <td key={way.id} className="figure">
              <EditableCell
                value={writeBrackets(way.commission)}
                label={`Commission of ${way.name}`}
                width={170}
                save={(text) => {
                  const brackets = parseBrackets(text);
                  return brackets
                    ? change(way, { commission: brackets })
                    : refuse("write it like 12 %, or 12 % to 1000, then 3 %");
                }}
              />
            </td>
          ))}
        </tr>
        <tr>
          <td>Taken on</td>
          {ways.map((way) => (
            <td key={way.id} className="figure">
              <TextField
                select
                variant="standard"
                value={way.on}
                onChange={(event) => void change(way, { on: event.target.value as Way["on"] })}
                slotProps={{ htmlInput: { "aria-label": `What ${way.name} takes fees on` } }}
                sx={{ "& .MuiInputBase-root": { fontSize: 13 } }}
              >
                {Object.entries(BASES).map(([value, words]) => (
                  <MenuItem key={value} value={value}>
                    {words}
                  </MenuItem>
                ))}
              </TextField>
            </td>
          ))}
        </tr>
        {AMOUNTS.map(([field, words]) => (
          <tr key={field} data-row>
            <td>{words}</td>
            {ways.map((way) => (
              <td key={way.id} className="figure">
                <EditableCell
                  value={way[field] ?? ""}
                  shown={way[field] === null ? "no cap" : money(way[field])}
                  label={`${words}, ${way.name}`}
                  width={70}
                  save={(text) =>
                    /^\d{1,8}(\.\d{1,4})?$/.test(text.trim()) || (field === "most" && !text.trim())
                      ? change(way, { [field]: text.trim() || null })
                      : refuse("an amount like 1.50")
                  }
                />
              </td>
            ))}
          </tr>
        ))}
        {SHARES.map(([field, words]) => (
          <tr key={field} data-row>
            <td>{words}</td>
            {ways.map((way) => (
              <td key={way.id} className="figure">
                <EditableCell
                  value={asPercent(Number(way[field]))}
                  shown={`${asPercent(Number(way[field]))} %`}
                  label={`${words}, ${way.name}`}
                  width={70}
                  save={(text) => {
                    const share = fromPercent(text.replace("%", ""));
                    return share !== null && share >= 0 && share < 1
                      ? change(way, { [field]: String(Math.round(share * 1e6) / 1e6) })
                      : refuse("per cent, from 0 to under 100");
                  }}
                />
              </td>
            ))}
          </tr>
        ))}
        <tr>
          <td />
          {ways.map((way) => (
            <td key={way.id} className="figure">
              <Button
                color="inherit"
                onClick={() => remove.mutate(way.id)}
                aria-label={`Take out ${way.name}`}
              >
                Take out
              </Button>
            </td>
          ))}
        </tr>
      </tbody>
    </Table>
  );
}
