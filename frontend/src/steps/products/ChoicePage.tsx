import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { useParams } from "react-router";
import { faultOf, type Schemas } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { asPercent, fromPercent, gain, hits, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAddress } from "../../shared/useAddress";
import { ValueField } from "../../shared/ValueField";
import { BasisChoice } from "./BasisChoice";
import { formatCrumbs } from "./crumbs";
import { PlanTabs } from "./PlanTabs";
import { useChoice, useWant, type SealedAsked } from "./planning";
import { readView } from "./view";
import { useRelease } from "./queries";
import { Answer } from "../../shared/Answer";

type Choice = Schemas["ChoiceOut"];

const NAMES: Record<Choice["best"], string> = {
  open: "Open it",
  sell_sealed: "Sell it sealed now",
  hold: "Keep it sealed",
  singles: "Buy the singles",
};

const WINS: Record<Choice["best"], string> = {
  open: "Opening wins",
  sell_sealed: "Selling it sealed now wins",
  hold: "Keeping it wins",
  singles: "Buying the singles wins",
};

/** Rip, hold or buy the singles: three sums with what they assume, and what would make another win. */
export default function ChoicePage() {
  const { release = "", format = "" } = useParams();
  const [params, change] = useAddress();
  const asked: SealedAsked = Object.fromEntries(
    ["price", "sealed_value", "growth", "years", "keeping"].flatMap((name) => {
      const value = Number(params.get(name) ?? NaN);
      return Number.isFinite(value) && params.get(name) !== "" ? [[name, value]] : [];
    }),
  );
  const choice = useChoice(release, format, readView(params), asked);
  if (!choice.data) return <Answer of={choice} />;
  const data = choice.data;
  const set = (name: string, value: number | null) =>
    change({ [name]: value === null ? null : String(value) });
  return (
    <PageTitle
      title={`Rip, hold or buy, ${data.format.name}`}
      verdict={data.verdict}
      links={{ guess: `/products/${release}/${format}#guesses` }}
      crumbs={formatCrumbs(data, release, format, "Rip, hold or buy")}
    >
      <PlanTabs release={release} format={format} />
      <TwoColumns
        main={
          <>
            <SumBars data={data} />
            <Assumptions data={data} set={set} />
            <Wanted release={release} data={data} />
          </>
        }
        aside={<Thresholds data={data} />}
      />
    </PageTitle>
  );
}

function SumBars({ data }: { data: Choice }) {
  const sums: [Choice["best"], number | null][] = [
    ["open", data.open],
    ["sell_sealed", data.sell_sealed],
    ["hold", data.hold],
    ["singles", 0],
  ];
  const most = Math.max(1, ...sums.map(([, value]) => Math.abs(value ?? 0)));
  return (
    <Section title="How much better off you are" point={`${data.currency}, against buying nothing`}>
      {sums.map(([name, value]) => (
        <Box
          key={name}
          sx={{
            display: "grid",
            gridTemplateColumns: "140px 90px 1fr",
            alignItems: "center",
            gap: 1.5,
            py: 0.8,
            borderBottom: 1,
            borderColor: "divider",
            fontWeight: data.best === name ? 700 : 400,
          }}
        >
          <span>{NAMES[name]}</span>
          <Box component="span" sx={{ textAlign: "right" }}>
            {gain(value)}
          </Box>
          <Box>
            <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", height: 12 }}>
              <Box
                sx={{ display: "flex", justifyContent: "flex-end", borderRight: 2, borderColor: "tone.flag" }}
              >
                {(value ?? 0) < 0 && (
                  <Box sx={{ width: `${(Math.abs(value ?? 0) / most) * 100}%`, bgcolor: "tone.loss" }} />
                )}
              </Box>
              <Box>
                {(value ?? 0) > 0 && (
                  <Box sx={{ height: 12, width: `${((value ?? 0) / most) * 100}%`, bgcolor: "tone.gain" }} />
                )}
              </Box>
            </Box>
            <Box component="span" sx={{ fontSize: 12, color: "text.secondary", fontWeight: 400 }}>
              {data.notes[name]}
            </Box>
          </Box>
        </Box>
      ))}
    </Section>
  );
}

function Assumptions({ data, set }: { data: Choice; set: (name: string, value: number | null) => void }) {
  const [fault, setFault] = useState<Record<string, string>>({});
  const amount = (name: string) => (text: string) => {
    const fine = text === "" || /^\d{1,8}(\.\d{1,4})?$/.test(text);
    setFault({ ...fault, [name]: fine ? "" : "an amount like 12.50" });
    if (fine) set(name, text === "" ? null : Number(text));
  };
  const grow = (text: string) => {
    const share = fromPercent(text);
    const fine = text === "" || (share !== null && share >= -0.99 && share <= 10);
    setFault({ ...fault, growth: fine ? "" : "a number from -99 to 1000" });
    if (fine) set("growth", text === "" ? null : share);
  };
  return (
    <Section title="What it rests on" point="empty goes back to what is usual">
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, mt: 1.5 }}>
        <ValueField
          label="Price of a box"
          value={data.price === null ? "" : data.price.toFixed(2)}
          commit={amount("price")}
          fault={fault.price}
          width={130}
        />
        <ValueField
          label="Sells sealed today at"
          value={data.sealed_value === null ? "" : data.sealed_value.toFixed(2)}
          commit={amount("sealed_value")}
          fault={fault.sealed_value}
          width={160}
        />
        <ValueField
          label="Grows a year by, %"
          value={asPercent(data.growth)}
          commit={grow}
          fault={fault.growth}
          width={140}
        />
        <ValueField
          label="Kept for, years"
          value={String(data.years)}
          commit={amount("years")}
          fault={fault.years}
          width={120}
        />
        <ValueField
          label="Keeping it, a year"
          value={data.keeping.toFixed(2)}
          commit={amount("keeping")}
          fault={fault.keeping}
          width={140}
        />
      </Box>
    </Section>
  );
}

function Wanted({ release, data }: { release: string; data: Choice }) {
  const want = useWant(release);
  const detail = useRelease(release);
  const [line, setLine] = useState("");
  const [number, setNumber] = useState("");
  const lines = detail.data?.lines ?? [];
  const add = () =>
    line &&
    number.trim() &&
    want.mutate({ line, number: number.trim(), wanted: true }, { onSuccess: () => setNumber("") });
  return (
    <Section title="The cards you want" point={`all together ${money(data.singles_cost)} ${data.currency}`}>
      <Table label="Wanted cards">
        <Heads of={["Card", { figure: "in a box" }, { figure: "costs" }, { hidden: "actions" }]} />
        <tbody>
          {data.wanted.map((card) => (
            <tr key={card.line + card.number} data-row>
              <td>
                {card.number} {card.name}
              </td>
              <td className="figure">{hits(card.copies)}</td>
              <td className="figure">{money(card.price)}</td>
              <td className="figure">
                <Button
                  color="inherit"
                  data-cell
                  aria-label={`No longer want ${card.name}`}
                  onClick={() => want.mutate({ line: card.line, number: card.number, wanted: false })}
                  sx={{ py: 0 }}
                >
                  no longer
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {data.wanted.length === 0 && (
        <Box sx={{ py: 1, color: "text.secondary" }}>Nothing is marked as wanted yet. Add a card below.</Box>
      )}
      {data.unpriced.length > 0 && <Aside>Wanted, but without a price: {data.unpriced.join("; ")}.</Aside>}
      <Box sx={{ display: "flex", gap: 2, mt: 2, alignItems: "flex-start", flexWrap: "wrap" }}>
        <TextField
          select
          label="Line"
          value={line}
          onChange={(event) => setLine(event.target.value)}
          sx={{ minWidth: 190 }}
        >
          {lines.map((item) => (
            <MenuItem key={item.id} value={item.id}>
              {item.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label="Card number"
          value={number}
          onChange={(event) => setNumber(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && add()}
          error={want.isError}
          helperText={want.isError ? faultOf(want.error) : " "}
          sx={{ width: 150 }}
        />
        <Button variant="outlined" color="inherit" onClick={add} sx={{ mt: 0.5 }}>
          Want it
        </Button>
      </Box>
    </Section>
  );
}

function Thresholds({ data }: { data: Choice }) {
  return (
    <>
      <Section title="One box" point={data.currency}>
        <Figures
          rows={[
            ["Price, landed", money(data.landed)],
            ["Cost, with your time", money(data.outlay)],
            ["Cards, on average", money(data.mean)],
            ["Wanted cards in it, on average", money(data.wanted_share)],
            ["Sealed, nets later", money(data.hold_sum)],
          ]}
        />
      </Section>
      <Section title="What would have to be true" point="all else as it is">
        {data.thresholds.map((item) => {
          const [name, condition] = [WINS[item.choice], item.words];
          return (
            <Box key={item.choice + item.what} sx={{ fontSize: 13, py: 0.5 }}>
              <b>{name}</b> {condition}.
            </Box>
          );
        })}
        {data.thresholds.length === 0 && <Box sx={{ fontSize: 13 }}>Give a price first.</Box>}
      </Section>
      <BasisChoice basis={data.basis} />
      <Aside>
        A wanted card that comes out counts at what it costs to buy, the rest at what it nets. Growth is your
        assumption: sealed boxes also fall. Nothing here is investment advice.
      </Aside>
    </>
  );
}
