import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { EditableCell } from "../../shared/EditableCell";
import { faultAt } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { asPercent, count, money } from "../../shared/format";
import { readAmount, readShare, readWhole, type Read } from "../../shared/forms/reading";
import { PageTitle } from "../../shared/PageTitle";
import { OFF_PAPER } from "../../shared/print";
import { Section } from "../../shared/Section";
import { StockTabs } from "../../shared/StockTabs";
import { Heads, Table } from "../../shared/Table";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { ValueField } from "../../shared/ValueField";
import { PassClock } from "./PassClock";
import { bodyOf, hours, moved, saidOf, type Pass, type PassIn, type Plan } from "./plans";
import { ProjectPart } from "./ProjectPart";

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
                    <PassClock plan={plan} at={at} />
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
