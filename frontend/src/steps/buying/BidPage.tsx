import { AddressFields, askedOf, type AddressField } from "../../shared/AddressFields";
import { EntryRow } from "../../shared/forms/EntryRow";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { MoneyField } from "../../shared/forms/fields";
import { amount } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { PageTitle } from "../../shared/PageTitle";
import { useAddress } from "../../shared/useAddress";
import { useWays } from "../../shared/ways";

const WON = z.object({ hammer: amount });
const FIELDS: readonly AddressField[] = [
  { name: "net", label: "Sells for, net" },
  { name: "price", label: "Or: sells at, before fees" },
  { name: "margin", label: "Least margin" },
  { name: "wanted_return", label: "Wanted return, %", isShare: true },
  { name: "ceiling", label: "Or: landed at most" },
  { name: "premium", label: "Buyer’s premium, %", isShare: true },
  { name: "tax", label: "Tax, %", isShare: true },
  { name: "shipping", label: "Shipping" },
  { name: "increment", label: "Step of bids" },
];
const MORE: readonly AddressField[] = [
  { name: "way", label: "" },
  { name: "tax_on_shipping", label: "" },
];

/** The most to bid in an auction, for a resale or for keeping. */
export default function BidPage() {
  const [params, change] = useAddress();
  const query = askedOf([...FIELDS, ...MORE], params);
  const ways = useWays();
  const bid = useQuery({
    queryKey: ["bid", query],
    queryFn: () => take(client.GET("/api/bid", { params: { query } })),
    enabled: ["net", "price", "ceiling"].some((name) => params.get(name)), // nothing is said of what it sells for yet
    placeholderData: keepPreviousData,
    retry: false,
  });
  return (
    <PageTitle
      title="The most to bid"
      {...(bid.data && !bid.isError ? { verdict: bid.data.verdict } : {})}
      plain="The most to bid"
      crumbs={[{ name: "Buying", to: "/buying" }, { name: "The most to bid" }]}
    >
      <AddressFields fields={FIELDS} params={params} change={change} error={bid.error}>
        <TextField
          select
          label="Through"
          value={ways.data?.ways.some((way) => way.id === params.get("way")) ? params.get("way") : ""}
          onChange={(event) => change({ way: event.target.value })}
          sx={{ width: 416 }}
        >
          {(ways.data?.ways ?? []).map((way) => (
            <MenuItem key={way.id} value={way.id}>
              {way.name}
            </MenuItem>
          ))}
        </TextField>
      </AddressFields>
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={params.get("tax_on_shipping") !== "false"}
            onChange={(event) => change({ tax_on_shipping: event.target.checked ? null : "false" })}
          />
        }
        label="shipping is taxed too"
      />
      <Won params={params} />
    </PageTitle>
  );
}

/** It was won: it is recorded with what came on top of the hammer price. */
function Won({ params }: { params: URLSearchParams }) {
  const navigate = useNavigate();
  const { form, submit, busy, faults } = useEntry({
    empty: { hammer: "" },
    shape: WON,
    send: ({ hammer }) => {
      const terms = Object.fromEntries(
        ["premium", "tax", "shipping", "tax_on_shipping"].flatMap((name) => {
          const said = params.get(name);
          return said ? [[name, said]] : [];
        }),
      );
      return take(client.GET("/api/bid/won", { params: { query: { hammer, ...terms } } }));
    },
    keys: [],
    done: ({ parts }) => void navigate("/buying/-/new", { state: { charges: parts } }),
  });
  return (
    <Section title="You won it?" point="it is recorded with its premium, tax and shipping">
      <EntryRow submit={submit} busy={busy} faults={faults} act="Record it">
        <MoneyField control={form.control} name="hammer" label="Won at, the hammer price" width={200} />
      </EntryRow>
    </Section>
  );
}
