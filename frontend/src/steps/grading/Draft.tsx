import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { client, inWords, take } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { faultAt } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { count, money, percent } from "../../shared/format";
import { readAmount } from "../../shared/forms/reading";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useAct } from "../../shared/useAct";
import { useDayField } from "../../shared/useDayField";
import { ValueField } from "../../shared/ValueField";
import { gemOf } from "./chances";
import { carriers } from "./Carriers";
import { graders, KEYS } from "./queries";
import { draftOf, type DraftBody, type SentCard, type Submission } from "./submission";

const read = (text: string) => {
  const found = readAmount(text);
  return "value" in found ? found.value : text;
};

/** A draft: its cards in the order of the form, tiers and declared values, how it goes, and posting it. */
export function Draft({ data }: { data: Submission }) {
  const navigate = useNavigate();
  const path = { number: data.number };
  const all = useQuery(graders());
  const posts = useQuery(carriers());
  const change = useAct(
    (said: Partial<DraftBody>) =>
      take(client.PUT("/api/submissions/{number}", { params: { path }, body: draftOf(data, said) })),
    { keys: KEYS, quiet: true },
  );
  const drop = useAct(() => take(client.DELETE("/api/submissions/{number}", { params: { path } })), {
    keys: KEYS,
    text: "The draft is given up.",
    undo: () => take(client.POST("/api/submissions/{number}/restore", { params: { path } })),
    done: () => void navigate("/grading"),
  });
  const tiers = all.data?.graders.find((it) => it.number === data.grader)?.tiers ?? [];
  const put = (cards: readonly SentCard[]) =>
    change.mutateAsync({
      cards: cards.map(({ item, tier, said }) => ({ item, tier, declared: said })),
    });
  const set = (item: number, more: Partial<SentCard>) =>
    put(data.cards.map((it) => (it.item === item ? { ...it, ...more } : it)));
  const move = (item: number, by: number) => {
    const cards = [...data.cards];
    const at = cards.findIndex((it) => it.item === item);
    const [one] = cards.splice(at, 1);
    cards.splice(at + by, 0, one!);
    void put(cards).catch(() => undefined);
  };
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const refusal = (item: number) =>
    data.refusals.find((it) => it.field.startsWith(`cards.${item}.`))?.message ??
    faultAt(change.error, `cards.${item}.declared`);
  const columns: Column<SentCard>[] = [
    { key: "line", name: "No.", kind: "figure", cell: (row) => count(row.line) },
    {
      key: "name",
      name: "card",
      cell: (row) => (
        <>
          <Link to={`/grading/-/card/${row.item}`}>{row.name}</Link>
          {row.owner && ` (${row.owner}’s)`}
          {refusal(row.item) && <Box sx={{ color: "error.main", fontSize: 13 }}>{refusal(row.item)}</Box>}
        </>
      ),
      text: (row) => row.name,
    },
    {
      key: "tier",
      name: "tier",
      cell: (row) => (
        <ChoiceBox
          bare
          label={`Tier of ${row.name}`}
          value={row.tier}
          set={(tier) => void set(row.item, { tier }).catch(() => undefined)}
          choices={Object.fromEntries(tiers.map((it) => [it.id, it.name]))}
          width={110}
        />
      ),
      text: (row) => row.tier,
    },
    ...(data.grades.length > 0
      ? [
          {
            key: "gem",
            name: "top grade",
            kind: "figure" as const,
            cell: (row: SentCard) => percent(gemOf(row.chances)),
          },
        ]
      : []),
    {
      key: "declared",
      name: "declared",
      kind: "figure",
      cell: () => "",
      edit: {
        label: (row) => `Declared value of ${row.name}`,
        value: (row) => row.said ?? row.honest ?? "",
        shown: (row) => (row.declared === null ? "say it" : money(row.declared)),
        save: (row, text) => set(row.item, { said: text === "" ? null : read(text) }),
      },
    },
    {
      key: "move",
      name: "",
      cell: (row) => (
        <Box sx={{ whiteSpace: "nowrap" }}>
          <Button
            color="inherit"
            aria-label={`Up: ${row.name}`}
            disabled={row.line === 1}
            onClick={() => move(row.item, -1)}
            sx={{ minWidth: 0 }}
          >
            ↑
          </Button>
          <Button
            color="inherit"
            aria-label={`Down: ${row.name}`}
            disabled={row.line === data.cards.length}
            onClick={() => move(row.item, 1)}
            sx={{ minWidth: 0 }}
          >
            ↓
          </Button>
        </Box>
      ),
      text: () => "",
    },
  ];
  const names = new Map(data.cards.map((it) => [it.item, it.name]));
  const others = data.refusals.filter((it) => !it.field.startsWith("cards."));
  const carrier = posts.data?.carriers.find((it) => it.name === data.carrier);
  return (
    <Section title="The form" point="in this order">
      <DataTable
        label="Cards of the draft"
        rows={data.cards}
        columns={columns}
        keyOf={(row) => row.item}
        selection={{ keys: chosen, set: setChosen, name: (key) => names.get(key) ?? "card" }}
        empty={
          <>
            No card is in it yet: <Link to="/grading/-/worth">choose some</Link>, or let the{" "}
            <Link to="/grading/-/batch">best batch</Link> be drafted.
          </>
        }
      />
      {chosen.size > 0 && (
        <Button
          color="inherit"
          onClick={() => {
            void put(data.cards.filter((it) => !chosen.has(it.item))).catch(() => undefined);
            setChosen(new Set());
          }}
        >
          Take {count(chosen.size)} out of it
        </Button>
      )}
      <Aside>
        The declared value is what a card is honestly worth in the grade that is likeliest. Declaring less
        leaves it uninsured, and graders charge up what turns out to be worth more.
      </Aside>
      <FieldRow>
        <ChoiceBox
          label="Carrier"
          value={data.carrier ?? ""}
          set={(name) => change.mutate({ carrier: name, post_class: null })}
          choices={Object.fromEntries((posts.data?.carriers ?? []).map((it) => [it.name, it.name]))}
          width={150}
        />
        <ChoiceBox
          label="Class"
          value={data.post_class ?? ""}
          set={(name) => change.mutate({ post_class: name })}
          choices={Object.fromEntries(
            (carrier?.classes ?? []).map((it) => [
              it.id,
              `${it.name} ${money(it.price)}${it.insured_to ? `, to ${money(it.insured_to)}` : ""}`,
            ]),
          )}
          width={240}
        />
        <ValueField
          label={`The parcel back, ${data.grader_currency}`}
          value={data.back}
          commit={(text) => change.mutate({ back: read(text) })}
          fault={faultAt(change.error, "back") ?? null}
          inputMode="decimal"
          width={150}
        />
        {data.has_membership && (
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={data.membership}
                onChange={(event) => change.mutate({ membership: event.target.checked })}
              />
            }
            label="a membership is bought for it"
          />
        )}
      </FieldRow>
      {data.membership_says && (
        <Box sx={{ fontSize: 13, color: "text.secondary" }}>{data.membership_says}</Box>
      )}
      {data.total !== null && <Alone data={data} />}
      {data.gap !== null && Number(data.gap) > 0 && (
        <Aside>
          {money(data.gap)} {data.currency} of it would be lost with the parcel: insure it, or send two.
        </Aside>
      )}
      {[...others.map((it) => it.message), ...(change.isError ? [inWords(change.error)] : [])].map((it) => (
        <Box key={it} role="alert" sx={{ color: "error.main" }}>
          {it}
        </Box>
      ))}
      <Posting data={data} />
      <Button color="inherit" disabled={drop.isPending} onClick={() => drop.mutate(undefined)}>
        Give the draft up
      </Button>
    </Section>
  );
}

/** Sending by oneself against a group that takes each card at a flat price. */
function Alone({ data }: { data: Submission }) {
  const [flat, setFlat] = useState("");
  const found = useQuery({
    queryKey: ["grading", "alone", data.number, data.version, flat],
    queryFn: () =>
      take(
        client.GET("/api/submissions/{number}/alone", {
          params: { path: { number: data.number }, query: { flat } },
        }),
      ),
    enabled: flat !== "",
    retry: false,
  });
  return (
    <FieldRow>
      <ValueField
        label="A group takes a card at"
        value={flat}
        commit={(text) => setFlat(text === "" ? "" : read(text))}
        fault={faultAt(found.error, "flat") ?? null}
        hint="to compare; empty: not"
        inputMode="decimal"
        width={170}
      />
      <Box role="status" sx={{ mt: "22px", fontSize: 13 }}>
        {found.data?.says}
      </Box>
    </FieldRow>
  );
}

function Posting({ data }: { data: Submission }) {
  const [tracking, setTracking] = useState("");
  const [used, setUsed] = useState<Record<number, string>>({});
  const supplies = useQuery({
    queryKey: ["items", "supplies"],
    queryFn: () => take(client.GET("/api/items", { params: { query: { kind: "supply" } as never } })),
  });
  const posted = useDayField();
  const post = useAct(
    () =>
      take(
        client.POST("/api/submissions/{number}/post", {
          params: { path: { number: data.number } },
          body: {
            version: data.version,
            day: posted.day!,
            tracking: tracking.trim() || null,
            supplies: Object.entries(used).flatMap(([item, text]) =>
              Number(text) > 0 ? [{ item: Number(item), count: Number(text) }] : [],
            ),
          },
        }),
      ),
    { keys: KEYS, text: "Posted: its cards are at the grader.", quiet: true },
  );
  return (
    <Box sx={{ mt: 1 }}>
      <FieldRow>
        <ValueField label="Posted on" {...posted.field(faultAt(post.error, "day"))} width={130} />
        <ValueField label="Tracking number" value={tracking} commit={setTracking} width={180} />
        {(supplies.data?.items ?? []).slice(0, 6).map((it) => (
          <ValueField
            key={it.number}
            label={`Used: ${it.name}`}
            value={used[it.number] ?? ""}
            commit={(text) => setUsed({ ...used, [it.number]: text })}
            hint={`${count(it.count)} there`}
            inputMode="numeric"
            width={150}
          />
        ))}
        <Button
          variant="contained"
          disabled={post.isPending || posted.day === null || data.total === null}
          onClick={() => post.mutate(undefined)}
        >
          It is posted
        </Button>
      </FieldRow>
      {post.isError && !faultAt(post.error, "day") && (
        <Box role="alert" sx={{ color: "error.main" }}>
          {inWords(post.error)}
        </Box>
      )}
    </Box>
  );
}
