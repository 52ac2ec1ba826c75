import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { cardName } from "../../shared/CardSearch";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { messagesOf } from "../../shared/faults";
import { count, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { useDebounced } from "../../shared/useDebounced";
import { useDraft } from "../../shared/useDraft";
import { keyed, useOnce } from "../../shared/useOnce";
import { cardColumn } from "./CardLink";
import { TableFile } from "../../shared/TableFile";
import { EMPTY_TRADE, laid, type Match } from "./trade";

type Kind = Schemas["TheirListIn"]["kind"];
const EMPTY = { text: "", kind: "have" };
const MOST = 30;
const KINDS = { have: "they have these", want: "they want these", mine: "I want these" };
const OWN: readonly [Kind, string][] = [
  ["have", "What I have"],
  ["want", "What I want"],
];

/** The owner's haves and wants as files, and where they meet somebody else's list. */
export default function ListsPage() {
  const [page, setPage] = useDraft("somebody’s list", EMPTY);
  const [, setTrade] = useDraft("a trade", EMPTY_TRADE);
  const navigate = useNavigate();
  const text = useDebounced(page.text, 250);
  const kind: Kind = page.kind === "want" ? "want" : "have";
  const isMine = page.kind === "mine";
  const once = useOnce();
  const aim = useAct(
    (said: string) =>
      take(client.POST("/api/prices/lists/targets", { body: { text: said }, ...keyed(once.key()) })),
    {
      keys: ["targets", "prices"],
      quiet: true,
      text: ({ targets }) => `${count(targets.length)} put on the target list.`,
      undo: async (_, { targets }) => {
        for (const number of targets)
          await take(client.DELETE("/api/targets/{number}", { params: { path: { number } } }));
      },
      done: () => {
        once.made();
        setPage({ ...page, text: "" });
      },
    },
  );
  const found = useQuery({
    queryKey: ["prices", "lists", text, kind],
    queryFn: ({ signal }) => take(client.POST("/api/prices/lists/meeting", { body: { text, kind }, signal })),
    placeholderData: (before) => before,
    enabled: text.trim() !== "" && !isMine,
    retry: false,
  });
  const data = text.trim() === "" || isMine ? undefined : found.data;
  const [gets, setGets] = useState<ReadonlySet<string>>(new Set());
  const [gives, setGives] = useState<ReadonlySet<string>>(new Set());
  const cards = new Map(data?.cards.map((card) => [card.version, card]));
  const nameOf = (version: number) => {
    const card = cards.get(version);
    return card ? `${cardName(card)} ${card.number}` : "";
  };
  const even = () => {
    const chosen = (matches: readonly Match[], keys: ReadonlySet<string>) =>
      laid(
        matches.filter((match, at) => keys.has(keyOf(match, at))),
        nameOf,
      );
    setTrade({ ...EMPTY_TRADE, get: chosen(data?.gets ?? [], gets), give: chosen(data?.gives ?? [], gives) });
    void navigate("/pricing/-/trade");
  };
  return (
    <PageTitle
      title="Haves and wants"
      {...(data ? { verdict: data.verdict } : { plain: "Two lists, and where they meet." })}
      crumbs={[{ name: "Pricing", to: "/pricing" }, { name: "Haves and wants" }]}
    >
      <FieldRow>
        {OWN.map(([of, name]) => (
          <Box key={of} sx={{ display: "flex", gap: 1, alignItems: "center" }}>
            {name}
            {(["csv", "xlsx"] as const).map((form) => (
              <Button
                key={form}
                color="inherit"
                variant="outlined"
                href={`/api/prices/lists/${of}.${form}`}
                download
                aria-label={`${name}, as ${form.toUpperCase()}`}
              >
                {form.toUpperCase()}
              </Button>
            ))}
          </Box>
        ))}
      </FieldRow>
      <FieldRow>
        <ChoiceBox
          label="What the lines are"
          value={page.kind}
          set={(value) => setPage({ ...page, kind: value })}
          choices={KINDS}
          width={190}
        />
      </FieldRow>
      <TableFile
        label="Somebody’s list"
        said="CSV or XLSX; or paste it below."
        done={(read) => setPage({ ...page, text: read })}
      />
      <TextField
        label="Somebody’s list, a card on each line, or a table"
        value={page.text}
        onChange={(event) => setPage({ ...page, text: event.target.value })}
        placeholder="2x Quern Bank FS3 Skerrylight 2025 NM 4.50"
        multiline
        minRows={3}
        maxRows={data ? 6 : 14}
        fullWidth
        sx={{ mt: 1 }}
      />
      {isMine && (
        <Box sx={{ mt: 1 }}>
          {aim.error && (
            <Box role="alert" sx={{ color: "error.main", fontSize: 13, mb: 1 }}>
              {messagesOf(aim.error).map((words) => (
                <div key={words}>{words}</div>
              ))}
            </Box>
          )}
          <Button
            variant="contained"
            disabled={aim.isPending || page.text.trim() === ""}
            onClick={() => aim.mutate(page.text)}
          >
            Put them on the target list
          </Button>{" "}
          <Link to="/buying/-/targets">The list</Link>
        </Box>
      )}
      {found.isError && !isMine && (
        <Box role="alert" sx={{ color: "error.main", fontSize: 13, mt: 0.5 }}>
          {inWords(found.error)}
        </Box>
      )}
      {data && data.gets.length > 0 && (
        <Met
          title="They have what you want"
          matches={data.gets}
          cards={cards}
          currency={data.currency}
          chosen={gets}
          choose={setGets}
        />
      )}
      {data && data.gives.length > 0 && (
        <Met
          title="They want what you have"
          matches={data.gives}
          cards={cards}
          currency={data.currency}
          chosen={gives}
          choose={setGives}
        />
      )}
      {gets.size + gives.size > 0 && (
        <Button variant="contained" onClick={even} sx={{ mt: 1 }}>
          Even {count(gets.size + gives.size)} out in a trade
        </Button>
      )}
      {data && data.unclear.length > 0 && (
        <Section
          title="Not clear"
          point={data.unclear.length > MOST ? `the first ${MOST}` : count(data.unclear.length)}
        >
          {data.unclear.slice(0, MOST).map((line) => (
            <Box key={line.row} sx={{ py: 0.25 }}>
              {line.words}{" "}
              <Box component="span" sx={{ fontSize: 12, color: "text.secondary" }}>
                line {line.row}: {line.why}
              </Box>
            </Box>
          ))}
        </Section>
      )}
    </PageTitle>
  );
}

function keyOf({ version, state }: Match, at: number): string {
  return `${version} ${state} ${at}`;
}

interface MetProps {
  title: string;
  matches: readonly Match[];
  cards: ReadonlyMap<number, Schemas["FoundOut"]>;
  currency: string;
  chosen: ReadonlySet<string>;
  choose: (chosen: ReadonlySet<string>) => void;
}

/** Where two lists meet, one way round. */
function Met({ title, matches, cards, currency, chosen, choose }: MetProps) {
  const rows = matches.map((match, at) => ({ ...match, key: keyOf(match, at) }));
  type Row = (typeof rows)[number];
  const columns: Column<Row>[] = [
    cardColumn(({ version }) => cards.get(version)),
    { key: "words", name: "Their line", cell: (row) => row.words },
    {
      key: "state",
      name: "State",
      cell: (row) => (row.same_state ? row.state : `${row.their_state ?? "not said"}, yours ${row.state}`),
    },
    { key: "count", name: "copies", kind: "figure", cell: (row) => count(row.count) },
    {
      key: "asked",
      name: "their price",
      kind: "figure",
      cell: (row) => (row.asked === null ? "" : money(row.asked)),
    },
    {
      key: "worth",
      name: "goes for",
      kind: "figure",
      cell: (row) => (row.worth === null ? "unknown" : money(row.worth)),
    },
    {
      key: "planned",
      name: "planned",
      kind: "figure",
      cell: (row) => (row.planned === null ? "" : money(row.planned)),
    },
  ];
  return (
    <Section title={title} point={currency}>
      <DataTable
        label={title}
        rows={rows}
        columns={columns}
        keyOf={({ key }) => key}
        selection={{
          keys: chosen,
          set: (keys) => choose(new Set([...keys].map(String))),
          name: (key) => rows.find((row) => row.key === key)?.words ?? "",
        }}
        empty=""
      />
    </Section>
  );
}
