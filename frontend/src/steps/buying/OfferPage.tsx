import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { client, inWords, take } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { faultAt, refused } from "../../shared/faults";
import { asPercent, axisMoney, count, fromPercent, money, percent } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Plot } from "../../shared/Plot";
import type { Point } from "../../shared/plot";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAddress } from "../../shared/useAddress";
import { useDraft } from "../../shared/useDraft";
import { ValueField } from "../../shared/ValueField";
import { carried } from "./carried";

const FIELDS = [
  ["cards", "Cards in all", false],
  ["keeps", "A sale leaves you, %", true],
  ["minutes_per_card", "Minutes a card", false],
  ["hourly_rate", "An hour is worth", false],
  ["margin", "Your margin, %", true],
] as const;

/** What to offer for a stranger's collection, seen or unseen, from a sample of its cards. */
export default function OfferPage() {
  const [params, change] = useAddress({
    cards: "1000",
    keeps: "0.8",
    minutes_per_card: "0.5",
    hourly_rate: "10",
    margin: "0.2",
  });
  const [sample, setSample] = useDraft("offer-sample", "");
  const query = {
    sample: sample.trim(),
    cards: Number(params.get("cards")),
    ...Object.fromEntries(FIELDS.slice(1).map(([name]) => [name, params.get(name) ?? ""])),
  };
  const offer = useQuery({
    queryKey: ["offer", query],
    queryFn: () => take(client.GET("/api/offer", { params: { query } })),
    enabled: sample.trim() !== "",
    placeholderData: keepPreviousData,
    retry: false,
  });
  const asked = sample.trim() !== "";
  const data = asked && !offer.isError ? offer.data : undefined;
  const set = (name: string, isShare: boolean) => (text: string) => {
    const share = isShare ? fromPercent(text) : null;
    change({ [name]: share === null ? text.trim() || null : String(share) }); // what is no number is refused, not lost
  };
  const shown = (text: string, isShare: boolean) =>
    isShare && text && Number.isFinite(Number(text)) ? asPercent(Number(text)) : text;
  const known = ["sample", ...FIELDS.map(([name]) => name)];
  return (
    <PageTitle
      title="What to offer for a collection"
      verdict={data?.verdict}
      plain="What is a stranger’s collection worth to you?"
      crumbs={[{ name: "Buying", to: "/buying" }, { name: "An offer for a collection" }]}
    >
      <TwoColumns
        main={
          <>
            <TextField
              label="What the cards of your sample are worth"
              value={sample}
              onChange={(event) => setSample(event.target.value)}
              multiline
              minRows={2}
              fullWidth
              autoFocus
              {...refused(asked ? offer.error : null, "sample")}
              slotProps={{ htmlInput: { "aria-describedby": "sample-help" } }}
            />
            <Box id="sample-help" sx={{ fontSize: 13, color: "text.secondary", mt: 0.5, mb: 2.5 }}>
              With spaces between; 12x0.10 is twelve cards at 0.10. Draw them at random: from every box, not
              from the top. If you saw every card, type them all.
            </Box>
            <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5 }}>
              {FIELDS.map(([name, label, isShare]) => (
                <ValueField
                  key={name}
                  label={label}
                  value={shown(params.get(name) ?? "", isShare)}
                  commit={set(name, isShare)}
                  fault={asked ? faultAt(offer.error, name) : null}
                  width={132}
                />
              ))}
            </Box>
            {asked && offer.isError && !known.some((name) => faultAt(offer.error, name)) && (
              <Box role="alert" sx={{ color: "error.main", mb: 2 }}>
                {inWords(offer.error)}
              </Box>
            )}
            {data && data.mean > 0 && (
              <Section
                title="What carries the sample"
                point="few cards that carry it make the sample a poor guide"
              >
                <Plot
                  label="Share of the sample's worth that its dearest cards carry"
                  lines={[{ name: "carried", points: carried(data.values) as Point[], tone: "gain" }]}
                  xName="dearest cards"
                  xText={axisMoney}
                  yText={(share) => percent(share)}
                  yMax={1}
                  yTicks={[0.25, 0.5, 0.75, 1]}
                  height={220}
                />
              </Section>
            )}
          </>
        }
        aside={
          <>
            {data && (
              <Section title="About" point="nine times in ten">
                <Figures
                  rows={[
                    ["A card", `${money(data.mean)}`],
                    ["", `${money(data.mean_low)} to ${money(data.mean_high)}`],
                    [`All ${count(query.cards)}`, money(data.total)],
                    ["", `${money(data.total_low)} to ${money(data.total_high)}`],
                    [
                      "A fair offer",
                      <b key="fair">{data.fair > 0 ? money(data.fair) : "too few cards to say"}</b>,
                    ],
                    ["The most to offer", <b key="top">{money(data.top)}</b>],
                  ]}
                />
              </Section>
            )}
            <Aside>
              Make a fair offer to a seller who does not know what they have, above all to a minor. The price
              a card says little; toys, tins and gifts in the lot carry cost too, unless you say otherwise.
            </Aside>
          </>
        }
      />
    </PageTitle>
  );
}
