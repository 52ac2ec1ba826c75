import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import * as z from "zod/mini";
import { Answer } from "../../shared/Answer";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { faultAt } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { Figures } from "../../shared/Figures";
import { count, day, money } from "../../shared/format";
import { DayField, MoneyField, OtherFaults, WordsField } from "../../shared/forms/fields";
import { amount, maybeAmount, maybeDay, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { useDebounced } from "../../shared/useDebounced";
import { useToday } from "../../shared/useToday";
import { SmallVerdict } from "../../shared/VerdictLine";
import { ValueField } from "../../shared/ValueField";
import { readAmount } from "../../shared/forms/reading";
import { ListingPhotos } from "./ListingPhotos";
import { Errand } from "./Errand";
import { listing, LISTED, LISTING_STATES, saleOf } from "./listings";
import { SellingTabs } from "./SellingTabs";

type Detail = Schemas["ListingOut"];

/** A listing: what it says, what it asks and nets, and what is offered for it. */
export default function ListingPage() {
  const { number = "" } = useParams();
  const found = useQuery(listing(Number(number)));
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  const it = data.listing;
  const isOpen = it.state === "drafted" || it.state === "listed";
  return (
    <PageTitle
      title={it.title}
      plain={`${money(it.price)} ${it.currency} by ${data.way} nets ${money(data.net)}.`}
      crumbs={[
        { name: "Selling", to: "/selling" },
        { name: "Listings", to: "/selling/-/listings" },
        { name: it.title },
      ]}
    >
      <SellingTabs />
      <TwoColumns
        main={
          <>
            {isOpen ? <Edit data={data} /> : <Box sx={{ whiteSpace: "pre-line" }}>{it.words}</Box>}
            {isOpen && <ListingPhotos data={data} />}
            {it.state === "listed" && <Offers data={data} />}
            {it.state !== "listed" && it.offers.length > 0 && <OfferTable data={data} />}
          </>
        }
        aside={<Facts data={data} />}
      />
    </PageTitle>
  );
}

function Facts({ data }: { data: Detail }) {
  const it = data.listing;
  const [told, setTold] = useState("");
  const [errand, setErrand] = useState(0);
  const path = { number: it.number };
  const up = useAct(() => take(client.POST("/api/listings/put-up", { body: { numbers: [it.number] } })), {
    keys: ["tasks"],
    done: (task) => setErrand(task.number),
  });
  const end = useAct(
    () =>
      take(client.POST("/api/listings/{number}/end", { params: { path }, body: { version: it.version } })),
    {
      keys: [...LISTED, "tasks"],
      done: ({ text, errand }) => {
        setTold(errand === null ? text : "");
        setErrand(errand ?? 0);
      },
    },
  );
  const again = useAct(() => take(client.POST("/api/listings/{number}/relist", { params: { path } })), {
    keys: LISTED,
    text: "It is a draft again.",
  });
  return (
    <>
      <Section title="Where it stands" point={LISTING_STATES[it.state]}>
        <Figures
          rows={[
            ["Where", data.way],
            ["Their number", it.reference ?? "none"],
            ["Listed", it.listed_on ? day(it.listed_on) : "not yet"],
            ["Priced", day(it.priced_on)],
            ["Lowest worth taking", money(data.lowest)],
            ...(it.ended_on ? [["Ended", day(it.ended_on)] as [string, string]] : []),
          ]}
        />
        <Box sx={{ display: "flex", gap: 1, mt: 1.5, flexWrap: "wrap" }}>
          {it.state === "drafted" && (
            <Button variant="contained" disabled={up.isPending} onClick={() => up.mutate(undefined)}>
              Put it up
            </Button>
          )}
          {(it.state === "drafted" || it.state === "listed") && (
            <>
              <Button color="inherit" variant="outlined" component={Link} to={saleOf(it.number, null)}>
                It is sold
              </Button>
              <Button color="inherit" disabled={end.isPending} onClick={() => end.mutate(undefined)}>
                End it
              </Button>
            </>
          )}
          {(it.state === "ended" || it.state === "sold") && (
            <Button color="inherit" disabled={again.isPending} onClick={() => again.mutate(undefined)}>
              List it again
            </Button>
          )}
          {it.document !== null && <Link to={`/selling/${it.document}`}>to its order</Link>}
        </Box>
        <Box role="status" sx={{ mt: 1, fontSize: 13 }}>
          {told}
        </Box>
        {errand > 0 && <Errand number={errand} />}
      </Section>
      <Section title="What it offers" point={count(it.things.length)}>
        <Box component="ul" sx={{ m: 0, pl: 2.25 }}>
          {it.things.map((thing) => (
            <li key={thing.item}>
              <Link to={`/stock/${thing.item}`}>{thing.name}</Link>
            </li>
          ))}
        </Box>
      </Section>
      {data.must.length > 0 && (
        <Section title="Must be told" point={data.untold.length ? "not all of it is told" : "it is told"}>
          <Box component="ul" sx={{ m: 0, pl: 2.25 }}>
            {data.must.map((said) => (
              <li key={said}>{data.untold.includes(said) ? <b>{said}</b> : said}</li>
            ))}
          </Box>
          {data.untold.length > 0 && (
            <Box role="status" sx={{ mt: 1, fontSize: 13 }}>
              It came up since. “Say it so” puts it into the words{" "}
              {it.state === "listed" ? "here; tell the market and whoever offered." : "."}
            </Box>
          )}
        </Section>
      )}
    </>
  );
}

function Edit({ data }: { data: Detail }) {
  const it = data.listing;
  const today = useToday();
  const { form, submit, busy, faults } = useEntry({
    empty: {
      title: it.title,
      words: it.words,
      price: Number(it.price).toFixed(2),
      lowest: it.lowest === null ? "" : Number(it.lowest).toFixed(2),
      ends: it.ends_on ? day(it.ends_on) : "",
    },
    stays: true,
    shape: z.object({ title: words, words, price: amount, lowest: maybeAmount, ends: maybeDay(today) }),
    names: { ends_on: "ends" },
    send: ({ ends, ...said }) =>
      take(
        client.PUT("/api/listings/{number}", {
          params: { path: { number: it.number } },
          body: { version: it.version, ...said, kind: it.kind, ends_on: ends },
        }),
      ),
    keys: LISTED,
    text: "It says so now.",
  });
  const { control } = form;
  return (
    <Section title="What it says" point={it.kind === "auction" ? "an auction" : "at a fixed price"}>
      <Box component="form" noValidate onSubmit={submit} aria-label="The listing">
        <FieldRow>
          <WordsField control={control} name="title" label="Title" width={520} />
        </FieldRow>
        <FieldRow>
          <WordsField
            control={control}
            name="words"
            label="Words"
            more={{ multiline: true, minRows: 4 }}
            width={520}
          />
        </FieldRow>
        <FieldRow>
          <MoneyField control={control} name="price" label={it.kind === "auction" ? "Begins at" : "Price"} />
          <MoneyField control={control} name="lowest" label="Lowest taken" hint="empty: by its sales" />
          {it.kind === "auction" && <DayField control={control} name="ends" label="Closes on" />}
        </FieldRow>
        {data.asking.length > 0 && (
          <Box sx={{ fontSize: 13, mb: 1 }}>
            {data.asking.map((ask) => (
              <Button
                key={ask.name}
                color="inherit"
                size="small"
                onClick={() => form.setValue("price", Number(ask.price).toFixed(2), { shouldDirty: true })}
              >
                {ask.name} {money(ask.price)}
                {ask.net !== null && `, nets ${money(ask.net)}`}
                {ask.days !== null && `, about ${count(Math.round(ask.days))} days`}
              </Button>
            ))}
          </Box>
        )}
        <Button type="submit" variant="contained" disabled={busy}>
          Say it so
        </Button>
        <OtherFaults faults={faults} />
      </Box>
    </Section>
  );
}

function Offers({ data }: { data: Detail }) {
  const it = data.listing;
  const [typed, setTyped] = useState("");
  const [buyer, setBuyer] = useState("");
  const read = readAmount(typed);
  const body = useDebounced("value" in read ? read.value : "", 250);
  const weighed = useQuery({
    queryKey: ["listings", "weighed", it.number, body],
    queryFn: ({ signal }) =>
      take(
        client.GET("/api/listings/{number}/offer-weighed", {
          params: { path: { number: it.number }, query: { amount: body } },
          signal,
        }),
      ),
    enabled: body !== "",
    retry: false,
  });
  const offer = useAct(
    () =>
      take(
        client.POST("/api/listings/{number}/offers", {
          params: { path: { number: it.number } },
          body: { amount: "value" in read ? read.value : typed, buyer: buyer || null },
        }),
      ),
    { keys: LISTED, text: "The offer is noted.", done: () => setTyped(""), quiet: true },
  );
  return (
    <>
      <Section title="Offers" point="">
        <FieldRow>
          <ValueField
            label="Somebody offers"
            value={typed}
            commit={setTyped}
            fault={typed && "fault" in read ? read.fault : (faultAt(offer.error, "amount") ?? null)}
            inputMode="decimal"
            width={130}
          />
          <ValueField label="Who" value={buyer} commit={setBuyer} width={180} />
          <Button
            color="inherit"
            variant="outlined"
            disabled={offer.isPending}
            onClick={() => offer.mutate(undefined)}
            sx={{ mt: "20px" }}
          >
            Note it
          </Button>
        </FieldRow>
        {weighed.data && body !== "" && <SmallVerdict verdict={weighed.data.verdict} />}
        {weighed.error && <Box role="alert">{inWords(weighed.error)}</Box>}
      </Section>
      {it.offers.length > 0 && <OfferTable data={data} />}
    </>
  );
}

const ANSWERS: Readonly<Record<string, string>> = {
  open: "waits",
  taken: "taken",
  declined: "declined",
  countered: "asked for",
};

function OfferTable({ data }: { data: Detail }) {
  const it = data.listing;
  const answer = useAct(
    ({ number, ...body }: { number: number } & Schemas["AnswerIn"]) =>
      take(client.POST("/api/listing-offers/{number}", { params: { path: { number } }, body })),
    { keys: LISTED, text: "Answered." },
  );
  return (
    <Table label="Offers">
      <Heads of={["Day", "who", { figure: "offers" }, "answer", { hidden: "actions" }]} />
      <tbody>
        {it.offers.map((one) => (
          <tr key={one.number} data-row>
            <td className="day">{day(one.day)}</td>
            <td>{one.buyer}</td>
            <td className="figure">{money(one.amount)}</td>
            <td>
              {ANSWERS[one.answer]} {one.countered && money(one.countered)}
            </td>
            <td>
              {one.answer === "open" && it.state === "listed" && (
                <Box sx={{ display: "flex", gap: 0.5, justifyContent: "flex-end", flexWrap: "wrap" }}>
                  <Button size="small" color="inherit" component={Link} to={saleOf(it.number, one.number)}>
                    Take it
                  </Button>
                  <Button
                    size="small"
                    color="inherit"
                    disabled={answer.isPending}
                    onClick={() =>
                      answer.mutate({
                        number: one.number,
                        answer: "countered",
                        countered: one.between,
                      })
                    }
                  >
                    Ask {money(one.between)}
                  </Button>
                  <Button
                    size="small"
                    color="inherit"
                    disabled={answer.isPending}
                    onClick={() => answer.mutate({ number: one.number, answer: "declined", countered: null })}
                  >
                    Decline
                  </Button>
                </Box>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
