import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import * as z from "zod/mini";
import { Answer } from "../../shared/Answer";
import { client, take } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { EditableCell } from "../../shared/EditableCell";
import { faultAt } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { Figures } from "../../shared/Figures";
import { asPercent, count, gain, money } from "../../shared/format";
import { EntryRow } from "../../shared/forms/EntryRow";
import { CountField, MoneyField } from "../../shared/forms/fields";
import { readAmount, readShare, readWhole, type Read } from "../../shared/forms/reading";
import { maybeAmount, whole } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { StockTabs } from "../../shared/StockTabs";
import { Heads, Table } from "../../shared/Table";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { keyed, useOnce } from "../../shared/useOnce";
import { ValueField } from "../../shared/ValueField";
import { plain } from "../../shared/VerdictLine";
import { bodyOf, hours, moved, saidOf, type Pass, type PassIn, type Plan } from "./plans";

const OFF_PAPER = { "@media print": { display: "none" } };
const KINDS: Record<PassIn["kind"], string> = {
  rescue: "rescue",
  kind: "kind",
  vintage: "old and new",
  decade: "decade",
  year: "year",
  set: "set",
  number: "number",
  colour: "colour",
  worth: "worth",
  other: "other",
};

/** A plan of sorting: its passes with their time, the clock over them, and how the collection does. */
export default function SortingPlanPage() {
  const { number = "" } = useParams();
  const path = { number: Number(number) };
  const plan = useQuery({
    queryKey: ["sorting", "plans", number],
    queryFn: () => take(client.GET("/api/sorting/plans/{number}", { params: { path } })),
  });
  if (!plan.data) return <Answer of={plan} />;
  return <Whole plan={plan.data} />;
}

function Whole({ plan }: { plan: Plan }) {
  const navigate = useNavigate();
  const path = { number: plan.number };
  const put = useAct(
    (body: Parameters<typeof bodyOf>[1]) =>
      take(client.PUT("/api/sorting/plans/{number}", { params: { path }, body: bodyOf(plan, body) })),
    { keys: ["sorting"], quiet: true },
  );
  const remove = useAct(() => take(client.DELETE("/api/sorting/plans/{number}", { params: { path } })), {
    keys: ["sorting", "sorting sets"],
    text: `“${plan.name}” is off the list.`,
    undo: () => take(client.POST("/api/sorting/plans/{number}/back", { params: { path } })),
    done: () => void navigate("/stock/-/plan"),
  });
  const [wrong, setWrong] = useState<{ field: string; text: string } | null>(null);
  const change = (part: Parameters<typeof bodyOf>[1]) => put.mutateAsync(part);
  const field = (
    name: "name" | "cards" | "hourly" | "table" | "box_holds" | "expected",
    label: string,
    width = 110,
  ) => (
    <ValueField
      label={label}
      value={plan[name] === null ? "" : String(plan[name])}
      commit={(text) => {
        if (name === "name" || (name === "expected" && text === ""))
          return put.mutate({ [name]: text || null });
        const read = ["cards", "table", "box_holds"].includes(name) ? readWhole(text) : readAmount(text);
        setWrong("fault" in read ? { field: name, text: read.fault } : null);
        if ("value" in read) put.mutate({ [name]: read.value });
      }}
      fault={wrong?.field === name ? wrong.text : (faultAt(put.error, name) ?? null)}
      inputMode={name === "name" ? "text" : "decimal"}
      width={width}
    />
  );
  return (
    <PageTitle
      title={plan.name}
      verdict={plan.verdict}
      crumbs={[{ name: "Stock", to: "/stock" }, { name: "Plan", to: "/stock/-/plan" }, { name: plan.name }]}
    >
      <Box sx={OFF_PAPER}>
        <StockTabs />
      </Box>
      <Passes plan={plan} change={change} />
      <TwoColumns
        main={<ProjectPart plan={plan} />}
        aside={
          <Section title="What it rests on" point="">
            <FieldRow>
              {field("name", "What it is", 220)}
              {field("cards", "Cards, about")}
              {field("hourly", "An hour is worth")}
              {field("table", "Heaps on the table")}
              {field("box_holds", "Cards in a box")}
              {field("expected", "Thought to be worth", 140)}
            </FieldRow>
            <Box sx={{ display: "flex", gap: 1, ...OFF_PAPER }}>
              <Button color="inherit" variant="outlined" onClick={() => window.print()}>
                Print
              </Button>
              <Button color="inherit" onClick={() => remove.mutate(undefined)}>
                Take it off the list
              </Button>
            </Box>
          </Section>
        }
      />
    </PageTitle>
  );
}

interface PassesProps {
  plan: Plan;
  change: (part: { passes: PassIn[] }) => Promise<unknown>;
}

/** What a cell of a pass holds, read; what is wrong stays at the cell. */
function reading<T>(text: string, read: (text: string) => Read<T>): T | null {
  if (text.trim() === "") return null;
  const found = read(text);
  if ("value" in found) return found.value;
  throw new Error(found.fault);
}

function Passes({ plan, change }: PassesProps) {
  const [kind, setKind] = useState<PassIn["kind"]>("other");
  const save = (at: number, part: Partial<PassIn>) =>
    change({ passes: saidOf(plan.passes).map((it, place) => (place === at ? { ...it, ...part } : it)) });
  const longest = Math.max(...plan.passes.map((it) => it.hours), 0.001);
  const cell = (it: Pass, at: number) => ({
    name: (
      <EditableCell
        value={it.name}
        label={`Name of pass ${at + 1}`}
        align="left"
        width={220}
        save={(text) => save(at, { name: text })}
      />
    ),
    share: (
      <EditableCell
        value={asPercent(Number(it.share))}
        shown={`${asPercent(Number(it.share))} %`}
        label={`Share of ${it.name}`}
        save={(text) => save(at, { share: reading(text, readShare) ?? "1" })}
      />
    ),
    rate: (
      <EditableCell
        value={it.said_rate ?? ""}
        shown={`${count(Math.round(it.rate))}${it.own_hours > 0 ? " own" : ""}`}
        label={`Cards an hour of ${it.name}`}
        save={(text) => save(at, { rate: reading(text, readAmount) })}
      />
    ),
    heaps: (
      <EditableCell
        value={it.said_heaps === null ? "" : String(it.said_heaps)}
        shown={it.rounds > 1 ? `${it.heaps}, ${it.rounds} rounds` : String(it.heaps)}
        label={`Heaps of ${it.name}`}
        save={(text) => save(at, { heaps: reading(text, readWhole) })}
      />
    ),
    finds: (
      <EditableCell
        value={it.finds ?? ""}
        shown={money(it.finds)}
        label={`What ${it.name} may find`}
        save={(text) => save(at, { finds: reading(text, readAmount) })}
      />
    ),
  });
  return (
    <Section
      title="Passes"
      point={`${hours(plan.hours)} in all, ${count(Math.max(...plan.passes.map((it) => it.boxes)))} boxes, in ${plan.currency}; “own” rates are learnt from the clock`}
    >
      <Table label="Passes">
        <Heads
          of={[
            "Pass",
            { figure: "of the cards" },
            { figure: "cards an hour" },
            { figure: "heaps" },
            { figure: "time" },
            "done",
            { figure: "costs" },
            { figure: "may find" },
            { hidden: "actions" },
          ]}
        />
        <tbody>
          {plan.passes.map((it, at) => {
            const cells = cell(it, at);
            return (
              <Box
                component="tr"
                key={`${at} ${it.kind}`}
                data-row
                sx={it.past ? { color: "text.secondary" } : {}}
              >
                <td>
                  {cells.name}
                  {at === plan.passes.findIndex((pass) => pass.past) && (
                    <Box component="span" sx={{ color: "error.main", fontSize: 12 }}>
                      stop here
                    </Box>
                  )}
                </td>
                <td className="figure">{cells.share}</td>
                <td className="figure">{cells.rate}</td>
                <td className="figure">{cells.heaps}</td>
                <td className="figure">
                  <span data-cell>{hours(it.hours)}</span>
                </td>
                <td>
                  <Bar whole={it.hours / longest} done={it.cards ? it.done / it.cards : 0} past={it.past} />
                  <Box component="span" sx={{ fontSize: 12, color: "text.secondary" }}>
                    {count(it.done)} of {count(it.cards)}
                  </Box>
                </td>
                <td className="figure">{money(it.cost)}</td>
                <td className="figure">{cells.finds}</td>
                <td className="figure">
                  <Box sx={{ display: "flex", justifyContent: "flex-end", ...OFF_PAPER }}>
                    <Clock plan={plan} at={at} />
                    <Move
                      name={it.name}
                      up={() => void change({ passes: moved(saidOf(plan.passes), at, -1) })}
                    />
                    <Button
                      color="inherit"
                      data-cell
                      aria-label={`leave out: ${it.name}`}
                      disabled={plan.passes.length < 2}
                      onClick={() =>
                        void change({ passes: saidOf(plan.passes).filter((_, place) => place !== at) }).catch(
                          () => undefined, // said in a notice
                        )
                      }
                      sx={{ minWidth: 0 }}
                    >
                      leave out
                    </Button>
                  </Box>
                </td>
              </Box>
            );
          })}
        </tbody>
      </Table>
      <Box sx={OFF_PAPER}>
        <FieldRow>
          <ChoiceBox
            label="A further pass, by"
            value={kind}
            set={(value) => setKind(value as PassIn["kind"])}
            choices={KINDS}
            width={150}
          />
          <Button
            color="inherit"
            variant="outlined"
            onClick={() =>
              void change({
                passes: [
                  ...saidOf(plan.passes),
                  { kind, name: `By ${KINDS[kind]}`, share: "1", rate: null, heaps: null, finds: null },
                ],
              })
            }
          >
            Add it
          </Button>
        </FieldRow>
      </Box>
    </Section>
  );
}

function Move({ name, up }: { name: string; up: () => void }) {
  return (
    <Button color="inherit" data-cell aria-label={`${name}: earlier`} onClick={up} sx={{ minWidth: 0 }}>
      ↑
    </Button>
  );
}

/** How long a pass takes beside the others, and how much of it is done. */
function Bar({ whole, done, past }: { whole: number; done: number; past: boolean }) {
  return (
    <Box
      aria-hidden
      sx={{
        width: `${Math.max(whole * 100, 2)}%`,
        minWidth: 4,
        height: 8,
        border: 1,
        borderColor: past ? "divider" : "tone.ink",
        borderStyle: past ? "dashed" : "solid",
      }}
    >
      <Box sx={{ width: `${done * 100}%`, height: 1, bgcolor: "tone.ink" }} />
    </Box>
  );
}

/** The clock over a pass: started, and stopped with how many cards went through. */
function Clock({ plan, at }: { plan: Plan; at: number }) {
  const path = { number: plan.number };
  const once = useOnce();
  const start = useAct(
    () =>
      take(
        client.POST("/api/sorting/plans/{number}/clock", {
          params: { path },
          body: { place: at },
          ...keyed(once.key()),
        }),
      ),
    { keys: ["sorting"], done: once.made },
  );
  const isNext =
    plan.running === null && at === plan.passes.findIndex((it) => it.done < it.cards && !it.past);
  useKey("c", "start the clock of the next pass", () => start.mutate(undefined), { on: isNext });
  if (plan.running === at) return <Running plan={plan} since={plan.running_since ?? ""} />;
  if (plan.running !== null) return null;
  return (
    <>
      <Button
        color="inherit"
        data-cell
        aria-label={`start the clock of ${plan.passes[at]?.name}`}
        disabled={start.isPending}
        onClick={() => start.mutate(undefined)}
        sx={{ minWidth: 0, whiteSpace: "nowrap" }}
      >
        start
      </Button>
      {isNext && <Key>C</Key>}
    </>
  );
}

const STOP = z.object({ cards: whole });

function Running({ plan, since }: { plan: Plan; since: string }) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1_000);
    return () => clearInterval(timer);
  }, []);
  const seconds = Math.max(Math.floor((now - Date.parse(since)) / 1_000), 0);
  const path = { number: plan.number };
  const { form, submit, busy, faults } = useEntry({
    draft: `clock ${plan.number}`,
    empty: { cards: "" },
    shape: STOP,
    send: (body, key) =>
      take(client.PUT("/api/sorting/plans/{number}/clock", { params: { path }, body, ...keyed(key) })),
    keys: ["sorting"],
    text: "The clock stands; the rate has learnt from it.",
    undo: (_, { number }) =>
      take(
        client.DELETE("/api/sorting/plans/{number}/runs/{run}", {
          params: { path: { ...path, run: number } },
        }),
      ),
  });
  return (
    <Box sx={{ textAlign: "left" }}>
      <Box component="span" role="timer" sx={{ fontVariantNumeric: "tabular-nums", fontWeight: 600 }}>
        {Math.floor(seconds / 60)}:{String(seconds % 60).padStart(2, "0")}
      </Box>
      <EntryRow submit={submit} busy={busy} faults={faults} act="Stop" strong>
        <CountField control={form.control} name="cards" label="Cards through" width={90} />
      </EntryRow>
    </Box>
  );
}

const SHARE = z.object({ each: maybeAmount });

/** How the collection does: what it cost, what it is worth sorted, and its cost shared out in the end. */
function ProjectPart({ plan }: { plan: Plan }) {
  const { project } = plan;
  const path = { number: plan.number };
  const { form, submit, busy, faults } = useEntry({
    empty: { each: "" },
    shape: SHARE,
    send: ({ each }, key) =>
      take(
        client.POST("/api/sorting/plans/{number}/cost", {
          params: { path },
          body: { version: plan.version, each },
          ...keyed(key),
        }),
      ),
    keys: ["sorting", "items", "books"],
    text: "Its cost went to what was entered.",
    undo: (_, { entry }) =>
      take(client.POST("/api/entries/{number}/undo", { params: { path: { number: entry } } })),
  });
  return (
    <Section title="What comes of it" point={plan.item_name ?? "of nothing that was bought"}>
      <Box sx={{ my: 1 }}>
        {plain(plan.project_verdict.sentence)} {plain(plan.project_verdict.rests_on)}
      </Box>
      <Box sx={{ maxWidth: 340 }}>
        <Figures
          rows={[
            ["Entered", `${count(project.entered)} of ${count(project.cards)}`],
            ["Worth sorted, about", money(project.value)],
            ...(plan.item === null ? [] : [["It cost", money(project.cost)] as const]),
            ...(project.expected === null ? [] : [["Thought to be worth", money(project.expected)] as const]),
            ...(project.gain === null ? [] : [["More than its cost", gain(Number(project.gain))] as const]),
            ...(project.per_hour === null
              ? []
              : [["For each hour", gain(Number(project.per_hour))] as const]),
          ]}
        />
      </Box>
      <Box sx={{ mt: 1.5, ...OFF_PAPER }}>
        <Link to="/stock/-/enter">Enter its cards</Link>
      </Box>
      {plan.item !== null && !project.shared && project.entered > 0 && (
        <Box sx={{ mt: 1, ...OFF_PAPER }}>
          <EntryRow submit={submit} busy={busy} faults={faults} act="Share its cost out by value">
            <MoneyField
              control={form.control}
              name="each"
              label="A card without value counts"
              width={190}
              {...(project.unknown > 0 ? { hint: `${count(project.unknown)} rows have none` } : {})}
            />
          </EntryRow>
        </Box>
      )}
      {project.shared && plan.item !== null && (
        <Box sx={{ mt: 1 }}>
          Its cost went to its cards; <Link to={`/stock/${plan.item}`}>it can be taken back</Link> in its
          history.
        </Box>
      )}
    </Section>
  );
}
