import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Slider from "@mui/material/Slider";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { faultAt } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { Figures } from "../../shared/Figures";
import { axisMoney, count, counted, gain, money } from "../../shared/format";
import { readAmount } from "../../shared/forms/reading";
import { PageTitle } from "../../shared/PageTitle";
import { Plot } from "../../shared/Plot";
import { Progress } from "../../shared/Progress";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { TwoColumns } from "../../shared/TwoColumns";
import { isAlive, useStop } from "../../shared/longWork";
import { useAct } from "../../shared/useAct";
import { useAddress } from "../../shared/useAddress";
import { keyed, useOnce } from "../../shared/useOnce";
import { ValueField } from "../../shared/ValueField";
import { GradingTabs } from "./GradingTabs";
import { graders, KEYS, thatGrade } from "./queries";

type Batch = Schemas["BatchOut"];
type Card = Batch["cards"][number];

/** Which cards to send in which tier: the best batch, proven, and what other budgets would bring. */
export default function BatchPage() {
  const [params, change] = useAddress();
  const navigate = useNavigate();
  const once = useOnce();
  const all = useQuery(graders());
  const body: Schemas["BatchIn"] = {
    grader: Number(params.get("grader")) || null,
    out: params.get("out") ?? "17.50",
    back: params.get("back") ?? "20",
    owned: params.has("owned"),
    may_join: !params.has("alone"),
    budget: params.get("budget"),
    most: Number(params.get("most")) || null,
    without: (params.get("without") ?? "").split(",").filter(Boolean).map(Number),
  };
  const found = useQuery({
    queryKey: ["grading", "batch", body],
    queryFn: ({ signal }) => take(client.POST("/api/grading/batch", { body, signal })),
    placeholderData: keepPreviousData,
    refetchInterval: ({ state }) => (isAlive(state.data?.task) ? 900 : false),
    retry: false,
  });
  const [last, setLast] = useState(found.data);
  if (found.data && found.data !== last) setLast(found.data);
  const data = found.data ?? last;
  const begin = useAct(() => take(client.POST("/api/grading/batch/curve", { body })), {
    keys: ["grading", "tasks"],
  });
  const stop = useStop(["grading"]);
  const make = useAct(
    (batch: Batch) =>
      take(
        client.POST("/api/submissions", {
          body: {
            grader: batch.grader,
            cards: batch.cards.flatMap(({ item, tier }) => (tier ? [{ item, tier, declared: null }] : [])),
          },
          ...keyed(once.key()),
        }),
      ),
    {
      keys: KEYS,
      done: ({ number }) => {
        once.made();
        void navigate(`/grading/${number}`);
      },
    },
  );
  if (!data) return <Answer of={found} />;
  const leave = (item: number) => change({ without: [...(body.without ?? []), item].join(",") });
  const columns: Column<Card>[] = [
    {
      key: "name",
      name: "Card",
      cell: (row) => (
        <>
          <Link to={`/grading/-/card/${row.item}`}>{row.name}</Link>
          {row.owner && " (a friend’s)"}
        </>
      ),
      text: (row) => row.name,
    },
    {
      key: "tier",
      name: "tier",
      cell: (row) => data.tiers.find((it) => it.tier === row.tier)?.name ?? "stays",
    },
    { key: "why", name: "why", cell: (row) => row.why },
    {
      key: "leave",
      name: "",
      cell: (row) =>
        row.tier && (
          <Button
            color="inherit"
            aria-label={`Leave out: ${row.name}`}
            onClick={() => leave(row.item)}
            sx={{ whiteSpace: "nowrap" }}
          >
            Leave out
          </Button>
        ),
      text: () => "",
    },
  ];
  const field = (name: "out" | "back" | "budget" | "most", label: string, hint: string) => (
    <ValueField
      label={label}
      value={params.get(name) ?? (name === "out" ? "17.50" : name === "back" ? "20" : "")}
      commit={(text) => {
        const read = readAmount(text);
        change({ [name]: text === "" ? null : "value" in read ? read.value : text });
      }}
      fault={faultAt(found.error, name) ?? null}
      hint={hint}
      inputMode="decimal"
      width={130}
    />
  );
  const tick = (name: "owned" | "alone", label: string, isTurned = false) => (
    <FormControlLabel
      control={
        <Checkbox
          size="small"
          checked={params.has(name) !== isTurned}
          onChange={(event) => change({ [name]: event.target.checked !== isTurned ? "1" : null })}
        />
      }
      label={label}
    />
  );
  return (
    <PageTitle
      title="Best batch"
      verdict={data.verdict}
      crumbs={[{ name: "Grading", to: "/grading" }, { name: "Best batch" }]}
    >
      <GradingTabs />
      <FieldRow>
        <ChoiceBox
          label="Grader"
          value={String(data.grader)}
          set={(grader) => change({ grader, without: null })}
          choices={Object.fromEntries(thatGrade(all.data?.graders).map((it) => [String(it.number), it.name]))}
          width={140}
        />
        {field("out", "Parcel out", "in your currency")}
        {field("back", "Parcel back", "in the grader’s")}
        {field("most", "Cards at most", "empty: any")}
        {field("budget", "Budget", "empty: none")}
        {tick("owned", "membership is paid")}
        {tick("alone", "one may be bought", true)}
      </FieldRow>
      <TwoColumns
        main={
          <>
            <Budget data={data} budget={body.budget ?? null} set={(budget) => change({ budget })} />
            {data.task && <Progress task={data.task} stop={() => stop.mutate(data.task!.number)} />}
            {!isAlive(data.task) && data.cards.length > 0 && (
              <Button color="inherit" disabled={begin.isPending} onClick={() => begin.mutate(undefined)}>
                {data.curve.length > 0
                  ? "Work the other budgets out anew"
                  : "What would other budgets bring?"}
              </Button>
            )}
            <Section title="In and out" point="why each is where it is">
              <DataTable
                label="Cards of the batch"
                rows={data.cards}
                columns={columns}
                keyOf={(row) => row.item}
                empty="No card can be weighed: prices raw and by grade are missing."
              />
            </Section>
          </>
        }
        aside={
          <Section title="The batch" point={data.currency}>
            <Figures
              rows={[
                ...data.tiers.map((it): readonly [string, string] => [it.name, counted(it.cards, "card")]),
                ["Gain in all", gain(data.gain)],
                ["It costs", money(data.spent)],
                [data.proven ? "Nothing gains more than" : "Nothing can gain more than", money(data.bound)],
                ...(data.membership ? [["With", "a membership"] as const] : []),
              ]}
            />
            {data.missing.map((it) => (
              <Aside key={it.tier}>
                {it.tier} needs {count(it.cards)} more cards: friends’ would fill it.
              </Aside>
            ))}
            {data.unknown > 0 && (
              <Aside>
                Of {counted(data.unknown, "card")} a price is missing, so they could not be weighed.
              </Aside>
            )}
            {data.tiers.length > 0 && (
              <Button variant="contained" disabled={make.isPending} onClick={() => make.mutate(data)}>
                Draft it as a submission
              </Button>
            )}
            {(body.without ?? []).length > 0 && (
              <Button color="inherit" onClick={() => change({ without: null })}>
                Let {count((body.without ?? []).length)} left out come again
              </Button>
            )}
          </Section>
        }
      />
    </PageTitle>
  );
}

/** The gain over the budget, with a slider that asks for the batch of another one. */
function Budget(props: { data: Batch; budget: string | null; set: (budget: string | null) => void }) {
  const { data, budget, set } = props;
  const most = data.curve.at(-1)?.budget ?? 0;
  const now = budget === null ? most : Number(budget);
  const [moving, setMoving] = useState<number | null>(null);
  if (most === 0) return null;
  return (
    <Section title="The budget" point="gain over what may be spent">
      <Plot
        label="Gain over the budget"
        lines={[
          { name: "gain", points: data.curve.map((it) => [it.budget, it.gain] as const), tone: "gain" },
        ]}
        verticals={[{ x: Math.min(moving ?? now, most), text: `${axisMoney(Math.round(moving ?? now))}` }]}
        xName="budget"
        xText={axisMoney}
        yText={axisMoney}
        height={200}
      />
      <Box sx={{ px: 1 }}>
        <Slider
          aria-label="Budget"
          min={0}
          max={Math.ceil(most)}
          step={Math.max(Math.round(most / 60), 1)}
          value={Math.min(moving ?? now, Math.ceil(most))}
          onChange={(_, value) => setMoving(value)}
          onChangeCommitted={(_, value) => {
            setMoving(null);
            set(value >= most ? null : String(value));
          }}
          valueLabelDisplay="auto"
          sx={{ color: "tone.ink" }}
        />
      </Box>
    </Section>
  );
}
