import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { memo, useCallback } from "react";
import { Link, useNavigate } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { faultAt, otherFaults } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { count, counted, money } from "../../shared/format";
import { smallOf } from "../../shared/photos";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useAct } from "../../shared/useAct";
import { useAddress } from "../../shared/useAddress";
import { useDraft } from "../../shared/useDraft";
import { useToday } from "../../shared/useToday";
import { ItemSearch } from "./ItemSearch";
import { begins, LISTED, toListings, type Proposal, type Written } from "./listings";
import { SellingTabs } from "./SellingTabs";
import { useWay, WayChoice } from "./WayChoice";

type Say = (item: number, said: Partial<Written>) => void;
type AllWritten = Readonly<Record<number, Partial<Written>>>;

const NOTHING: Partial<Written> = {};

/** Things become listings: by which way, under which title, for how much. */
export default function NewListingsPage() {
  const [params, change] = useAddress();
  const navigate = useNavigate();
  const today = useToday();
  const asked = params.get("items") ?? "";
  const items = asked.split(",").map(Number).filter(Boolean).slice(0, 200);
  const { way, none } = useWay();
  const wanted = params.get("scope") === "filter" ? filterOf(params) : null;
  const body = wanted ? { way, items: [], filter: wanted } : { way, items };
  const [all, write, forget] = useDraft<Readonly<Record<string, AllWritten>>>("listings", {});
  const written = all[way] ?? {};
  const found = useQuery({
    queryKey: ["listings", "proposed", body],
    queryFn: ({ signal }) => take(client.POST("/api/listings/proposals", { body, signal })),
    enabled: (wanted !== null || items.length > 0) && way !== "",
    placeholderData: (before) => before,
    staleTime: Infinity,
  });
  const proposals = found.data?.proposals ?? [];
  const { ready, lacking } = toListings(proposals, written, today);
  const made = useAct(
    async (up: boolean) => {
      const drafted = await take(client.POST("/api/listings", { body: { way, listings: ready } }));
      const { numbers } = drafted;
      if (!up) return { numbers, errand: null };
      const task = await take(client.POST("/api/listings/put-up", { body: { numbers } })).catch(
        (error: unknown) => inWords(error), // they are drafted all the same
      );
      return { numbers, errand: task };
    },
    {
      keys: [...LISTED, "tasks"],
      text: ({ numbers, errand }) =>
        `${counted(numbers.length, "listing is", "listings are")} drafted` +
        (typeof errand === "string" ? `, but not put up: ${errand}` : "."),
      done: ({ errand }) => {
        forget();
        const told = errand === null || typeof errand === "string" ? "" : `?errand=${errand.number}`;
        void navigate(`/selling/-/listings${told}`);
      },
      quiet: true,
    },
  );
  const set = useCallback<Say>(
    (item, said) =>
      write((before) => ({
        ...before,
        [way]: { ...before[way], [item]: { ...before[way]?.[item], ...said } },
      })),
    [write, way],
  );
  const add = (item: number) => change({ items: [...new Set([...items, item])].join(",") });
  const total = found.data?.total ?? 0;
  if (none)
    return (
      <PageTitle title="List things" plain="No way of selling is described yet.">
        <SellingTabs />
        <Link to="/settings/selling">Describe how you sell</Link> first: what a way keeps decides what to ask.
      </PageTitle>
    );
  return (
    <PageTitle
      title="List things"
      plain="What is offered, for how much, and what that nets."
      crumbs={[
        { name: "Selling", to: "/selling" },
        { name: "Listings", to: "/selling/-/listings" },
        { name: "List things" },
      ]}
    >
      <SellingTabs />
      <FieldRow>
        <WayChoice />
        {way && (
          <Box sx={{ mt: "26px", fontSize: 13 }}>
            <Link to={`/selling/-/habits?way=${way}`}>how its titles and files are written</Link>
          </Box>
        )}
      </FieldRow>
      {(wanted !== null || items.length > 0) && !found.data && <Answer of={found} />}
      {wanted !== null && found.data && total === 0 && (
        <p>
          Nothing of that is here, for sale and not listed there yet. <Link to="/stock">Back to Stock</Link>.
        </p>
      )}
      {proposals.length > 0 && (
        <Section
          title={
            total > proposals.length
              ? `The ${count(proposals.length)} dearest of ${count(total)} things`
              : counted(proposals.length, "thing")
          }
          point={
            total > proposals.length
              ? "the others follow when these are listed"
              : `asked in ${found.data?.currency ?? ""}`
          }
        >
          {proposals.map((it) => (
            <One
              key={it.item}
              it={it}
              said={written[it.item] ?? NOTHING}
              say={set}
              fault={lacking.find((one) => one.item === it.item && written[it.item])?.why ?? null}
              closes={faultAt(
                made.error,
                `listings[${ready.findIndex((one) => one.items[0] === it.item)}].ends_on`,
              )}
            />
          ))}
        </Section>
      )}
      {wanted === null && (
        <ItemSearch
          label={items.length ? "And what else" : "What, by its name, number or place"}
          pick={(item) => add(item.number)}
        />
      )}
      <Box sx={{ display: "flex", gap: 1, mt: 2, flexWrap: "wrap" }}>
        <Button
          variant="contained"
          disabled={made.isPending || ready.length === 0 || found.isFetching}
          onClick={() => made.mutate(true)}
        >
          {found.data?.can_be_asked ? `List ${count(ready.length)} there` : `List ${count(ready.length)}`}
        </Button>
        <Button
          color="inherit"
          variant="outlined"
          disabled={made.isPending || ready.length === 0 || found.isFetching}
          onClick={() => made.mutate(false)}
        >
          Only draft them
        </Button>
      </Box>
      <Box role="status" sx={{ mt: 1, fontSize: 13 }}>
        {lacking.length > 0 && `${count(lacking.length)} still without a price: left out.`}
        {made.error && otherFaults(made.error, (field) => field.endsWith("ends_on")).join(" ")}
      </Box>
      <Aside>
        What must be told of a thing (cleaned, taken out of a holder, an opened box, marked flaws) is put at
        the end of its words, and comes back if it is left out.
      </Aside>
    </PageTitle>
  );
}

/** The filter of the stock that the address carries. */
function filterOf(params: URLSearchParams): Schemas["FilterQuery"] {
  const own = new Set(["scope", "way", "items"]);
  return Object.fromEntries([...params].filter(([name]) => !own.has(name))) as Schemas["FilterQuery"];
}

interface OneProps {
  it: Proposal;
  said: Partial<Written>;
  say: Say;
  fault: string | null;
  closes: string | null | undefined;
}

/** One of them; with two hundred on the page, only the one that is typed into is drawn anew. */
const One = memo(function One({ it, said, say, fault, closes }: OneProps) {
  const set = (fresh: Partial<Written>) => say(it.item, fresh);
  const price = said.price ?? begins(it);
  if (it.refused !== null)
    return (
      <Box sx={{ py: 1, color: "text.secondary" }}>
        <Link to={`/stock/${it.item}`}>{it.name}</Link>: {it.refused}
      </Box>
    );
  return (
    <Box sx={{ py: 1.25, borderBottom: 1, borderColor: "divider", opacity: said.out ? 0.5 : 1 }}>
      <FieldRow>
        <TextField
          label="Title"
          value={said.title ?? it.title}
          onChange={(event) => set({ title: event.target.value })}
          slotProps={{ htmlInput: { "aria-label": `Title of ${it.name}` } }}
          sx={{ width: 440, maxWidth: 1 }}
        />
        <TextField
          label={said.auction ? "Begins at" : "Price"}
          value={price}
          onChange={(event) => set({ price: event.target.value })}
          error={Boolean(fault)}
          helperText={fault}
          slotProps={{ htmlInput: { inputMode: "decimal", "aria-label": `Price of ${it.name}` } }}
          sx={{ width: 110 }}
        />
        <FormControlLabel
          sx={{ mt: "20px" }}
          control={
            <Checkbox
              checked={said.auction ?? false}
              onChange={(event) => set({ auction: event.target.checked })}
            />
          }
          label="auction"
        />
        {said.auction && (
          <TextField
            label="Closes on"
            value={said.ends ?? ""}
            onChange={(event) => set({ ends: event.target.value })}
            error={Boolean(closes)}
            helperText={closes ?? "like 3 Nov"}
            slotProps={{ htmlInput: { "aria-label": `${it.name} closes on` } }}
            sx={{ width: 160 }}
          />
        )}
        <Button
          color="inherit"
          aria-label={`${said.out ? "Take in again" : "Leave out"}: ${it.name}`}
          onClick={() => set({ out: !said.out })}
          sx={{ mt: "20px" }}
        >
          {said.out ? "Take in again" : "Leave out"}
        </Button>
      </FieldRow>
      <Box sx={{ fontSize: 13, display: "flex", gap: 0.5, flexWrap: "wrap", alignItems: "baseline" }}>
        {it.asking.map((ask) => (
          <Button
            key={ask.name}
            color="inherit"
            size="small"
            onClick={() => set({ price: Number(ask.price).toFixed(2) })}
            aria-label={`${ask.name} price of ${it.name}: ${money(ask.price)}`}
          >
            {ask.name} {money(ask.price)}
            {ask.net !== null && `, nets ${money(ask.net)}`}
            {ask.days !== null && `, about ${count(Math.round(ask.days))} days`}
          </Button>
        ))}
        {it.asking.length === 0 && (
          <span>
            {it.value === null ? "No sale of it is known." : `Said to be worth ${money(it.value)}.`}
          </span>
        )}
        {it.lowest !== null && <span>Lowest offer worth taking: {money(it.lowest)}.</span>}
      </Box>
      <Box sx={{ fontSize: 13, display: "flex", gap: 0.75, alignItems: "center", mt: 0.5 }}>
        {it.photos.slice(0, 4).map((photo) => (
          <Box key={photo} component="img" src={smallOf(photo)} alt="" sx={{ height: 30 }} />
        ))}
        {it.count > 1 && <b>All {count(it.count)} together.</b>}
        <span>
          {it.photos.length === 0 && "No photo."} {it.place && `Lies in ${it.place}.`}
        </span>
      </Box>
      {it.must.length > 0 && (
        <Box
          component="ul"
          sx={{ m: 0, mt: 0.5, pl: 2.25, fontSize: 13 }}
          aria-label={`To be told of ${it.name}`}
        >
          {it.must.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </Box>
      )}
    </Box>
  );
});
