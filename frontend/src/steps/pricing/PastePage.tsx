import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { cardName } from "../../shared/CardSearch";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { ConditionChoice, type Condition } from "../../shared/ConditionChoice";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { count, day, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { useDebounced } from "../../shared/useDebounced";
import { useDraft } from "../../shared/useDraft";
import { keyed, useOnce } from "../../shared/useOnce";
import { Explain } from "./Explain";
import { KINDS, PRICED } from "./kinds";
import { canBeTaken, choose, takenOf, toRows, versionOf, type AllSaid, type Result } from "./pages";

const EMPTY = {
  text: "",
  market: "",
  raw_state: "NM" as Condition,
  unsaid: "sold" as "sold" | "ask",
  month_first: false,
};
const UNSAID = { sold: "was sold", ask: "is asked for" };
const NONE: Schemas["PageOut"]["results"] = [];

/** A page of results, pasted as it is: what it holds is shown first, and kept once the owner says so. */
export default function PastePage() {
  const [params] = useSearchParams();
  const [page, setPage, forget] = useDraft("a page of results", EMPTY);
  const [said, setSaid] = useState<AllSaid>({});
  const [explained, setExplained] = useState<number | null>(null);
  const field = useRef<HTMLTextAreaElement>(null);
  const text = useDebounced(page.text, 200);
  const release = params.get("release");
  const only = release && {
    release,
    line: params.get("line") ?? "",
    number: params.get("number") ?? "",
    variant: params.get("variant") ?? "",
  };
  const asked = { ...page, text, market: page.market.trim() || null, ...(only ? { only } : {}) };
  const read = useQuery({
    queryKey: ["pasted", asked],
    queryFn: ({ signal }) => take(client.POST("/api/prices/page/reading", { body: asked, signal })),
    enabled: text.trim() !== "",
    placeholderData: (before) => before,
    retry: false,
  });
  const data = text.trim() === "" ? undefined : read.data;
  const results = data?.results ?? NONE;
  const taken = takenOf(results, said);
  const once = useOnce();
  const keep = useAct(
    (rows: Schemas["RowIn"][]) =>
      take(client.POST("/api/prices/page", { body: { market: asked.market, rows }, ...keyed(once.key()) })),
    {
      keys: PRICED,
      text: ({ added }) => `${count(added)} ${added === 1 ? "price" : "prices"} kept.`,
      undo: (_, { batch }) =>
        take(client.DELETE("/api/prices/batches/{batch}", { params: { path: { batch: batch ?? 0 } } })),
      done: () => {
        once.made();
        forget();
        setPage({ ...page, text: "" });
        setSaid({});
        setExplained(null);
        field.current?.focus();
      },
    },
  );
  const put = (row: number, more: AllSaid[number]) => setSaid({ ...said, [row]: { ...said[row], ...more } });
  const send = () => {
    const rows = toRows(results, said);
    if (rows.length > 0 && !keep.isPending) keep.mutate(rows);
  };
  const cards = new Map((data?.cards ?? []).map((card) => [card.version, card]));
  const named = (version: number) => {
    const card = cards.get(version);
    return card ? `${cardName(card)} ${card.number}` : "a card that is not here any more";
  };
  const columns: Column<Result>[] = [
    {
      key: "title",
      name: "What it says",
      cell: (result) => (
        <>
          {result.title}
          <Doubt result={result} isSaid={said[result.row]?.version !== undefined} />
        </>
      ),
      text: (result) => result.title,
    },
    {
      key: "card",
      name: "Card",
      cell: (result) => {
        const version = versionOf(result, said);
        const others = result.doubt ? result.choices.filter((it) => it !== version) : [];
        return (
          <>
            {said[result.row]?.name ?? (version === null ? "none" : named(version))}
            {others.map((other) => (
              <Box key={other}>
                <Button
                  color="inherit"
                  onClick={() => put(result.row, { version: other, name: named(other), taken: true })}
                  sx={{
                    py: 0,
                    px: 0,
                    minHeight: 24,
                    textAlign: "left",
                    fontWeight: 400,
                    textDecoration: "underline",
                  }}
                >
                  or {named(other)}
                </Button>
              </Box>
            ))}
          </>
        );
      },
      text: (result) => {
        const version = versionOf(result, said);
        return said[result.row]?.name ?? (version === null ? "" : named(version));
      },
    },
    {
      key: "kind",
      name: "Kind",
      cell: (result) =>
        (result.kind === null ? "" : KINDS[result.kind]) + (result.lot > 1 ? `, lot of ${result.lot}` : ""),
    },
    {
      key: "state",
      name: "State",
      cell: (result) => said[result.row]?.state ?? result.state ?? (result.price === null ? "" : "?"),
    },
    { key: "day", name: "Day", kind: "day", cell: (result) => (result.day === null ? "" : day(result.day)) },
    {
      key: "price",
      name: "price + shipping",
      kind: "figure",
      cell: (result) =>
        result.price === null
          ? ""
          : `${money(result.price)} + ${result.shipping === null ? "?" : money(result.shipping)} ${result.currency}`,
    },
    {
      key: "more",
      name: "",
      cell: (result) => (
        <Button
          color="inherit"
          aria-label={`Say more of ${result.title}`}
          onClick={() => setExplained(result.row)}
          sx={{ py: 0, minHeight: 24, whiteSpace: "nowrap" }}
        >
          Say more
        </Button>
      ),
    },
  ];
  const about = results.find((result) => result.row === explained);
  return (
    <PageTitle
      title="A page of results"
      {...(data
        ? { verdict: data.verdict }
        : { plain: "Copy a list of results where you found it, and paste it here as it is." })}
      crumbs={[{ name: "Pricing", to: "/pricing" }, { name: "A page of results" }]}
    >
      <Box
        onKeyDown={(event) => {
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
            event.preventDefault();
            send();
          }
        }}
      >
        <FieldRow>
          <TextField
            label="Where it is from"
            value={page.market}
            onChange={(event) => setPage({ ...page, market: event.target.value.slice(0, 60) })}
            sx={{ width: 180 }}
          />
          <ConditionChoice
            label="Raw, if not said"
            value={page.raw_state}
            choose={(state) => state && setPage({ ...page, raw_state: state })}
            width={140}
          />
          <ChoiceBox
            label="What is not said to be either"
            value={page.unsaid}
            set={(unsaid) => setPage({ ...page, unsaid: unsaid === "ask" ? "ask" : "sold" })}
            choices={UNSAID}
            width={190}
          />
          <ChoiceBox
            label="3/11 is"
            value={page.month_first ? "m" : "d"}
            set={(way) => setPage({ ...page, month_first: way === "m" })}
            choices={{ d: "3 November", m: "11 March" }}
            width={150}
          />
        </FieldRow>
        <TextField
          inputRef={field}
          label="The page, as it was copied"
          value={page.text}
          onChange={(event) => {
            setPage({ ...page, text: event.target.value });
            setSaid({});
          }}
          autoFocus
          multiline
          minRows={3}
          maxRows={data ? 5 : 14}
          fullWidth
          sx={{ mt: 1 }}
        />
        {read.isError && (
          <Box role="alert" sx={{ color: "error.main", fontSize: 13, mt: 0.5 }}>
            {inWords(read.error)}
          </Box>
        )}
        {results.length > 0 && (
          <Section title="What it holds" point={`${count(taken.size)} of ${count(results.length)} are taken`}>
            <DataTable
              label="What it holds"
              rows={results}
              columns={columns}
              keyOf={(result) => result.row}
              selection={{
                keys: taken,
                set: (chosen) => setSaid(choose(results, said, chosen)),
                name: (row) => results.find((result) => result.row === row)?.title ?? "",
              }}
              empty=""
            />
            {about && (
              <Explain
                key={about.row}
                result={about}
                state={said[about.row]?.state ?? about.state ?? ""}
                setState={(state) => put(about.row, { state })}
                setCard={(card) =>
                  put(about.row, {
                    version: card.version,
                    name: `${cardName(card)} ${card.number}`,
                    taken: true,
                  })
                }
                canBe={canBeTaken(about, said)}
                release={cards.get(versionOf(about, said) ?? 0)?.release ?? null}
                leave={() => setExplained(null)}
              />
            )}
            <Button
              variant="contained"
              disabled={taken.size === 0 || keep.isPending}
              onClick={send}
              sx={{ mt: 1 }}
            >
              Keep {count(taken.size)} {taken.size === 1 ? "price" : "prices"} (Ctrl Enter)
            </Button>
          </Section>
        )}
      </Box>
    </PageTitle>
  );
}

function Doubt({ result, isSaid }: { result: Result; isSaid: boolean }) {
  const text = result.refused && !isSaid ? `Not taken: ${result.refused}` : (result.doubt ?? "");
  const known = result.known ? "There already" : "";
  if (!text && !known) return null;
  return (
    <Box sx={{ fontSize: 12, color: "text.secondary" }}>
      {[known, text && `${text.charAt(0).toUpperCase()}${text.slice(1)}`].filter(Boolean).join(". ")}.
    </Box>
  );
}
