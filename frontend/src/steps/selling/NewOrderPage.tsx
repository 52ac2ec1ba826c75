import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQueries, useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useFieldArray, useWatch, type UseFormReturn } from "react-hook-form";
import { useNavigate, useSearchParams } from "react-router";
import * as z from "zod/mini";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { FieldRow } from "../../shared/FieldRow";
import { day as inDays, money } from "../../shared/format";
import {
  CheckField,
  ChoiceField,
  DayField,
  MoneyField,
  OtherFaults,
  WordsField,
} from "../../shared/forms/fields";
import { amount, day, maybeAmount, maybeWords, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useDebounced } from "../../shared/useDebounced";
import { keyed } from "../../shared/useOnce";
import { useToday } from "../../shared/useToday";
import { useWays, wayNames } from "../../shared/ways";
import { feesAsked, fresh, type Sale, type SaleLine } from "./sale";
import { ItemSearch } from "./ItemSearch";
import { KEYS } from "./queries";
import { SellingTabs } from "./SellingTabs";
import { ThingRow } from "./ThingRow";

/** A sale is written down: what, for how much, to whom, by which way; by hand, from a selection of the stock. */
export default function NewOrderPage() {
  const today = useToday();
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const ways = useWays();
  const { form, submit, busy, faults, clear } = useEntry({
    draft: "a sale",
    empty: fresh(inDays(today)),
    shape: z.object({
      day: day(today),
      lines: z.array(z.object({ item: z.number(), name: z.string(), worth: z.string(), price: amount })),
      buyer: maybeWords,
      reference: maybeWords,
      way: z.string(),
      owes: z.boolean(),
      handed: z.boolean(),
      shipping: maybeAmount,
      fees: maybeAmount,
      purse: words,
      address: z.string(),
      offer: z.number(),
    }),
    names: { prices: "lines" },
    send: ({ lines, way, owes, handed, shipping, fees, offer, ...said }, key) =>
      take(
        client.POST("/api/orders", {
          body: {
            ...said,
            lines: lines.map(({ item, price }) => ({ item, price })),
            way: way || null,
            market: owes ? (ways.data?.ways.find((it) => it.id === way)?.name ?? null) : null,
            currency: null,
            rate: null,
            shipping: shipping ?? "0",
            fees: fees ?? "0",
            handed_over: handed,
            offer: offer || null,
          },
          ...keyed(key),
        }),
      ),
    keys: KEYS,
    text: "It is sold.",
    done: ({ number }) => void navigate(`/selling/${number}`),
  });
  const rows = useFieldArray({ control: form.control, name: "lines" });
  const asked = useListing(Number(params.get("listing")), Number(params.get("offer")));
  const listed = asked.data;
  useAsked(
    listed ? listed.lines.map((it) => it.item).join(",") : (params.get("items") ?? ""),
    form,
    (line) => rows.append(line),
    listed,
    Number(params.get("offer")),
  );
  const lines = useWatch({ control: form.control, name: "lines" });
  const way = useWatch({ control: form.control, name: "way" });
  const offer = useWatch({ control: form.control, name: "offer" });
  const { control } = form;
  return (
    <PageTitle
      title="Something is sold"
      plain="What is sold, for how much, and to whom."
      crumbs={[{ name: "Selling", to: "/selling" }, { name: "Something is sold" }]}
    >
      <SellingTabs />
      {asked.error && <Box role="alert">{inWords(asked.error)}</Box>}
      <Box component="form" noValidate onSubmit={submit} aria-label="A sale">
        <Section title="What" point="a price for each, or for all of a stack">
          {rows.fields.map((field, at) => (
            <ThingRow key={field.id} name={lines[at]?.name ?? field.name} leave={() => rows.remove(at)}>
              <MoneyField
                control={control}
                name={`lines.${at}.price`}
                label="Sold for"
                hint={field.worth ? `worth ${money(field.worth)}` : "worth not known"}
              />
            </ThingRow>
          ))}
          <ItemSearch
            label={rows.fields.length ? "And what else" : "What, by its name, number or place"}
            pick={(item) => {
              if (form.getValues("lines").some((it) => it.item === item.number)) return;
              rows.append({ item: item.number, name: item.name, worth: item.value ?? "", price: "" });
            }}
          />
        </Section>
        <Section title="To whom, by which way" point="">
          <FieldRow>
            <DayField control={control} name="day" label="Sold on" />
            <WordsField control={control} name="buyer" label="Buyer" width={200} />
            <WordsField
              control={control}
              name="reference"
              label="Order number"
              hint="empty: one is made"
              width={150}
            />
            <ChoiceField
              control={control}
              name="way"
              label="Way of selling"
              choices={{
                "": "by hand",
                ...wayNames(ways.data),
              }}
              width={190}
            />
            <Box sx={{ mt: "20px" }}>
              <CheckField control={control} name="handed" label="handed over, no parcel" />
            </Box>
            <WordsField
              control={control}
              name="address"
              label="Address, a line each"
              more={{ multiline: true, minRows: 3 }}
              width={260}
            />
          </FieldRow>
        </Section>
        <Section title="Money" point="in your currency">
          <FieldRow>
            <MoneyField control={control} name="shipping" label="Shipping paid" hint="empty: none" />
            <MoneyField control={control} name="fees" label="Fees kept back" hint="empty: none" />
            <WordsField control={control} name="purse" label="Came into" width={110} />
            {way && (
              <Box sx={{ mt: "20px" }}>
                <CheckField control={control} name="owes" label="it pays out later" />
              </Box>
            )}
          </FieldRow>
          {way && <Fees form={form} />}
        </Section>
        <Box sx={{ display: "flex", gap: 1 }}>
          <Button type="submit" variant="contained" disabled={busy || rows.fields.length === 0}>
            It is sold
          </Button>
          <Button color="inherit" onClick={clear}>
            Empty it
          </Button>
        </Box>
        <OtherFaults faults={faults} />
        {offer > 0 && (
          <Box role="status" sx={{ fontSize: 13, mt: 1 }}>
            It takes the offer for that listing.{" "}
            <Button color="inherit" onClick={() => form.setValue("offer", 0, { shouldDirty: true })}>
              It does not
            </Button>
          </Box>
        )}
      </Box>
      <Aside>
        Tell the buyer what you know: cleaned, cracked out of a holder, a former grade, an opened box. At the
        table, a seller or buyer who does not know what they have, above all a minor, is owed a fair price.
      </Aside>
    </PageTitle>
  );
}

type Listed = Schemas["SaleOfOut"];

/** What a listing is sold as, where the address names one. */
function useListing(listing: number, offer: number) {
  return useQuery({
    queryKey: ["listings", "sale", listing, offer],
    queryFn: () =>
      take(
        client.GET("/api/listings/{number}/sale", {
          params: { path: { number: listing }, query: offer ? { offer } : {} },
        }),
      ),
    enabled: listing > 0,
    retry: false,
  });
}

function priceIn(listed: Listed | undefined, item: number): string {
  const line = listed?.lines.find((it) => it.item === item);
  return line ? Number(line.price).toFixed(2) : "";
}

/** Things that the address asks for come into the form once; of a listing with their prices, its way and its buyer. */
function useAsked(
  asked: string,
  form: UseFormReturn<Sale>,
  add: (line: SaleLine) => void,
  listed: Listed | undefined,
  offer: number,
) {
  const numbers = asked.split(",").map(Number).filter(Boolean).slice(0, 100);
  const found = useQueries({
    queries: numbers.map((number) => ({
      queryKey: ["items", "one", String(number)],
      queryFn: () => take(client.GET("/api/items/{number}", { params: { path: { number } } })),
    })),
  });
  const done = useRef("");
  const items = found.flatMap((it) => (it.data ? [it.data] : []));
  const isThere = items.length === numbers.length;
  useEffect(() => {
    if (!asked || !isThere || done.current === asked) return;
    done.current = asked;
    const known = new Set(form.getValues("lines").map((it) => it.item));
    for (const it of items)
      if (!known.has(it.number) && it.state === "held")
        add({
          item: it.number,
          name: it.name,
          worth: it.value ?? "",
          price: priceIn(listed, it.number),
        });
    if (!listed) return;
    form.setValue("way", listed.way, { shouldDirty: true });
    form.setValue("offer", offer, { shouldDirty: true });
    if (listed.buyer) form.setValue("buyer", listed.buyer, { shouldDirty: true });
  });
}

function Fees({ form }: { form: UseFormReturn<Sale> }) {
  const said = useWatch({ control: form.control });
  const body = useDebounced(JSON.stringify(feesAsked(said)), 250);
  const found = useQuery({
    queryKey: ["orders", "fees", body],
    queryFn: ({ signal }) =>
      take(client.POST("/api/orders/fees", { body: JSON.parse(body) as never, signal })),
    enabled: body !== "null",
    retry: false,
  });
  if (!found.data || body === "null") return null;
  const fees = found.data.fees;
  return (
    <Box role="status" sx={{ fontSize: 13 }}>
      By its rates it keeps {money(fees)} of this.{" "}
      <Button
        color="inherit"
        onClick={() => form.setValue("fees", fees, { shouldDirty: true, shouldValidate: true })}
      >
        Take that
      </Button>
    </Box>
  );
}
