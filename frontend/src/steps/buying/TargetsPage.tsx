import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Controller } from "react-hook-form";
import { Link } from "react-router";
import * as z from "zod/mini";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { CardSearch, cardName } from "../../shared/CardSearch";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { Figures } from "../../shared/Figures";
import { EntryRow } from "../../shared/forms/EntryRow";
import { DayField, MoneyField, WordsField } from "../../shared/forms/fields";
import { amount, day as dayShape, maybeAmount, maybeWords, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { count, day, gain, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { useAddress } from "../../shared/useAddress";
import { keyed } from "../../shared/useOnce";
import { useToday } from "../../shared/useToday";

type Targets = Schemas["TargetsOut"];
type Target = Targets["targets"][number];
type In = Schemas["TargetIn"];

const KEYS = ["targets"];
const SHOWN = { "": "all", left: "to be bought", bought: "bought" };

/** What changes of a card of the list; the rest is sent as it stands. */
function toBody(target: Target): In {
  const { version, name, card, state, planned, note, bought } = target;
  return { version, name, card: card?.version ?? null, state, planned, note, bought };
}

/** A target list: what is planned, what it cost, what was saved and why, and where it will end. */
export default function TargetsPage() {
  const [asked, change] = useAddress();
  const found = useQuery({ queryKey: ["targets"], queryFn: () => take(client.GET("/api/targets")) });
  const [buying, setBuying] = useState<number | null>(null);
  if (!found.data) return <Answer of={found} />;
  const { verdict, currency, targets, projection, bands } = found.data;
  const show = asked.get("show") ?? "";
  const rows = targets.filter((it) => !show || (show === "left") === (it.bought === null));
  const chosen = targets.find((it) => it.number === buying);
  return (
    <PageTitle
      title="Target list"
      verdict={verdict}
      crumbs={[{ name: "Buying", to: "/buying" }, { name: "Target list" }]}
    >
      <Box className="no-print">
        <Adding />
      </Box>
      <FieldRow>
        <ChoiceBox label="Shown" value={show} set={(value) => change({ show: value })} choices={SHOWN} />
        <Box className="no-print" sx={{ alignSelf: "flex-end", pb: 0.5 }}>
          <Button color="inherit" onClick={() => window.print()}>
            Print it for a show
          </Button>
          <Button color="inherit" component={Link} to="/buying/-/make">
            Make or buy a grade
          </Button>
        </Box>
      </FieldRow>
      <List rows={rows} currency={currency} buy={setBuying} />
      {chosen && <Buying key={chosen.number} target={chosen} leave={() => setBuying(null)} />}
      {projection.cards > 0 && <Ends projection={projection} currency={currency} bands={bands} />}
      <Aside>Stay at or under the comp; a planned price is no reason to pay it.</Aside>
    </PageTitle>
  );
}

function Adding() {
  const { form, submit, busy, faults } = useEntry({
    draft: "a target",
    empty: { name: "", card: "", state: "", planned: "", note: "" },
    shape: z.object({
      name: words,
      card: z.pipe(
        z.string(),
        z.transform((text) => (text === "" ? null : Number(text))),
      ),
      state: words,
      planned: amount,
      note: maybeWords,
    }),
    send: (body, key) =>
      take(client.POST("/api/targets", { body: { version: 0, ...body, bought: null }, ...keyed(key) })),
    keys: KEYS,
    text: "On the list.",
  });
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="Aim at it" label="Aim at a card">
      <Controller
        control={form.control}
        name="name"
        render={({ field, fieldState }) => (
          <CardSearch
            label="A card, or any words"
            value={field.value}
            type={(text) => {
              field.onChange(text);
              form.setValue("card", "");
            }}
            pick={(card) => {
              field.onChange(`${cardName(card)} ${card.number}`);
              form.setValue("card", String(card.version));
            }}
            fault={fieldState.error?.message}
            inputRef={field.ref}
            width={330}
          />
        )}
      />
      <WordsField control={form.control} name="state" label="State, or Grader:grade" width={170} />
      <MoneyField control={form.control} name="planned" label="May cost" width={110} />
      <WordsField control={form.control} name="note" label="Note" width={180} />
    </EntryRow>
  );
}

function List({ rows, currency, buy }: { rows: Target[]; currency: string; buy: (number: number) => void }) {
  const remove = useAct(
    ({ number }: Target) => take(client.DELETE("/api/targets/{number}", { params: { path: { number } } })),
    {
      keys: KEYS,
      told: ({ name }) => `Off the list: ${name}.`,
      undo: ({ number }) =>
        take(client.POST("/api/targets/{number}/restore", { params: { path: { number } } })),
    },
  );
  const put = (target: Target, part: Partial<In>) =>
    take(
      client.PUT("/api/targets/{number}", {
        params: { path: { number: target.number } },
        body: { ...toBody(target), ...part },
      }),
    );
  const reopen = useAct((target: Target) => put(target, { bought: null }), {
    keys: KEYS,
    text: "Not bought after all.",
    undo: (target) => put({ ...target, version: target.version + 1 }, { bought: target.bought }),
  });
  const amountOr = (text: string | null, empty: string) => (text === null ? empty : money(text));
  const columns: Column<Target>[] = [
    {
      key: "name",
      name: "Card",
      cell: (row) => (
        <>
          {row.name}
          {row.note && <Box sx={{ fontSize: 12, color: "text.secondary" }}>{row.note}</Box>}
        </>
      ),
      text: (row) => row.name,
    },
    { key: "state", name: "Planned", cell: (row) => row.state },
    { key: "planned", name: "may cost", kind: "figure", cell: (row) => money(row.planned) },
    { key: "comp", name: "comp now", kind: "figure", cell: (row) => amountOr(row.comp, "unknown") },
    { key: "ceiling", name: "pay at most", kind: "figure", cell: (row) => amountOr(row.ceiling, "") },
    {
      key: "bought",
      name: "Bought",
      cell: (row) =>
        row.bought
          ? `${row.bought.state}, ${money(row.bought.all_in)}, ${day(row.bought.on)}`
          : row.held > 0
            ? `${count(row.held)} held`
            : "",
    },
    {
      key: "lower",
      name: "lower grade",
      kind: "figure",
      cell: (row) =>
        row.savings?.lower_grade ? gain(Number(row.savings.lower_grade)) : row.savings ? "unknown" : "",
    },
    {
      key: "good",
      name: "good buying",
      kind: "figure",
      cell: (row) =>
        row.savings?.good_buying ? gain(Number(row.savings.good_buying)) : row.savings ? "unknown" : "",
    },
    {
      key: "acts",
      name: "",
      cell: (row) => (
        <Box className="no-print" sx={{ whiteSpace: "nowrap" }}>
          {row.bought ? (
            <Small text="Not bought" name={row.name} go={() => reopen.mutate(row)} />
          ) : (
            <>
              <Small text="Bought" name={row.name} go={() => buy(row.number)} />
              <Small text="Take off" name={row.name} go={() => remove.mutate(row)} />
            </>
          )}
        </Box>
      ),
    },
  ];
  return (
    <Section title="The list" point={currency}>
      <DataTable
        label="Target list"
        rows={rows}
        columns={columns}
        keyOf={(row) => row.number}
        empty="None here. Aim at a card above: which one, in which state, for how much."
      />
    </Section>
  );
}

function Small({ text, name, go }: { text: string; name: string; go: () => void }) {
  return (
    <Button
      color="inherit"
      aria-label={`${text}: ${name}`}
      onClick={go}
      sx={{ p: 0, minWidth: 24, minHeight: 24, mr: 1 }}
    >
      {text}
    </Button>
  );
}

/** A card of the list was bought: in which state, for how much, and what such copies went for. */
function Buying({ target, leave }: { target: Target; leave: () => void }) {
  const today = useToday();
  const { form, submit, busy, faults } = useEntry({
    draft: `target ${target.number}`,
    empty: { state: target.state, all_in: "", on: today, low: "", middle: "", high: "" },
    shape: z.object({
      state: words,
      all_in: amount,
      on: dayShape(today),
      low: maybeAmount,
      middle: maybeAmount,
      high: maybeAmount,
    }),
    send: (bought, key) =>
      take(
        client.PUT("/api/targets/{number}", {
          params: { path: { number: target.number } },
          body: { ...toBody(target), bought },
          ...keyed(key),
        }),
      ),
    keys: KEYS,
    text: `Bought: ${target.name}.`,
    undo: () =>
      take(
        client.PUT("/api/targets/{number}", {
          params: { path: { number: target.number } },
          body: { ...toBody(target), version: target.version + 1 },
        }),
      ),
    done: leave,
  });
  const { control } = form;
  return (
    <Section title="Bought" point={target.name}>
      <EntryRow
        submit={submit}
        busy={busy}
        faults={faults}
        act="It is bought"
        label="Bought"
        after={
          <Button color="inherit" onClick={leave}>
            Not yet
          </Button>
        }
      >
        <WordsField control={control} name="state" label="In which state" width={150} />
        <MoneyField control={control} name="all_in" label="All-in" width={110} />
        <DayField control={control} name="on" label="On" />
        <MoneyField control={control} name="low" label="Comp then, low" width={120} />
        <MoneyField control={control} name="middle" label="middle" width={110} />
        <MoneyField control={control} name="high" label="high" width={110} />
      </EntryRow>
      <Aside>
        Left empty, the comps are those that are known here, if it was bought in the last 30 days.
      </Aside>
    </Section>
  );
}

function Ends({
  projection,
  currency,
  bands,
}: {
  projection: Targets["projection"];
  currency: string;
  bands: string;
}) {
  const whole = (figure: number | null) => (figure === null ? "unknown" : money(figure));
  return (
    <Section title="Where it will end" point={currency}>
      <Table label="By price band">
        <Heads
          of={[
            "Band",
            { figure: "cards" },
            { figure: "bought" },
            { figure: "planned" },
            { figure: "paid so far" },
            { figure: "projected" },
          ]}
        />
        <tbody>
          {projection.bands.map((band) => (
            <tr key={band.name} data-row>
              <td>{band.name}</td>
              <td className="figure">{count(band.cards)}</td>
              <td className="figure">{count(band.bought)}</td>
              <td className="figure">{money(band.planned)}</td>
              <td className="figure">{money(band.spent)}</td>
              <td className="figure">
                {whole(band.projected)}
                {!band.own && band.projected !== null && " (as the others)"}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Box sx={{ maxWidth: 420, mt: 1.5 }}>
        <Figures
          rows={[
            ["By the plain ratio", whole(projection.plain)],
            ["By bands", whole(projection.banded)],
            [
              "8 of 10 such lists",
              projection.low === null
                ? "three bought ones tell"
                : `${whole(projection.low)} to ${whole(projection.high)}`,
            ],
            ["Left for each card to be bought", whole(projection.left_per_card)],
            ["Cards in 30 days", projection.pace === null ? "unknown" : projection.pace.toFixed(1)],
            ["Done at that pace", projection.done_on === null ? "unknown" : day(projection.done_on)],
          ]}
        />
      </Box>
      <Bands bands={bands} />
    </Section>
  );
}

function Bands({ bands }: { bands: string }) {
  const { form, submit, busy, faults } = useEntry({
    stays: true,
    draft: "bands of targets",
    empty: { text: bands },
    shape: z.object({ text: words }),
    send: (body) => take(client.PUT("/api/targets/bands", { body })),
    keys: KEYS,
    text: "Bands kept.",
    undo: () => take(client.PUT("/api/targets/bands", { body: { text: bands } })),
  });
  return (
    <Box className="no-print" sx={{ mt: 1.5 }}>
      <EntryRow submit={submit} busy={busy} faults={faults} act="Keep" label="Price bands">
        <WordsField
          control={form.control}
          name="text"
          label="Price bands, each with what it ends under"
          width={380}
        />
      </EntryRow>
    </Box>
  );
}
