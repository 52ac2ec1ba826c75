import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { priceOf } from "../../shared/cardPages";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { DataTable, type Column } from "../../shared/DataTable";
import { FieldRow } from "../../shared/FieldRow";
import { count } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { useAct } from "../../shared/useAct";
import { useAddress } from "../../shared/useAddress";
import { useDebounced } from "../../shared/useDebounced";

type Subject = Schemas["SubjectOut"];

/** Whom and what cards show, over all releases: who is watched, and which card is the first. */
export default function SubjectsPage() {
  const [asked, change] = useAddress();
  const typed = asked.get("find") ?? "";
  const find = useDebounced(typed.trim().slice(0, 60), 150);
  const watched = asked.get("watched") === "yes";
  const found = useQuery({
    queryKey: ["subjects", find, watched],
    queryFn: () => take(client.GET("/api/subjects", { params: { query: { find, watched } } })),
    placeholderData: (before) => before,
  });
  const watch = useAct(({ number, watched: on }: Subject) => put(number, !on), {
    keys: ["subjects", "cards"],
    told: ({ name, watched: on }) => (on ? `${name} is no longer watched.` : `${name} is watched.`),
    undo: ({ number, watched: on }) => put(number, on),
  });
  const debut = useAct((subject: Subject) => putDebut(subject, subject.is_debut ? null : true), {
    keys: ["subjects", "cards", "description"],
    told: ({ name, is_debut }) =>
      is_debut ? `It is open which card of ${name} is the first.` : `The first card of ${name} is noted.`,
    undo: (subject) => putDebut(subject, subject.is_debut || null),
  });
  if (!found.data) return <Answer of={found} />;
  const columns: Column<Subject>[] = [
    { key: "name", name: "Subject", cell: (subject) => subject.name },
    { key: "cards", name: "cards here", kind: "figure", cell: (subject) => count(subject.cards) },
    {
      key: "watched",
      name: "Watched",
      cell: (subject) => (
        <Checkbox
          checked={subject.watched}
          onChange={() => watch.mutate(subject)}
          slotProps={{ input: { "aria-label": `Watch ${subject.name}` } }}
          sx={{ p: 0.5 }}
        />
      ),
      text: (subject) => (subject.watched ? "yes" : ""),
    },
    {
      key: "first",
      name: "The earliest card here",
      cell: ({ first }) => first && <Link to={priceOf(first)}>{wordsOf(first)}</Link>,
      text: ({ first }) => (first ? wordsOf(first) : ""),
    },
    {
      key: "debut",
      name: "Its first card of all",
      cell: (subject) =>
        subject.first && (
          <Button color="inherit" onClick={() => debut.mutate(subject)} sx={{ py: 0, minHeight: 24 }}>
            {subject.is_debut ? "yes; take back" : "say so"}
          </Button>
        ),
      text: (subject) => (subject.is_debut ? "yes" : ""),
    },
  ];
  return (
    <PageTitle
      title="Subjects"
      plain="Whom and what your cards show, and whom you watch."
      crumbs={[{ name: "Stock", to: "/stock" }, { name: "Subjects" }]}
    >
      <FieldRow>
        <TextField
          label="Name, or a part of it"
          value={typed}
          onChange={(event) => change({ find: event.target.value })}
          sx={{ width: 260 }}
        />
        <ChoiceBox
          label="Show"
          value={watched ? "yes" : ""}
          set={(value) => change({ watched: value })}
          choices={{ "": "all", yes: "those that you watch" }}
          width={200}
        />
      </FieldRow>
      <Box sx={{ mt: 1 }}>
        <DataTable
          label="Subjects"
          rows={found.data.subjects}
          columns={columns}
          keyOf={({ number }) => number}
          empty={watched ? "You watch nobody yet." : "No card here shows that."}
        />
      </Box>
    </PageTitle>
  );
}

function put(number: number, watched: boolean) {
  return take(client.PUT("/api/subjects/{number}", { params: { path: { number } }, body: { watched } }));
}

function putDebut({ first }: Subject, debut: boolean | null) {
  const { release = "", line = "", number = "" } = first ?? {};
  return take(
    client.PUT("/api/releases/{release}/lines/{line}/debut", {
      params: { path: { release, line } },
      body: { number, debut },
    }),
  );
}

function wordsOf({ line_name, number, release_title }: Schemas["FoundOut"]): string {
  return `${line_name} ${number}, ${release_title}`;
}
