import Box from "@mui/material/Box";
import { EntryRow } from "../../shared/forms/EntryRow";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import * as z from "zod/mini";
import { client, take, type Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import { faultAt } from "../../shared/faults";
import { counted } from "../../shared/format";
import { ChoiceField, WordsField } from "../../shared/forms/fields";
import { words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { NameCard } from "../../shared/NameCard";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { ValueField } from "../../shared/ValueField";
import { ReleaseTabs } from "./PlanTabs";
import { useRelease } from "./queries";
import { Answer } from "../../shared/Answer";

type Description = Schemas["DescriptionOut"];

/** What is known of a release beside its product sheet, or before there is one: cards, notes, sizes, what else is in it. */
export default function SeenPage() {
  const { release: id = "" } = useParams();
  const path = { release: id };
  const seen = useQuery({
    queryKey: ["stubs", id],
    queryFn: () => take(client.GET("/api/releases/{release}/seen", { params: { path } })),
  });
  const known = useQuery({
    queryKey: ["description", id],
    queryFn: () => take(client.GET("/api/releases/{release}/description", { params: { path } })),
  });
  if (!seen.data) return <Answer of={seen} />;
  if (!known.data) return <Answer of={known} />;
  const data = seen.data;
  const cards = counted(data.cards.length, "card");
  return (
    <PageTitle
      title={data.title}
      plain={
        data.has_sheet
          ? "What is known of it beside its product sheet."
          : `Known as far as seen: ${cards}. A product sheet that is imported later takes them over.`
      }
      crumbs={[{ name: "Products", to: "/products" }, { name: data.title }]}
    >
      {data.has_sheet ? <ReleaseTabs release={id} /> : <About data={data} />}
      <Cards data={data} />
      <Notes release={id} notes={known.data.notes} />
      {data.has_sheet && <Measures release={id} known={known.data} />}
    </PageTitle>
  );
}

const KEYS = ["stubs", "cards", "items", "description", "shelf"];

/** What a release without a sheet is called; with one, the sheet says it. */
function About({ data }: { data: Schemas["StubDetailOut"] }) {
  const navigate = useNavigate();
  const path = { release: data.id };
  const correct = useAct(
    (change: Partial<Schemas["SeenReleaseIn"]>) => {
      const { name, year, series, publisher, code } = data;
      const body = { name, year, series, publisher, code, ...change };
      return take(client.PUT("/api/releases/{release}/seen", { params: { path }, body }));
    },
    { keys: KEYS, quiet: true },
  );
  const remove = useAct(() => take(client.DELETE("/api/releases/{release}", { params: { path } })), {
    keys: KEYS,
    text: "Out of sight; nothing of it is lost.",
    done: () => void navigate("/products"),
  });
  const field = (name: "name" | "series" | "publisher" | "code", label: string, width: number) => (
    <ValueField
      label={label}
      value={data[name] ?? ""}
      commit={(text) => correct.mutate({ [name]: name === "name" ? text : text || null })}
      fault={faultAt(correct.error, name)}
      width={width}
    />
  );
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mb: 1 }}>
      {field("name", "Release", 240)}
      <ValueField
        label="Year"
        value={String(data.year)}
        commit={(text) => correct.mutate({ year: Number(text) || 1 })}
        fault={faultAt(correct.error, "year")}
        width={90}
      />
      {field("series", "Series", 130)}
      {field("publisher", "Publisher", 180)}
      {field("code", "Code", 100)}
      <Box sx={{ flex: 1 }} />
      <Button color="inherit" disabled={remove.isPending} onClick={() => remove.mutate(undefined)}>
        Remove
      </Button>
    </Box>
  );
}

function Cards({ data }: { data: Schemas["StubDetailOut"] }) {
  const [naming, setNaming] = useState(false);
  return (
    <Section title="Cards as they were seen" point="each can be owned, priced and found like any other">
      {data.cards.length === 0 ? (
        <Box sx={{ py: 1, color: "text.secondary" }}>
          None. An edition, a language or an error that the sheet does not tell of is named here.
        </Box>
      ) : (
        <Table label="Cards as they were seen">
          <Heads of={["Line", "number", "Whom it shows", "variant"]} />
          <tbody>
            {data.cards.map((card) => (
              <tr key={`${card.line} ${card.number} ${card.variant}`} data-row>
                <td>
                  <span data-cell>{card.line}</span>
                </td>
                <td>{card.number}</td>
                <td>{card.subject}</td>
                <td>{card.variant}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <Button variant="outlined" color="inherit" sx={{ mt: 1.5 }} onClick={() => setNaming(true)}>
        Name another
      </Button>
      {naming && (
        <NameCard typed="" release={data} close={() => setNaming(false)} named={() => setNaming(false)} />
      )}
    </Section>
  );
}

const KINDS = { fault: "a known fault", telling: "how to tell", other: "other" } as const;

const NOTE = z.object({
  kind: z.pipe(
    words,
    z.transform((kind) => kind as keyof typeof KINDS),
  ),
  text: words,
});

function Notes({ release, notes }: { release: string; notes: Description["notes"] }) {
  const path = { release };
  const { form, submit, busy, faults } = useEntry({
    draft: `note on ${release}`,
    empty: { kind: "fault", text: "" },
    shape: NOTE,
    send: (body) => take(client.POST("/api/releases/{release}/notes", { params: { path }, body })),
    keys: ["description"],
  });
  const drop = useAct(
    (number: number) =>
      take(
        client.DELETE("/api/releases/{release}/notes/{number}", { params: { path: { release, number } } }),
      ),
    { keys: ["description"], text: "Forgotten." },
  );
  return (
    <Section title="Notes" point="faults of the print, how to tell one version from another">
      {notes.map((note) => (
        <Box
          key={note.number}
          sx={{ display: "flex", gap: 1.5, alignItems: "baseline", borderBottom: 1, borderColor: "divider" }}
        >
          <Box sx={{ width: 120, color: "text.secondary", fontSize: 13 }}>{KINDS[note.kind]}</Box>
          <Box sx={{ flex: 1, py: 0.75 }}>
            {note.line && <b>{[note.line, note.card].filter(Boolean).join(" ")}: </b>}
            {note.text}
          </Box>
          <Button
            color="inherit"
            onClick={() => drop.mutate(note.number)}
            aria-label={`Forget: ${note.text}`}
          >
            Forget
          </Button>
        </Box>
      ))}
      <EntryRow submit={submit} busy={busy} faults={faults} act="Note it">
        <ChoiceField control={form.control} name="kind" label="It is" choices={KINDS} width={150} />
        <WordsField control={form.control} name="text" label="What there is to know" width={420} />
      </EntryRow>
    </Section>
  );
}

/** Sizes by line, and what a format always holds beside its cards. */
function Measures({ release, known }: { release: string; known: Description }) {
  const detail = useRelease(release);
  const size = useAct(
    ({ line, text }: { line: string; text: string }) =>
      take(
        client.PUT("/api/releases/{release}/lines/{line}/sizes", {
          params: { path: { release, line } },
          body: { text },
        }),
      ),
    { keys: ["description"], quiet: true },
  );
  const extras = useAct(
    ({ format, things }: { format: string; things: string[] }) =>
      take(
        client.PUT("/api/releases/{release}/formats/{format}/extras", {
          params: { path: { release, format } },
          body: { extras: things },
        }),
      ),
    { keys: ["description"], quiet: true },
  );
  if (!detail.data) return null;
  const sizeOf = (line: string) => known.sizes.find((item) => item.line === line)?.text ?? "";
  const extrasOf = (format: string) => known.extras.find((item) => item.format === format)?.extras ?? [];
  return (
    <>
      <Section title="Sizes" point="63 x 88 x 0.31 mm, 1.8 g; 141 to 150: 70 x 120 mm">
        <Table label="Sizes of the lines">
          <Heads of={["Line", "its cards"]} />
          <tbody>
            {detail.data.lines.map((line) => (
              <tr key={line.id} data-row>
                <td>{line.name}</td>
                <td>
                  <EditableCell
                    value={sizeOf(line.id)}
                    shown={sizeOf(line.id) || "not measured"}
                    label={`Size of ${line.name}`}
                    align="left"
                    width={420}
                    save={(text) => size.mutateAsync({ line: line.id, text })}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Section>
      <Section title="What else is in it" point="fixed things that are no cards, with commas between them">
        <Table label="What else the formats hold">
          <Heads of={["Format", "beside its cards"]} />
          <tbody>
            {detail.data.release.formats.map((format) => (
              <tr key={format.id} data-row>
                <td>{format.name}</td>
                <td>
                  <EditableCell
                    value={extrasOf(format.id).join(", ")}
                    shown={extrasOf(format.id).join(", ") || "nothing"}
                    label={`What else is in the ${format.name}`}
                    align="left"
                    width={420}
                    save={(text) => extras.mutateAsync({ format: format.id, things: text.split(",") })}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Section>
    </>
  );
}
