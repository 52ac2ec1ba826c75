import { useQuery } from "@tanstack/react-query";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { count, day, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { keyed, useOnce } from "../../shared/useOnce";
import { FriendsCard } from "./FriendsCard";
import { GradingTabs } from "./GradingTabs";
import { graders, KEYS } from "./queries";

type Row = Schemas["SubmissionRowOut"];

const STATES: Partial<Record<Row["state"], string>> = {
  drafted: "drafted",
  sent: "away",
  done: "back",
  undone: "taken back",
};

const COLUMNS: Column<Row>[] = [
  {
    key: "grader",
    name: "Submission",
    cell: (row) => (
      <Link to={`/grading/${row.number}`}>
        {row.grader}, {day(row.sent_on ?? row.day)}
      </Link>
    ),
    text: (row) => `${row.grader} ${row.sent_on ?? row.day}`,
  },
  {
    key: "state",
    name: "where it is",
    cell: (row) =>
      row.question ? (
        <b>asks something</b>
      ) : (
        [STATES[row.state], row.state === "sent" ? row.stage : null].filter(Boolean).join(": ")
      ),
  },
  { key: "cards", name: "cards", kind: "figure", cell: (row) => count(row.cards) },
  {
    key: "friends",
    name: "friends’",
    kind: "figure",
    cell: (row) => (row.friends ? count(row.friends) : ""),
  },
  { key: "away", name: "still away", kind: "figure", cell: (row) => (row.away ? count(row.away) : "") },
  {
    key: "days",
    name: "days",
    kind: "figure",
    cell: (row) => (row.days === null ? "" : `${count(row.days)}${row.late ? ", late" : ""}`),
  },
  {
    key: "planned",
    name: "planned",
    kind: "figure",
    cell: (row) => (row.planned === null ? "" : money(row.planned)),
  },
  {
    key: "charged",
    name: "billed",
    kind: "figure",
    cell: (row) => (Number(row.charged) === 0 ? "" : money(row.charged)),
  },
];

/** All submissions, what is away and what asks; and the beginning of one. */
export default function GradingPage() {
  const found = useQuery({
    queryKey: ["grading", "submissions"],
    queryFn: () => take(client.GET("/api/submissions")),
  });
  if (!found.data) return <Answer of={found} />;
  return (
    <PageTitle title="Grading" verdict={found.data.verdict}>
      <GradingTabs />
      <Section title="Submissions" point={`the newest first, in ${found.data.currency}`}>
        <DataTable
          label="Submissions"
          rows={found.data.submissions}
          columns={COLUMNS}
          keyOf={(row) => row.number}
          empty={
            <>
              None yet. <Link to="/grading/-/worth">Look which cards are worth grading</Link>, or draft one
              here.
            </>
          }
        />
        <NewDraft />
      </Section>
      <FriendsCard />
    </PageTitle>
  );
}

function NewDraft() {
  const navigate = useNavigate();
  const all = useQuery(graders());
  const once = useOnce();
  const [chosen, setChosen] = useState("");
  const known = all.data?.graders ?? [];
  const grader = Number(chosen) || known[0]?.number;
  const make = useAct(
    (number: number) =>
      take(client.POST("/api/submissions", { body: { grader: number, cards: [] }, ...keyed(once.key()) })),
    {
      keys: KEYS,
      done: ({ number }) => {
        once.made();
        void navigate(`/grading/${number}`);
      },
    },
  );
  if (all.data && known.length === 0)
    return (
      <Box sx={{ mt: 1 }}>
        No grader is described yet: <Link to="/grading/-/graders">describe one first</Link>.
      </Box>
    );
  return (
    <FieldRow>
      <ChoiceBox
        label="A new submission to"
        value={String(grader ?? "")}
        set={setChosen}
        choices={Object.fromEntries(known.map((it) => [String(it.number), it.name]))}
        width={180}
      />
      <Button
        variant="outlined"
        color="inherit"
        disabled={!grader || make.isPending}
        onClick={() => grader && make.mutate(grader)}
      >
        Draft it
      </Button>
    </FieldRow>
  );
}
