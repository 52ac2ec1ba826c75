import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { count, counted, day, moment, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Progress } from "../../shared/Progress";
import { Section } from "../../shared/Section";
import { isAlive, useStop } from "../../shared/longWork";
import { useAct } from "../../shared/useAct";
import { useAddress } from "../../shared/useAddress";
import { keyed, useOnce } from "../../shared/useOnce";
import { cardColumn, CardLink } from "./CardLink";
import { takeBack, useKeepPage } from "./keepPage";
import { PRICED } from "./kinds";
import { takenOf, toRows, type AllSaid } from "./pages";
import { Proposals } from "./Proposals";

type Fetch = Schemas["FetchOut"];
type Scope = Schemas["FetchPricesIn"]["scope"];

const SCOPES: Record<string, string> = {
  next: "what to look up next",
  targets: "the target list",
  held: "all that you hold",
  release: "a release",
};
const isScope = (value: string): value is Scope => ["card", "filter"].includes(value) || value in SCOPES;
const FEW = 20;
const CRUMBS = [{ name: "Pricing", to: "/pricing" }, { name: "Fetch prices" }];

/** Prices fetched from the markets that are connected: for which cards, how far it is, and what came of it. */
export default function FetchPage() {
  const [asked, change] = useAddress();
  const number = Number(asked.get("fetch") ?? 0);
  const sources = useQuery({
    queryKey: ["fetch", "sources"],
    queryFn: () => take(client.GET("/api/prices/fetches")),
  });
  const found = useQuery({
    queryKey: ["fetch", number],
    queryFn: () => take(client.GET("/api/prices/fetches/{number}", { params: { path: { number } } })),
    enabled: number > 0,
    refetchInterval: ({ state }) => (isAlive(state.data?.task) ? 700 : false),
  });
  const once = useOnce();
  const begin = useAct(
    (body: Schemas["FetchPricesIn"]) =>
      take(client.POST("/api/prices/fetches", { body, ...keyed(once.key()) })),
    {
      keys: ["fetch", "tasks"],
      done: (task) => {
        once.made();
        change({ fetch: String(task.number) });
      },
    },
  );
  if (!sources.data) return <Answer of={sources} />;
  if (number > 0 && !found.data) return <Answer of={found} />;
  const { names, releases, newest } = sources.data;
  const said = asked.get("scope") ?? "next";
  const scope = isScope(said) ? said : "next";
  const release = asked.get("release") ?? "";
  const filter = Object.fromEntries([...asked].filter(([name]) => name !== "scope" && name !== "fetch"));
  const choices =
    scope === "card"
      ? { card: `the card ${asked.get("number") ?? ""}`, ...SCOPES }
      : scope === "filter"
        ? { filter: "what the filter of the stock lists", ...SCOPES }
        : SCOPES;
  const fetched = number > 0 ? found.data : undefined;
  const alive = isAlive(fetched?.task);
  return (
    <PageTitle title="Fetch prices" crumbs={CRUMBS} verdict={fetched?.verdict ?? sources.data.verdict}>
      {names.length > 0 && (
        <FieldRow>
          <ChoiceBox
            label="Of which cards"
            value={scope}
            set={(value) => change({ scope: value, fetch: null })}
            choices={choices}
            width={230}
          />
          {scope === "release" && (
            <ChoiceBox
              label="Release"
              value={release}
              set={(value) => change({ release: value, fetch: null })}
              choices={{
                "": "choose one",
                ...Object.fromEntries(releases.map(({ key, title }) => [key, title])),
              }}
              width={260}
            />
          )}
          <Button
            variant="contained"
            disabled={begin.isPending || alive || (scope === "release" && !release)}
            onClick={() =>
              begin.mutate({
                scope,
                release,
                line: asked.get("line") ?? "",
                number: asked.get("number") ?? "",
                variant: asked.get("variant") ?? "",
                ...(scope === "filter" ? { filter: filter as Schemas["FilterQuery"] } : {}),
              })
            }
            sx={{ alignSelf: "flex-end" }}
          >
            Fetch prices
          </Button>
        </FieldRow>
      )}
      {fetched && <Brought key={number} fetched={fetched} />}
      {!fetched && newest.length > 0 && (
        <Section title="Fetched before">
          {newest.slice(0, 8).map((task) => (
            <Box key={task.number} sx={{ py: 0.5 }}>
              <Link to={`/pricing/-/fetch?fetch=${task.number}`}>
                {task.belongs_to.replace(/^prices:/, "")}, {moment(task.made_at)}
              </Link>
            </Box>
          ))}
        </Section>
      )}
    </PageTitle>
  );
}

/** What a fetch brought: how far it is, what wants a look, the lots that close, and what got no answer. */
function Brought({ fetched }: { fetched: Fetch }) {
  const { task, batch, kept, doubtful, lots, missed, cards } = fetched;
  const stop = useStop(["fetch"]);
  const undo = useAct(() => takeBack(batch), {
    keys: PRICED,
    text: `${counted(kept, "price")} taken back.`,
    undo: () => take(client.POST("/api/prices/batches/{batch}/restore", { params: { path: { batch } } })),
  });
  const known = new Map(cards.map((card) => [card.version, card]));
  return (
    <>
      <Progress task={task} stop={() => stop.mutate(task.number)} />
      {kept > 0 && !isAlive(task) && (
        <Button
          color="inherit"
          variant="outlined"
          disabled={undo.isPending}
          onClick={() => undo.mutate(undefined)}
          sx={{ mt: 1 }}
        >
          Take {counted(kept, "new price")} back
        </Button>
      )}
      {doubtful && doubtful.results.length > 0 && <Doubtful page={doubtful} />}
      {lots.length > 0 && (
        <Section title="Lots that close" point="the bid so far, without fees">
          <DataTable
            label="Lots that close"
            rows={lots.map((lot, at) => ({ ...lot, at }))}
            columns={lotColumns(known)}
            keyOf={({ at }) => at}
            empty=""
          />
        </Section>
      )}
      {missed.length > 0 && (
        <Section
          title="No answer"
          point={missed.length > FEW ? `the first ${FEW} of ${count(missed.length)}` : count(missed.length)}
        >
          {missed.slice(0, FEW).map((it, at) => {
            const card = known.get(it.version);
            return (
              <Box key={at} sx={{ py: 0.25 }}>
                {it.source}, {card ? <CardLink card={card} /> : "a card"}: {it.why}
              </Box>
            );
          })}
        </Section>
      )}
    </>
  );
}

type Lot = Fetch["lots"][number] & { at: number };

function lotColumns(known: ReadonlyMap<number, Schemas["FoundOut"]>): Column<Lot>[] {
  return [
    cardColumn(({ version }) => known.get(version)),
    { key: "title", name: "What it says", cell: (lot) => lot.title },
    { key: "market", name: "Where", cell: (lot) => lot.market ?? "" },
    { key: "day", name: "Closes", kind: "day", cell: (lot) => (lot.day === null ? "" : day(lot.day)) },
    { key: "bids", name: "bids", kind: "figure", cell: (lot) => (lot.bids === null ? "" : count(lot.bids)) },
    {
      key: "price",
      name: "bid",
      kind: "figure",
      cell: (lot) => (lot.price === null ? "" : `${money(lot.price)} ${lot.currency ?? ""}`),
    },
  ];
}

/** The results of a fetch that want a look, kept once the owner says so. */
function Doubtful({ page }: { page: Schemas["PageOut"] }) {
  const [said, setSaid] = useState<AllSaid>({});
  const taken = takenOf(page.results, said);
  const keep = useKeepPage(null, () => setSaid({}));
  return (
    <Section
      title="To be looked at"
      point={`${count(taken.size)} of ${count(page.results.length)} are taken`}
    >
      <Proposals results={page.results} cards={page.cards} said={said} setSaid={setSaid} />
      <Button
        variant="contained"
        disabled={taken.size === 0 || keep.isPending}
        onClick={() => keep.mutate(toRows(page.results, said))}
        sx={{ mt: 1 }}
      >
        Keep {counted(taken.size, "price")}
      </Button>
    </Section>
  );
}
