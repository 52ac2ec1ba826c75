import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { count, day, money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { Heads, Table } from "../../shared/Table";
import { Trace } from "../../shared/Trace";
import { TwoColumns } from "../../shared/TwoColumns";
import { useDraft } from "../../shared/useDraft";
import { Bills } from "./Bills";
import { Draft } from "./Draft";
import { Owners } from "./Owners";
import { Papers } from "./Papers";
import { Returned } from "./Returned";
import { Under } from "./Under";
import type { Came, Submission } from "./submission";

/** One submission: drafted, posted, under way, billed, back; nothing is rewritten. */
export default function SubmissionPage() {
  const number = Number(useParams().number);
  const found = useQuery({
    queryKey: ["grading", "submission", number],
    queryFn: () => take(client.GET("/api/submissions/{number}", { params: { path: { number } } })),
  });
  if (!found.data) return <Answer of={found} />;
  return <Shown data={found.data} />;
}

function Shown({ data }: { data: Submission }) {
  // what is typed of the grades, also as the grader says them; it outlives a reload
  const [typed, setTyped, forget] = useDraft<Record<number, Came>>(`grades of ${data.number}`, {});
  const isDraft = data.state === "drafted";
  return (
    <PageTitle
      title={`Submission to ${data.grader_name}`}
      verdict={data.verdict}
      crumbs={[
        { name: "Grading", to: "/grading" },
        { name: `${data.grader_name}, ${day(data.sent_on ?? data.day)}` },
      ]}
    >
      <TwoColumns
        main={
          <>
            {isDraft ? <Draft data={data} /> : <Under data={data} put={setTyped} />}
            {!isDraft && <Returned data={data} typed={typed} put={setTyped} forget={forget} />}
            {!isDraft && <Bills data={data} />}
            <Trace of="submission" history={data.history} />
          </>
        }
        aside={
          <>
            <Costs data={data} />
            <Parcels data={data} />
            <Papers data={data} />
            <Owners data={data} />
          </>
        }
      />
    </PageTitle>
  );
}

function Costs({ data }: { data: Submission }) {
  if (data.total !== null)
    return (
      <Section title="What it will cost" point={data.currency}>
        <Figures
          rows={[
            ...data.parts.map((it): readonly [string, string] => [it.name, money(it.amount)]),
            ["In all", money(data.total)],
            ["A card", money(data.per_card)],
            ...(data.gap !== null && Number(data.gap) > 0
              ? [["Not insured of the parcel", <b key="gap">{money(data.gap)}</b>] as const]
              : []),
          ]}
        />
      </Section>
    );
  if (data.against.length === 0) return null;
  return (
    <Section title="Planned and billed" point={data.currency}>
      <Table label="Planned and billed">
        <Heads of={["for", { figure: "planned" }, { figure: "billed" }, { figure: "more" }]} />
        <tbody>
          {data.against.map((it) => (
            <tr key={it.kind} data-row>
              <td data-cell>{it.kind}</td>
              <td className="figure">{it.planned === null ? "not" : money(it.planned)}</td>
              <td className="figure">{it.billed === null ? "not yet" : money(it.billed)}</td>
              <td className="figure">{it.billed === null ? "" : money(it.difference)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      {data.unexplained !== null && Number(data.unexplained) !== 0 && (
        <Aside>{money(data.unexplained)} of the duty is not what the grader’s profile explains.</Aside>
      )}
    </Section>
  );
}

function Parcels({ data }: { data: Submission }) {
  if (data.parcels.length === 0) return null;
  return (
    <Section title="Parcels" point={data.carrier ?? ""}>
      <Table label="Parcels">
        <Heads of={["parcel", { figure: "cards" }, "when"]} />
        <tbody>
          {data.parcels.map((it, at) => (
            <tr key={at} data-row>
              <td>
                <span data-cell>{it.direction === "out" ? "out" : "back"}</span>
                {it.tracking && <Box sx={{ fontSize: 12, color: "text.secondary" }}>{it.tracking}</Box>}
              </td>
              <td className="figure">{count(it.things)}</td>
              <td>
                {it.received_on ? day(it.received_on) : it.sent_on ? day(it.sent_on) : ""}
                {it.due_on && data.state === "sent" && `, due ${day(it.due_on)}`}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Section>
  );
}
