import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import * as z from "zod/mini";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { DataTable, type Column } from "../../shared/DataTable";
import { count } from "../../shared/format";
import { EntryRow } from "../../shared/forms/EntryRow";
import { CheckField, ChoiceField, WordsField } from "../../shared/forms/fields";
import { maybeWords, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { StockTabs } from "../../shared/StockTabs";
import { keyed } from "../../shared/useOnce";
import { readSet, type Sets } from "./entering";
import { KINDS, subjectsOf } from "./goals";

type Goal = Schemas["GoalBriefOut"];

const COLUMNS: Column<Goal>[] = [
  { key: "name", name: "Goal", cell: (row) => <Link to={`/stock/-/goals/${row.number}`}>{row.name}</Link> },
  { key: "kind", name: "what", cell: (row) => KINDS[row.kind] },
  { key: "least", name: "at least", cell: (row) => row.least ?? "" },
  {
    key: "filled",
    name: "filled",
    kind: "figure",
    cell: (row) => `${count(row.filled)} of ${count(row.total)}`,
  },
  { key: "bar", name: "", cell: (row) => <Filled share={row.total ? row.filled / row.total : 0} /> },
  { key: "doubles", name: "doubles", kind: "figure", cell: (row) => (row.doubles ? count(row.doubles) : "") },
];

function Filled({ share }: { share: number }) {
  return (
    <Box aria-hidden sx={{ width: 120, height: 8, border: 1, borderColor: "tone.ink" }}>
      <Box sx={{ width: `${share * 100}%`, height: 1, bgcolor: "tone.ink" }} />
    </Box>
  );
}

/** Sets, rainbows and looser goals: how far each is. */
export default function GoalsPage() {
  const goals = useQuery({ queryKey: ["goals"], queryFn: () => take(client.GET("/api/goals")) });
  const sets = useQuery({ queryKey: ["sorting sets"], queryFn: () => take(client.GET("/api/sorting/sets")) });
  if (!goals.data || !sets.data) return <Answer of={goals.data ? sets : goals} />;
  const rows = goals.data.goals;
  return (
    <PageTitle
      title="Goals"
      verdict={goals.data.verdict}
      crumbs={[{ name: "Stock", to: "/stock" }, { name: "Goals" }]}
    >
      <StockTabs />
      {rows.length > 0 && (
        <Section title="Goals" point="filled by what is held, wherever it came in">
          <DataTable
            label="Goals"
            rows={rows}
            columns={COLUMNS}
            keyOf={(row) => row.number}
            empty="None yet."
          />
        </Section>
      )}
      <NewGoal sets={sets.data} />
    </PageTitle>
  );
}

const SHAPE = z.object({
  name: words,
  kind: words,
  set: words,
  line: words,
  card: maybeWords,
  subjects: words,
  least: maybeWords,
  numbered: z.boolean(),
});
const EMPTY = {
  name: "",
  kind: "set",
  set: "",
  line: "Base",
  card: "",
  subjects: "",
  least: "",
  numbered: false,
};

function NewGoal({ sets }: { sets: Sets }) {
  const navigate = useNavigate();
  const { form, submit, busy, faults } = useEntry({
    draft: "a goal",
    empty: EMPTY,
    shape: SHAPE,
    send: ({ kind, set, line, subjects, name, ...rest }, key) => {
      const read = readSet(set, sets.sets);
      const release = "release" in read ? read.release : set.trim() || null;
      const people = subjectsOf(subjects);
      const body: Schemas["GoalIn"] = {
        version: 0,
        ...rest,
        name: name || [line, set].filter(Boolean).join(", "),
        kind: kind === "each" || kind === "subjects" ? "slots" : (kind as "set" | "rainbow"),
        release,
        line: kind === "subjects" ? null : line,
        card: kind === "rainbow" ? rest.card : null,
        each: kind === "each",
        subjects: kind === "subjects" ? people : [],
        slots: [],
        whole: null,
      };
      return take(client.POST("/api/goals", { body, ...keyed(key) }));
    },
    keys: ["goals"],
    done: ({ number }) => void navigate(`/stock/-/goals/${number}`),
    names: { release: "set", "subjects[0]": "subjects" },
  });
  const { control } = form;
  const kind = form.watch("kind");
  return (
    <Section title="A new goal" point="">
      <EntryRow submit={submit} busy={busy} faults={faults} act="Set it" strong>
        <ChoiceField
          control={control}
          name="kind"
          label="What"
          width={240}
          choices={{
            set: "all cards of a line",
            rainbow: "every finish of one card",
            each: "each card of a line, in any finish",
            subjects: "a card of each of some subjects",
          }}
        />
        <WordsField
          control={control}
          name="set"
          label={kind === "subjects" ? "Of the set" : "Set"}
          width={230}
          {...(kind === "subjects" ? { hint: "empty: of any" } : {})}
          more={{ slotProps: { htmlInput: { list: "goal-sets", autoComplete: "off" } } }}
        />
        <datalist id="goal-sets">
          {sets.sets.map((it) => (
            <option key={it.key} value={it.title} />
          ))}
        </datalist>
        {kind !== "subjects" && <WordsField control={control} name="line" label="Line" width={150} />}
        {kind === "rainbow" && <WordsField control={control} name="card" label="Number" width={90} />}
        {kind === "subjects" && (
          <WordsField control={control} name="subjects" label="Subjects, by commas" width={320} />
        )}
        {kind === "each" && <CheckField control={control} name="numbered" label="numbered ones only" />}
        <WordsField control={control} name="least" label="At least" hint="LP, or Plumbline:9" width={140} />
        <WordsField control={control} name="name" label="Call it" hint="empty: as it is" width={190} />
      </EntryRow>
    </Section>
  );
}
