import Box from "@mui/material/Box";
import { EntryRow } from "../../shared/forms/EntryRow";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { faultAt, otherFaults } from "../../shared/faults";
import { asPercent, fromPercent } from "../../shared/format";
import { MoneyField } from "../../shared/forms/fields";
import { amount } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { PageTitle } from "../../shared/PageTitle";
import { useAddress } from "../../shared/useAddress";
import { ValueField } from "../../shared/ValueField";
import { useWays } from "../../shared/ways";

const WON = z.object({ hammer: amount });
const FIELDS = [
  ["net", "Sells for, net", false],
  ["price", "Or: sells at, before fees", false],
  ["margin", "Least margin", false],
  ["wanted_return", "Wanted return, %", true],
  ["ceiling", "Or: landed at most", false],
  ["premium", "Buyer’s premium, %", true],
  ["tax", "Tax, %", true],
  ["shipping", "Shipping", false],
  ["increment", "Step of bids", false],
] as const;

function shown(share: string | null): string {
  return !share ? "" : Number.isFinite(Number(share)) ? asPercent(Number(share)) : share;
}

/** The most to bid in an auction, for a resale or for keeping. */
export default function BidPage() {
  const [params, change] = useAddress();
  const query = Object.fromEntries(
    [...FIELDS, ["way"] as const, ["tax_on_shipping"] as const].flatMap(([name]) =>
      params.get(name) ? [[name, params.get(name) ?? ""]] : [],
    ),
  );
  const ways = useWays();
  const bid = useQuery({
    queryKey: ["bid", query],
    queryFn: () => take(client.GET("/api/bid", { params: { query } })),
    enabled: ["net", "price", "ceiling"].some((name) => params.get(name)), // nothing is said of what it sells for yet
    placeholderData: keepPreviousData,
    retry: false,
  });
  const set = (name: string, isShare: boolean) => (text: string) => {
    const share = isShare ? fromPercent(text) : null;
    change({ [name]: share === null ? text.trim() || null : String(share) }); // what is no number is refused, not lost
  };
  return (
    <PageTitle
      title="The most to bid"
      {...(bid.data && !bid.isError ? { verdict: bid.data.verdict } : {})}
      plain="The most to bid"
      crumbs={[{ name: "Buying", to: "/buying" }, { name: "The most to bid" }]}
    >
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, maxWidth: 900 }}>
        {FIELDS.map(([name, label, isShare]) => (
          <ValueField
            key={name}
            label={label}
            value={isShare ? shown(params.get(name)) : (params.get(name) ?? "")}
            commit={set(name, isShare)}
            fault={bid.isError ? faultAt(bid.error, name) : null}
            width={200}
          />
        ))}
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
      </Box>
      {otherFaults(bid.error, (field) => FIELDS.some(([name]) => name === field)).map((words) => (
        <Box key={words} role="alert" sx={{ color: "error.main", mb: 2 }}>
          {words}
        </Box>
      ))}
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
