import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { Link, useNavigate } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, inWords, take } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { count, day, gain, money } from "../../shared/format";
import { readAmount } from "../../shared/forms/reading";
import { useKey } from "../../shared/keys/useKey";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { useAddress } from "../../shared/useAddress";
import { useDayField } from "../../shared/useDayField";
import { useToday } from "../../shared/useToday";
import { useWays, wayNames } from "../../shared/ways";
import { ValueField } from "../../shared/ValueField";
import { Errand } from "./Errand";
import { LISTED, LISTING_STATES, type Listing, type ListingState } from "./listings";
import { SellingTabs } from "./SellingTabs";

const TAKE = 50;
type Begun = (task: { number: number }) => void;

/** What is offered where, what was offered for it, new prices, and what the markets say. */
export default function ListingsPage() {
  const [params, change] = useAddress();
  const navigate = useNavigate();
  useKey("n", "list things", () => void navigate("/selling/-/list"));
  const state = (params.get("state") ?? "") as ListingState | "";
  const find = params.get("find") ?? "";
  const start = Number(params.get("start")) || 0;
  const ways = useWays();
  const named = wayNames(ways.data);
  const found = useQuery({
    queryKey: ["listings", "list", state, find, start],
    queryFn: ({ signal }) =>
      take(
        client.GET("/api/listings", {
          params: { query: { ...(state ? { state } : {}), find, start } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const errand = Number(params.get("errand")) || 0;
  const begun: Begun = (task) => change({ errand: String(task.number) });
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  const many = Object.fromEntries(data.counts.map((it) => [it.state, it.count]));
  const picked = data.listings.filter((it) => chosen.has(it.number));
  const columns: Column<Listing>[] = [
    {
      key: "title",
      name: "Listing",
      cell: (row) => <Link to={`/selling/-/listings/${row.number}`}>{row.title}</Link>,
      text: (row) => row.title,
    },
    { key: "way", name: "where", cell: (row) => named[row.way] ?? row.way },
    {
      key: "price",
      name: "asks",
      kind: "figure",
      cell: (row) => `${money(row.price)} ${row.currency}`,
    },
    { key: "state", name: "how far", cell: howFar, text: howFar },
    {
      key: "offers",
      name: "offers",
      kind: "figure",
      cell: (row) => {
        const open = row.offers.filter((it) => it.answer === "open");
        return open.length ? <b>{open.map((it) => money(it.amount)).join(", ")}</b> : "";
      },
      text: (row) => row.offers.map((it) => it.amount).join(" "),
    },
  ];
  return (
    <PageTitle
      title="Listings"
      verdict={data.verdict}
      crumbs={[{ name: "Selling", to: "/selling" }, { name: "Listings" }]}
    >
      <SellingTabs />
      <FieldRow>
        <ChoiceBox
          label="Show"
          value={state}
          set={(value) => change({ state: value, start: null })}
          choices={{
            "": "what is open",
            ...Object.fromEntries(
              Object.entries(LISTING_STATES).map(([key, name]) => [
                key,
                `${name} (${count(many[key] ?? 0)})`,
              ]),
            ),
          }}
          width={160}
        />
        <ValueField
          label="Find"
          value={find}
          commit={(text) => change({ find: text, start: null })}
          hint="title, or the market’s number"
          width={240}
        />
      </FieldRow>
      {errand > 0 && (
        <Section title="What came of it" point="at the markets">
          <Errand number={errand} />
          <Button color="inherit" onClick={() => change({ errand: null })} sx={{ mt: 0.5 }}>
            Close
          </Button>
        </Section>
      )}
      <Section title="Listings" point="the newest first">
        <DataTable
          label="Listings"
          rows={data.listings}
          columns={columns}
          keyOf={(row) => row.number}
          selection={{
            keys: chosen,
            set: setChosen,
            name: (key) => data.listings.find((it) => it.number === key)?.title ?? "",
          }}
          paging={{
            start,
            take: TAKE,
            total: find || !state ? undefined : many[state],
            more: data.more,
            set: (at) => change({ start: String(at) }),
          }}
          empty={
            state || find ? (
              "None like that."
            ) : (
              <>
                Nothing is offered. <Link to="/selling/-/list">List things</Link>, or choose them in{" "}
                <Link to="/stock">Stock</Link>.
              </>
            )
          }
          foot={
            <Button variant="outlined" color="inherit" component={Link} to="/selling/-/list">
              List things
            </Button>
          }
        />
      </Section>
      {picked.length > 0 && <Chosen picked={picked} named={named} begun={begun} />}
      {data.still_out.length > 0 && <StillOut rows={data.still_out} named={named} begun={begun} />}
      <Markets begun={begun} />
    </PageTitle>
  );
}

function howFar(row: Listing): string {
  if (row.state === "listed") {
    const until = row.ends_on ? `, closes ${day(row.ends_on)}` : "";
    return `listed ${day(row.listed_on ?? row.made_on)}${until}${row.old ? ", an old price" : ""}`;
  }
  if (row.state === "drafted") return `drafted ${day(row.made_on)}`;
  return `${LISTING_STATES[row.state]} ${day(row.ended_on ?? row.made_on)}`;
}

interface ChosenProps {
  picked: readonly Listing[];
  named: Readonly<Record<string, string>>;
  begun: Begun;
}

function Chosen({ picked, named, begun }: ChosenProps) {
  const drafts = picked.filter((it) => it.state === "drafted").map((it) => it.number);
  const open = picked.filter((it) => it.state === "drafted" || it.state === "listed");
  const up = useAct(() => take(client.POST("/api/listings/put-up", { body: { numbers: drafts } })), {
    keys: ["tasks"],
    done: begun,
  });
  const [how, setHow] = useState("");
  const [percent, setPercent] = useState("-5");
  const read = readAmount(percent);
  const body = (apply: boolean) => ({
    numbers: open.map((it) => it.number),
    level: how === "share" ? null : (how as "quick" | "market" | "patient"),
    percent: how === "share" && "value" in read ? read.value : null,
    apply,
  });
  const asked = JSON.stringify(body(false));
  const shown = useQuery({
    queryKey: ["listings", "repriced", asked],
    queryFn: ({ signal }) =>
      take(client.POST("/api/listings/reprice", { body: JSON.parse(asked) as never, signal })),
    enabled: how !== "" && open.length > 0 && (how !== "share" || "value" in read),
    retry: false,
  });

  const applied = useAct(() => take(client.POST("/api/listings/reprice", { body: body(true) })), {
    keys: LISTED,
    text: ({ repriced }) => `${count(repriced.filter((it) => it.after !== null).length)} prices are new.`,
    done: () => setHow(""),
  });
  const files = [...new Set(open.map((it) => it.way))];
  return (
    <Section title={`${count(picked.length)} chosen`} point="">
      <FieldRow>
        {drafts.length > 0 && (
          <Button
            variant="contained"
            disabled={up.isPending}
            onClick={() => up.mutate(undefined)}
            sx={{ mt: "20px" }}
          >
            Put {count(drafts.length)} up
          </Button>
        )}
        {open.length > 0 && (
          <ChoiceBox
            label="New prices"
            value={how}
            set={setHow}
            choices={{
              "": "as they are",
              quick: "quick, of today",
              market: "market, of today",
              patient: "patient, of today",
              share: "up or down by a share",
            }}
            width={200}
          />
        )}
        {how === "share" && (
          <ValueField
            label="By, in per cent"
            value={percent}
            commit={setPercent}
            fault={"fault" in read ? read.fault : null}
            hint="-5 is five per cent less"
            inputMode="text"
            width={130}
          />
        )}
        {files.map((way) => {
          const of = open.filter((it) => it.way === way).map((it) => it.number);
          return (
            <Fragment key={way}>
              <Button
                variant="outlined"
                color="inherit"
                href={`/api/listing-files/${way}?listings=${of.join(",")}`}
                download
                sx={{ mt: "20px" }}
              >
                File for {named[way] ?? way} (CSV)
              </Button>
              <Button
                color="inherit"
                href={`/api/listing-photos/${way}?listings=${of.join(",")}`}
                download
                sx={{ mt: "20px" }}
              >
                its photos (ZIP)
              </Button>
            </Fragment>
          );
        })}
      </FieldRow>
      {shown.error && <Box role="alert">{inWords(shown.error)}</Box>}
      {how !== "" && shown.data && (
        <>
          <Table label="New prices">
            <Heads
              of={["Listing", { figure: "asks" }, { figure: "new" }, { figure: "by" }, { figure: "nets" }]}
            />
            <tbody>
              {shown.data.repriced.map((it) => (
                <tr key={it.listing}>
                  <td>{it.title}</td>
                  <td className="figure">{money(it.before)}</td>
                  <td className="figure">{it.after === null ? it.why : money(it.after)}</td>
                  <td className="figure">
                    {it.after === null ? "" : gain(Number(it.after) - Number(it.before))}
                  </td>
                  <td className="figure">{money(it.net)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
          <Button
            variant="contained"
            disabled={applied.isPending}
            onClick={() => applied.mutate(undefined)}
            sx={{ mt: 1 }}
          >
            Take these prices
          </Button>
        </>
      )}
    </Section>
  );
}

interface StillOutProps {
  rows: readonly Listing[];
  named: Readonly<Record<string, string>>;
  begun: Begun;
}

function StillOut({ rows, named, begun }: StillOutProps) {
  const off = useAct(() => take(client.POST("/api/listings/take-off")), { keys: ["tasks"], done: begun });
  return (
    <Section title="Out at a market still" point="ended here, as it sold elsewhere">
      <Box component="ul" sx={{ m: 0, mb: 1, pl: 2.25 }}>
        {rows.map((it) => (
          <li key={it.number}>
            <Link to={`/selling/-/listings/${it.number}`}>{it.title}</Link>: {named[it.way] ?? it.way},{" "}
            {it.reference}
          </li>
        ))}
      </Box>
      <Button
        variant="outlined"
        color="inherit"
        disabled={off.isPending}
        onClick={() => off.mutate(undefined)}
      >
        Take them off; those that cannot be asked I took off by hand
      </Button>
    </Section>
  );
}

function Markets({ begun }: { begun: Begun }) {
  const today = useToday();
  const asOf = useDayField();
  const on = asOf.day === today ? null : asOf.day;
  const ask = useAct(() => take(client.POST("/api/listings/ask", { body: { on } })), {
    keys: ["tasks"],
    done: begun,
  });
  return (
    <Section title="What the markets say" point="orders, ended auctions, complaints, payouts">
      <FieldRow>
        <ValueField label="As of" {...asOf.field()} hint="simulated ones know days to come" width={210} />
        <Button
          variant="outlined"
          color="inherit"
          disabled={ask.isPending || asOf.day === null}
          onClick={() => ask.mutate(undefined)}
          sx={{ mt: "20px" }}
        >
          Ask them
        </Button>
        <Box sx={{ mt: "26px", fontSize: 13 }}>
          or <Link to="/selling/-/file">take in a file of sales</Link>
        </Box>
      </FieldRow>
    </Section>
  );
}
