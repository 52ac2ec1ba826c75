import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, inWords, take } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { faultAt } from "../../shared/faults";
import { asPercent, fromPercent, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useAddress } from "../../shared/useAddress";
import { ValueField } from "../../shared/ValueField";
import { useWays } from "../../shared/ways";

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

/** The most to bid in an auction, and what to offer for a collection from a sample of it. */
export default function BidPage() {
  const [params, change] = useAddress({ net: "84", margin: "10", wanted_return: "0.25" });
  const query = Object.fromEntries(
    [...FIELDS, ["way"] as const].flatMap(([name]) =>
      params.get(name) ? [[name, params.get(name) ?? ""]] : [],
    ),
  );
  const ways = useWays();
  const bid = useQuery({
    queryKey: ["bid", query],
    queryFn: () => take(client.GET("/api/bid", { params: { query } })),
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
      verdict={bid.isError ? undefined : bid.data?.verdict}
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
            fault={bid.isError ? faultAt(bid.error, name) && "not a number that fits here" : null}
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
      {bid.isError && (
        <Box role="alert" sx={{ color: "error.main", mb: 2 }}>
          {inWords(bid.error)}
        </Box>
      )}
      <Offer />
    </PageTitle>
  );
}

function Offer() {
  const [sample, setSample] = useState("");
  const [cards, setCards] = useState("1000");
  const values = sample
    .split(/[\s;]+/)
    .filter(Boolean)
    .map(Number);
  const fine =
    values.length > 1 && values.every((value) => Number.isFinite(value) && value >= 0) && Number(cards) >= 2;
  const offer = useQuery({
    queryKey: ["offer", values, cards],
    queryFn: () =>
      take(
        client.POST("/api/offer", {
          body: {
            sample: values,
            cards: Number(cards),
            keeps: 0.8,
            minutes_per_card: 0.5,
            hourly_rate: 10,
            margin: 0.2,
          },
        }),
      ),
    enabled: fine,
    retry: false,
  });
  const data = offer.data;
  return (
    <Section
      title="A stranger’s collection, from a sample"
      point="draw cards at random; the price a card says little"
    >
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, mt: 1.5, alignItems: "flex-start" }}>
        <TextField
          label="Values of the cards drawn"
          value={sample}
          onChange={(event) => setSample(event.target.value)}
          helperText={sample && !fine ? "numbers with spaces between, at least two" : "0.10 0.20 4.00 0.05 …"}
          multiline
          minRows={2}
          sx={{ width: 420 }}
        />
        <TextField
          label="Cards in all"
          value={cards}
          onChange={(event) => setCards(event.target.value)}
          error={offer.isError}
          helperText={offer.isError ? inWords(offer.error) : " "}
          sx={{ width: 160 }}
        />
        {data && (
          <Box sx={{ minWidth: 300 }}>
            <Figures
              rows={[
                [
                  "A card, on average",
                  `${money(data.mean)} (${money(data.mean_low)} to ${money(data.mean_high)})`,
                ],
                [
                  "All of it, about",
                  `${money(data.total)} (${money(data.total_low)} to ${money(data.total_high)})`,
                ],
                ["A fair offer", money(data.fair)],
                ["The most to offer", money(data.top)],
              ]}
            />
          </Box>
        )}
      </Box>
      <Aside>
        Interval of nine in ten. Taken off: a fifth for fees, half a minute a card at 10 an hour, a fifth as
        your margin. Make a fair offer to a seller who does not know what they have, above all to a minor.
      </Aside>
    </Section>
  );
}
