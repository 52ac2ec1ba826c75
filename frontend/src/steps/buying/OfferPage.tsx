import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { faultAt, refused } from "../../shared/faults";
import { axisMoney, money, percent } from "../../shared/format";
import { readAmount, readShare, readWhole } from "../../shared/forms/reading";
import { PageTitle } from "../../shared/PageTitle";
import { Plot } from "../../shared/Plot";
import type { Point } from "../../shared/plot";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { TwoColumns } from "../../shared/TwoColumns";
import { useDraft } from "../../shared/useDraft";
import { ValueField } from "../../shared/ValueField";
import { carried } from "./carried";

const FIELDS = [
  ["cards", "Cards in all", "", false],
  ["keeps", "A sale leaves you, %", "usually about 80", true],
  ["minutes_per_card", "Minutes a card", "empty: not counted", false],
  ["hourly_rate", "An hour is worth", "empty: not counted", false],
  ["margin", "Your margin, %", "empty: none", true],
] as const;
const VALUES = [
  [
    "dear",
    "What the cards worth pulling are worth, one by one",
    "Those that you would sell singly: they add no doubt. None is fine.",
  ],
  [
    "sample",
    "What the cards of your sample of the rest are worth",
    "With spaces between; 12x0.10 is twelve cards at 0.10. Draw at least eight at random: from every box, not from the top. If you saw every card, type them all.",
  ],
] as const;
type Name = (typeof FIELDS)[number][0];
type Typed = Record<Name | "sample" | "dear", string>;
const EMPTY: Typed = {
  sample: "",
  dear: "",
  cards: "",
  keeps: "",
  minutes_per_card: "",
  hourly_rate: "",
  margin: "",
};

/** What to offer for a stranger's collection, seen or unseen: the dear cards one by one, the rest from a sample. */
export default function OfferPage() {
  const [typed, setTyped] = useDraft<Typed>("offer", EMPTY);
  const set = (name: keyof Typed) => (text: string) => setTyped({ ...typed, [name]: text });
  const asked = typed.cards.trim() !== "" && (typed.sample.trim() !== "" || typed.dear.trim() !== "");
  const offer = useQuery({
    queryKey: ["offer", typed],
    queryFn: () => take(client.POST("/api/offer", { body: toBody(typed) })),
    enabled: asked,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const data = asked && !offer.isError ? offer.data : undefined;
  const cards = readWhole(typed.cards);
  const bought = { count: "value" in cards ? String(cards.value) : "", value: data?.total.toFixed(2) ?? "" };
  const known = [...VALUES.map(([name]) => name), ...FIELDS.map(([name]) => name)];
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
            {VALUES.map(([name, label, help]) => (
              <Values
                key={name}
                name={name}
                label={label}
                value={typed[name]}
                set={set(name)}
                error={asked ? offer.error : null}
                help={help}
                autoFocus={name === "sample"}
              />
            ))}
            <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5 }}>
              {FIELDS.map(([name, label, hint]) => (
                <ValueField
                  key={name}
                  label={label}
                  value={typed[name]}
                  commit={set(name)}
                  fault={asked ? faultAt(offer.error, name) : null}
                  hint={hint}
                  inputMode="decimal"
                  width={140}
                />
              ))}
            </Box>
            {asked && offer.isError && !known.some((name) => faultAt(offer.error, name)) && (
              <Box role="alert" sx={{ color: "error.main", mb: 2 }}>
                {inWords(offer.error)}
              </Box>
            )}
            {data && data.values.some((value) => value > 0) && (
              <Section
                title="What carries what you saw"
                point="few cards that carry it: value them one by one"
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
                    ["A card of the rest", money(data.mean)],
                    ["", `${money(data.mean_low)} to ${money(data.mean_high)}`],
                    ["All of it", money(data.total)],
                    ["", `${money(data.total_low)} to ${money(data.total_high)}`],
                    ["A fair offer", <b key="fair">{money(data.fair)}</b>],
                    ["The most to offer", <b key="top">{money(data.top)}</b>],
                  ]}
                />
              </Section>
            )}
            {data && (
              <Section title="If it is yours" point="from here on one project">
                <Box
                  sx={{
                    display: "flex",
                    flexDirection: "column",
                    alignItems: "flex-start",
                    gap: 0.75,
                    mt: 1,
                  }}
                >
                  <Link to="/buying/-/new" state={{ collection: bought }}>
                    Record what you paid for it
                  </Link>
                  <Link
                    to={`/stock/-/plan?${new URLSearchParams({ cards: bought.count, expected: bought.value })}`}
                  >
                    Plan its sorting, with {money(data.total)} expected
                  </Link>
                </Box>
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

/** What is sent: numbers as they are read, anything else as it was typed, to be refused at its field. */
function toBody(typed: Typed): Schemas["OfferIn"] {
  const body: Record<string, unknown> = { sample: typed.sample.trim(), dear: typed.dear.trim() };
  for (const [name, , , isShare] of FIELDS) {
    const text = typed[name].trim();
    if (!text) continue;
    const read = name === "cards" ? readWhole(text) : isShare ? readShare(text) : readAmount(text);
    body[name] = "value" in read ? read.value : text;
  }
  return body as Schemas["OfferIn"];
}

function Values(props: {
  name: string;
  label: string;
  value: string;
  set: (text: string) => void;
  error: unknown;
  help: string;
  autoFocus: boolean;
}) {
  const { name, label, value, set, error, help, autoFocus } = props;
  return (
    <>
      <TextField
        label={label}
        value={value}
        onChange={(event) => set(event.target.value)}
        multiline
        minRows={2}
        fullWidth
        autoFocus={autoFocus}
        {...refused(error, name)}
        slotProps={{ htmlInput: { "aria-describedby": `${name}-help` } }}
      />
      <Box id={`${name}-help`} sx={{ fontSize: 13, color: "text.secondary", mt: 0.5, mb: 2 }}>
        {help}
      </Box>
    </>
  );
}
