import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { keepPreviousData, queryOptions, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useWatch } from "react-hook-form";
import { useLocation, useNavigate } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { FieldRow } from "../../shared/FieldRow";
import { Figures } from "../../shared/Figures";
import { money } from "../../shared/format";
import { ChoiceField, DayField, OtherFaults, PercentField, WordsField } from "../../shared/forms/fields";
import { useEntry } from "../../shared/forms/useEntry";
import { Key } from "../../shared/Key";
import { useTakesEntries } from "../../shared/keys/entries";
import { useNotice } from "../../shared/notices";
import { KnownNotes } from "../../shared/KnownNotes";
import { PageTitle } from "../../shared/PageTitle";
import { holds, losesIn } from "../../shared/prospect";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { TwoColumns } from "../../shared/TwoColumns";
import { useDebounced } from "../../shared/useDebounced";
import { keyed } from "../../shared/useOnce";
import { useToday } from "../../shared/useToday";
import { ChargeRows } from "./ChargeRows";
import {
  emptyCharge,
  EMPTY_THING,
  emptyPurchase,
  fromLine,
  METHODS,
  purchaseShape,
  releasesOf,
  type Draft,
} from "./draft";
import { KEYS, usePurchases } from "./queries";
import { ThingRows } from "./ThingRows";

/** Record a purchase: said in one line, understood in parts, with what it would cost and bring before it is booked. */
export default function NewPurchasePage() {
  const purchases = usePurchases();
  if (!purchases.data) return <Answer of={purchases} />;
  return <Form home={purchases.data.currency} />;
}

const FOLDED = ["name", "carrier", "tracking", "due_on", "note", "fun"] as const;

/** What a line of words means by what is known here. */
function reading(line: string) {
  return queryOptions({
    queryKey: ["purchase-line", line],
    queryFn: ({ signal }) =>
      take(client.GET("/api/purchases/reading", { params: { query: { line } }, signal })),
    staleTime: 30_000,
  });
}

/** The landed cost, its division and what it would bring, asked as the form is filled in; null while it is not whole. */
function usePreview(body: Schemas["PurchaseIn"] | null) {
  const asked = useDebounced(JSON.stringify(body), 250);
  return useQuery({
    queryKey: ["purchase-preview", asked],
    queryFn: () =>
      take(client.POST("/api/purchases/preview", { body: JSON.parse(asked) as Schemas["PurchaseIn"] })),
    enabled: asked !== "null",
    placeholderData: keepPreviousData,
    retry: false,
  });
}

/** The bill of a won bid, or a collection that an offer was made for, brought along. */
interface Won {
  charges?: { kind: string; amount: string }[];
  collection?: { count: string; value: string };
}

function Form({ home }: { home: string }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const say = useNotice();
  const today = useToday();
  const [again, setAgain] = useState<Draft | null>(null);
  const [more, setMore] = useState(false);
  const [shape] = useState(() => purchaseShape(today, home));
  useTakesEntries();
  const { form, submit, busy, faults, clear } = useEntry<Draft, Schemas["PurchaseIn"], Schemas["NumberOut"]>({
    draft: "purchase-3",
    empty: emptyPurchase(today, home),
    shape,
    names: { entertainment: "fun" },
    send: (body, key) => take(client.POST("/api/purchases", { body, ...keyed(key) })),
    keys: [...KEYS, "spending"],
    text: "Booked.",
    done: ({ number }) => {
      if (again === null) return void navigate(`/buying/${number}`);
      form.reset(again, { keepDefaultValues: true }); // another like it: the words stay, to be changed
      setAgain(null);
      document.getElementById("purchase-line")?.focus();
    },
  });
  const { control } = form;
  const { state } = useLocation() as { state: Won | null };
  useEffect(() => {
    if (!state) return;
    if (state.collection)
      form.setValue(
        "things",
        [
          {
            ...EMPTY_THING,
            what: Number(state.collection.count) > 1 ? "stack" : "other",
            ...state.collection,
          },
        ].map((thing) => ({ ...thing, name: "a collection" })),
        { shouldDirty: true },
      );
    const won = (state.charges ?? []).map(({ kind, amount }) => ({ ...emptyCharge(kind, home), amount }));
    if (won.length > 0) form.setValue("charges", won, { shouldDirty: true }); // a won bid's bill; what it was is said in the line
    void navigate(".", { replace: true, state: null }); // a reload keeps the words typed since
  }, [state, form, home, navigate]);
  const values = useWatch({ control }) as Draft;
  const line = useDebounced(values.line, 200);
  const meant = useQuery({
    ...reading(line),
    enabled: line.trim() !== "",
    placeholderData: keepPreviousData,
  });

  /** Put what the line says into the fields that nobody typed into. */
  const apply = (spoken: Schemas["SpokenOut"]) => {
    const typed = form.formState.dirtyFields;
    const said = fromLine(spoken, home);
    if (said.things && !typed.things) form.setValue("things", said.things);
    if (said.charges && !typed.charges) form.setValue("charges", said.charges);
    for (const name of ["seller", "bought_on", "received_on"] as const)
      if (said[name] !== undefined && !typed[name]) form.setValue(name, said[name]);
  };
  const isRead = meant.data !== undefined && !meant.isPlaceholderData && values.line === line;
  useEffect(() => {
    if (isRead) apply(meant.data);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what was read is put in once, when it comes
  }, [isRead, meant.data]);
  const book = async (another: boolean) => {
    // Whoever types faster than the answer books what was typed; without an answer nothing is booked.
    try {
      if (values.line.trim() && !isRead) apply(await queries.fetchQuery(reading(values.line)));
    } catch (error) {
      return say({ text: inWords(error), isError: true });
    }
    setAgain(another ? form.getValues() : null);
    submit();
  };

  const whole = shape.safeParse(values);
  const preview = usePreview(whole.success ? whole.data : null);
  const data = whole.success ? preview.data : undefined;
  const { errors } = form.formState;
  // Filled in or wrong where it is folded away: it unfolds.
  const isOpen = more || FOLDED.some((name) => values[name] !== "" || errors[name]);
  const others = meant.data?.things.slice(1, 4) ?? [];
  const releases = releasesOf(values.things);
  return (
    <PageTitle
      title="Record a purchase"
      {...(data ? { verdict: data.verdict } : {})}
      plain="What did you buy, and what did it really cost?"
      crumbs={[{ name: "Buying", to: "/buying" }, { name: "Record a purchase" }]}
    >
      <Box
        component="form"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          void book(false);
        }}
        onKeyDown={(event) => {
          if (event.key !== "Enter" || !event.shiftKey) return;
          event.preventDefault();
          void book(true);
        }}
      >
        <Box
          sx={{
            display: "flex",
            flexWrap: "wrap",
            alignItems: "center",
            border: 2,
            borderColor: "tone.ink",
            bgcolor: "background.paper",
            px: 1.5,
            mb: 1,
          }}
        >
          <InputBase
            id="purchase-line"
            autoFocus
            autoComplete="off"
            placeholder="2 harbour box 176 + 6.90 bellbuoy"
            {...form.register("line")}
            slotProps={{ input: { "aria-label": "The purchase in one line" } }}
            sx={{ flex: 1, minWidth: 240, font: "inherit", fontSize: 17, "& input": { height: 40, p: 0 } }}
          />
          <Box sx={{ fontSize: 13, color: "text.secondary", py: 0.5 }}>
            understood as below; <Key>Tab</Key> to any part, <Key>Enter</Key> books it
          </Box>
        </Box>
        {others.length > 0 && (
          <Box
            sx={{ display: "flex", flexWrap: "wrap", gap: 1, fontSize: 13, color: "text.secondary", mb: 1 }}
          >
            or was it
            {others.map((thing) => (
              <Button
                key={thing.name}
                color="inherit"
                variant="outlined"
                sx={{ py: 0 }}
                onClick={() => meant.data && apply({ ...meant.data, things: [thing] })}
              >
                {thing.name}
              </Button>
            ))}
          </Box>
        )}
        <TwoColumns
          main={
            <>
              <Section
                title="What came"
                point="what it is worth decides what it carries, unless you choose otherwise"
              >
                <ThingRows form={form} shares={data?.shares} />
                {releases.map((release) => (
                  <KnownNotes key={release} release={release} />
                ))}
              </Section>
              <Section
                title="What it cost"
                point="each in its currency, at the rate of its day unless you give one"
              >
                <ChargeRows control={control} home={home} boughtOn={values.bought_on} />
                {data && <Rates data={data} />}
              </Section>
              <FieldRow>
                <WordsField control={control} name="seller" label="From" width={180} />
                <DayField control={control} name="bought_on" label="Bought" />
                <DayField control={control} name="received_on" label="Here since, if it is here" />
                <ChoiceField
                  control={control}
                  name="method"
                  label="Divide the cost"
                  choices={METHODS}
                  width={180}
                />
                {!isOpen && (
                  <Button color="inherit" onClick={() => setMore(true)}>
                    More to say
                  </Button>
                )}
                {isOpen && (
                  <>
                    <WordsField control={control} name="name" label="What, in words" width={280} />
                    <PercentField control={control} name="fun" label="For fun when opened" width={140} />
                    {!values.received_on && (
                      <>
                        <WordsField control={control} name="carrier" label="Carrier" width={150} />
                        <WordsField control={control} name="tracking" label="Tracking number" width={170} />
                        <DayField control={control} name="due_on" label="Due" />
                      </>
                    )}
                    <WordsField control={control} name="note" label="Note" width={300} />
                  </>
                )}
              </FieldRow>
              <OtherFaults faults={faults} />
              <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "center", mt: 1 }}>
                <Button type="submit" variant="contained" disabled={busy}>
                  Book it&nbsp;&nbsp;<Key>Enter</Key>
                </Button>
                <Button variant="outlined" color="inherit" disabled={busy} onClick={() => void book(true)}>
                  Book, then another like it&nbsp;&nbsp;<Key>Shift Enter</Key>
                </Button>
                <Button color="inherit" onClick={clear}>
                  Empty the form
                </Button>
                <Box component="span" sx={{ color: "text.secondary", fontSize: 13 }}>
                  kept as you type; nothing is lost if you leave
                </Box>
              </Box>
            </>
          }
          aside={data && <Beside data={data} />}
        />
      </Box>
    </PageTitle>
  );
}

function Rates({ data }: { data: Schemas["DivisionOut"] }) {
  const foreign = data.charges.filter((charge) => charge.currency !== data.currency);
  return (
    <Box role="status" sx={{ mt: 0.5 }}>
      Landed <b>{money(data.landed)}</b> {data.currency}
      {foreign
        .map((it) => `; ${it.kind} ${money(it.amount)} ${it.currency} at ${it.rate} (${it.source})`)
        .join("")}
      . Nothing is booked yet.
    </Box>
  );
}

/** What one box would cost and bring, and what the month comes to. */
function Beside({ data }: { data: Schemas["DivisionOut"] }) {
  const prospect = data.prospects.find((it) => it !== null);
  const [spent, after, limit] = [Number(data.spent), Number(data.after), Number(data.limit ?? 0)];
  const isOver = data.limit !== null && after > limit;
  const most = Math.max(after, limit) || 1;
  const share = (value: number) => `${(value / most) * 100}%`;
  return (
    <>
      {prospect && (
        <Section title="One box" point={data.currency}>
          <Figures
            rows={[
              ["this one costs", money(prospect.paid)],
              ["most to pay by your rule", money(prospect.most)],
              ["on average holds", holds(prospect)],
              ["chance of less", losesIn(prospect)],
              ["sealed, sells at", money(prospect.sealed)],
            ]}
          />
        </Section>
      )}
      {data.limit !== null && (
        <Section title={data.month} point={`your limit: ${money(data.limit)}`}>
          <Box
            role="img"
            aria-label={`${money(after)} of ${money(data.limit)} ${data.currency} with this purchase`}
            sx={{ position: "relative", display: "flex", height: 12, my: 1, bgcolor: "background.paper" }}
          >
            <Box sx={{ width: share(Math.min(spent, most)), bgcolor: "tone.soft" }} />
            <Box sx={{ width: share(Math.max(Math.min(after, limit) - spent, 0)), bgcolor: "tone.ink" }} />
            <Box sx={{ width: share(Math.max(after - Math.max(limit, spent), 0)), bgcolor: "tone.loss" }} />
            <Box
              sx={{
                position: "absolute",
                left: share(limit),
                top: -4,
                bottom: -4,
                width: 2,
                bgcolor: "tone.ink",
              }}
            />
          </Box>
          {isOver && <Aside>Over the limit that you set. It can wait until next month.</Aside>}
        </Section>
      )}
    </>
  );
}
