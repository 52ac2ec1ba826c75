import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { CONDITIONS } from "../../shared/ConditionChoice";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { count, counted, day, gain, money } from "../../shared/format";
import { useNotice } from "../../shared/notices";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { StockTabs } from "../../shared/StockTabs";
import { Aside } from "../../shared/states";
import { useAddress } from "../../shared/useAddress";
import { useLines, useReleases } from "../../shared/useFormats";
import { useToday } from "../../shared/useToday";
import { ValueField } from "../../shared/ValueField";
import { BringIn } from "./BringIn";
import { Chosen } from "./Chosen";
import { useCorrections } from "./correcting";
import { SavedFilters } from "./SavedFilters";

type Item = Schemas["ItemOut"];
const TAKE = 50;
const ORDER = ["sort", "descending", "start"] as const;
const FILTERS = [
  "find",
  "kind",
  "state",
  "release",
  "line",
  "value",
  "condition",
  "place",
  "worth",
  "since",
  "doubles",
  "never_for_sale",
  "basis",
  "identity",
  "purchase",
  "session",
] as const;

function pick(params: URLSearchParams, names: readonly string[]): Record<string, string> {
  return Object.fromEntries(names.flatMap((name) => (params.get(name) ? [[name, params.get(name)!]] : [])));
}

/** Everything owned, filtered, sorted and paged by the server; many are corrected or taken out at once. */
export default function StockPage() {
  const navigate = useNavigate();
  useKey("e", "enter cards", () => void navigate("/stock/-/enter"));
  useKey("i", "identify a card", () => void navigate("/stock/-/identify"));
  const [params, setAddress] = useAddress();
  const [, setParams] = useSearchParams();
  const query = pick(params, [...FILTERS, ...ORDER]);
  const filter = pick(params, FILTERS);
  const items = useQuery({
    queryKey: ["items", query],
    queryFn: () => take(client.GET("/api/items", { params: { query: { ...query, take: TAKE } as never } })),
    placeholderData: keepPreviousData,
  });
  const summed = useQuery({
    queryKey: ["items", "sums", filter],
    queryFn: () => take(client.GET("/api/items/sums", { params: { query: filter as never } })),
    placeholderData: keepPreviousData,
  });
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const correct = useCorrections();
  const say = useNotice();
  if (!items.data) return <Answer of={items} />;
  const data = items.data;
  const sums = summed.data;
  const isOld = items.isPlaceholderData || summed.isPlaceholderData; // another filter is still on its way
  const set = (change: Record<string, string>) => {
    setChosen(new Set());
    setAddress({ start: null, ...change });
  };
  const exported = new URLSearchParams(filter);
  const switchSale = (item: Item) => {
    const refuse = (error: unknown) => say({ text: inWords(error), isError: true });
    correct(item, { never_for_sale: !item.never_for_sale }).catch(refuse);
  };
  return (
    <PageTitle
      title="Stock"
      {...(sums ? { verdict: sums.verdict } : {})}
      plain="Everything owned."
      crumbs={[{ name: "Stock" }]}
    >
      <StockTabs />
      <Filters params={params} set={set}>
        <SavedFilters params={params} setParams={setParams} />
      </Filters>
      <Section title={sums && !isOld ? rows(sums.total) : "Rows"}>
        <Chosen
          items={data.items.filter((item) => chosen.has(item.number))}
          done={() => setChosen(new Set())}
        />
        <DataTable
          label="Items"
          rows={data.items}
          columns={columns(correct, switchSale)}
          keyOf={(item) => item.number}
          selection={{
            keys: chosen,
            set: setChosen,
            name: (key) => data.items.find((item) => item.number === key)?.name ?? "",
          }}
          sorting={{
            by: params.get("sort") ?? "",
            descending: params.get("descending") !== "false",
            set: (sort, descending) => set({ sort, descending: String(descending) }),
          }}
          paging={{
            start: Number(params.get("start") ?? 0),
            take: TAKE,
            total: sums?.total,
            more: data.more,
            set: (start) => set({ start: String(start) }),
          }}
          empty="Nothing like that. What you buy and open comes here; bring in below what was there before."
          foot={
            <>
              <Button variant="outlined" color="inherit" href={`/api/items.csv?${exported}`} download>
                Export as CSV
              </Button>
              <Button variant="outlined" color="inherit" href={`/api/items.xlsx?${exported}`} download>
                Export as XLSX
              </Button>
              <Button
                variant="outlined"
                color="inherit"
                component={Link}
                to={`/selling/-/list?scope=filter&${exported}`}
              >
                List these for sale
              </Button>
            </>
          }
        />
      </Section>
      <BringIn />
      <Aside>
        <Link to={`/pricing/-/fetch?scope=filter&${new URLSearchParams(filter).toString()}`}>
          Fetch the prices of these
        </Link>
        . <Link to="/stock/-/identify">Which card is it?</Link> <Key>I</Key> by what it shows.{" "}
        <Link to="/stock/-/subjects">Subjects</Link>: whom you watch, and first cards.{" "}
        <Link to="/pricing/-/lists">Haves and wants</Link>, yours and somebody else’s.
      </Aside>
    </PageTitle>
  );
}

function rows(total: number): string {
  return counted(total, "row");
}

/** What a thing is worth over its cost, as far as both are known. */
function margin(item: Item): number | null {
  return item.value === null || item.basis === null ? null : Number(item.value) - Number(item.basis);
}

type Correct = ReturnType<typeof useCorrections>;

function columns(correct: Correct, switchSale: (item: Item) => void): Column<Item>[] {
  return [
    {
      key: "name",
      name: "what",
      sort: "name",
      text: (item) => item.name,
      cell: (item) => (
        <>
          <Link to={`/stock/${item.number}`}>{item.name}</Link>
          <Box component="span" sx={{ color: "text.secondary" }}>
            {item.card && ` no. ${item.card}`}
            {item.serial && `, ${item.serial}`}
            {item.note && `, ${item.note}`}
            {item.state !== "held" && `, ${item.state.replaceAll("_", " ")}`}
          </Box>
        </>
      ),
    },
    { key: "count", name: "count", kind: "figure", sort: "count", cell: (item) => count(item.count) },
    { key: "value", name: "about worth", kind: "figure", sort: "value", cell: (item) => money(item.value) },
    { key: "basis", name: "cost", kind: "figure", sort: "basis", cell: (item) => money(item.basis) },
    {
      key: "margin",
      name: "over cost",
      kind: "figure",
      text: (item) => gain(margin(item)),
      cell: (item) => {
        const over = margin(item);
        const tone = over === null ? "text.secondary" : over < 0 ? "tone.lossText" : "tone.gainText";
        return (
          <Box component="span" sx={{ color: over === 0 ? undefined : tone }}>
            {gain(over)}
          </Box>
        );
      },
    },
    {
      key: "condition",
      name: "condition",
      cell: (item) => item.condition ?? "",
      edit: {
        label: (item) => `Condition of ${item.name}`,
        value: (item) => item.condition ?? "",
        shown: (item) => item.condition ?? "not said",
        width: 80,
        save: (item, text) => {
          const wanted = CONDITIONS.find((state) => state.toLowerCase() === text.trim().toLowerCase());
          if (!wanted && text.trim()) return Promise.reject(new Error(`one of ${CONDITIONS.join(", ")}`));
          return correct(item, { condition: wanted ?? null });
        },
      },
    },
    {
      key: "place",
      name: "place",
      sort: "place",
      cell: (item) => item.place ?? "",
      edit: {
        label: (item) => `Place of ${item.name}`,
        value: (item) => item.place ?? "",
        shown: (item) => item.place ?? "not said",
        width: 110,
        save: (item, text) => correct(item, { place: text.trim() || null }),
      },
    },
    {
      key: "acquired_on",
      name: "since",
      kind: "day",
      sort: "acquired_on",
      cell: (item) => (item.acquired_on ? day(item.acquired_on) : ""),
    },
    {
      key: "sale",
      name: "for sale",
      text: (item) => (item.never_for_sale ? "never" : "yes"),
      cell: (item) => (
        <Button
          color="inherit"
          aria-label={`${item.never_for_sale ? "never" : "yes"}: ${item.name} for sale`}
          onClick={() => switchSale(item)}
          sx={{ minWidth: 0, p: 0.5, fontWeight: item.never_for_sale ? 700 : 400 }}
        >
          {item.never_for_sale ? "never" : "yes"}
        </Button>
      ),
    },
  ];
}

interface FiltersProps {
  params: URLSearchParams;
  set: (change: Record<string, string>) => void;
  children: ReactNode;
}

const KINDS = { "": "all", sealed: "sealed", card: "single cards", stack: "stacks", other: "other" };
const STATES = {
  "": "held",
  all: "all",
  in_transit: "on its way",
  away: "away for a service",
  opened: "opened",
  sold: "sold",
  traded: "traded",
  returned: "sent back",
  given_away: "given away",
  lost: "lost",
  undone: "taken back",
};
const UNSOLD: Record<string, number> = {
  "a month": 30,
  "three months": 91,
  "half a year": 182,
  "a year": 365,
};

/** What is listed: the usual filters, and more of them when asked for or in use. */
function Filters({ params, set, children }: FiltersProps) {
  const today = useToday();
  const releases = useReleases();
  const release = params.get("release") ?? "";
  const lines = useLines(release);
  const [more, setMore] = useState(false);
  const isUsed = [
    "condition",
    "place",
    "worth",
    "value",
    "since",
    "never_for_sale",
    "basis",
    "identity",
  ].some((name) => params.get(name));
  const days = Object.fromEntries(
    Object.entries(UNSOLD).map(([words, length]) => [
      new Date(Date.parse(`${today}T00:00:00Z`) - length * 86_400_000).toISOString().slice(0, 10),
      `longer than ${words}`,
    ]),
  );
  const choice = (name: string, label: string, choices: Record<string, string>, width?: number) => (
    <ChoiceBox
      label={label}
      value={params.get(name) ?? ""}
      set={(value) => set({ [name]: value })}
      choices={choices}
      {...(width ? { width } : {})}
    />
  );
  return (
    <FieldRow>
      <ValueField
        label="Find, by several words"
        value={params.get("find") ?? ""}
        commit={(find) => set({ find })}
        width={200}
      />
      <ChoiceBox
        label="Release"
        value={release}
        set={(wanted) => set({ release: wanted, line: "" })}
        choices={{ "": "all", ...releases }}
        width={190}
      />
      {release && choice("line", "Line", { "": "all", ...lines }, 170)}
      {choice("kind", "Kind", KINDS)}
      {choice("state", "State", STATES)}
      {choice("doubles", "Doubles", { "": "all", true: "more than one held" }, 150)}
      {more || isUsed ? (
        <>
          {choice("condition", "Condition", {
            "": "all",
            ...Object.fromEntries(CONDITIONS.map((state) => [state, state])),
            none: "not said",
          })}
          <ValueField
            label="Place"
            value={params.get("place") ?? ""}
            commit={(place) => set({ place })}
            width={110}
          />
          <ValueField
            label="Worth at least"
            value={params.get("worth") ?? ""}
            commit={(worth) => set({ worth: worth.replace(",", ".") })}
            inputMode="decimal"
            width={110}
          />
          {choice("value", "Worth", { "": "all", known: "known", unknown: "not known" })}
          {choice("since", "Held for", { "": "any time", ...days }, 180)}
          {choice("never_for_sale", "For sale", { "": "all", true: "never", false: "yes" })}
          {choice("basis", "Cost", { "": "all", known: "known", unknown: "unknown" })}
          {choice("identity", "Which card it is", { "": "all", known: "known", unknown: "not known" })}
        </>
      ) : (
        <Button color="inherit" onClick={() => setMore(true)}>
          More filters
        </Button>
      )}
      {children}
    </FieldRow>
  );
}
