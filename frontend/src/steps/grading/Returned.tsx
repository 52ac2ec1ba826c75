import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Link } from "react-router";
import { client, inWords, take } from "../../shared/api/client";
import { CardSearch, cardName } from "../../shared/CardSearch";
import { faultAt } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { counted, money, percent } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { useDraft } from "../../shared/useDraft";
import { useDayField } from "../../shared/useDayField";
import { ValueField } from "../../shared/ValueField";
import { gemOf, likeliest } from "./chances";
import { KEYS } from "./queries";
import { NOTHING, toGrades, type Came, type SentCard, type Submission } from "./submission";

interface Props {
  data: Submission;
  typed: Readonly<Record<number, Came>>;
  put: (typed: Record<number, Came>) => void;
  forget: () => void;
}

/** The cards with what was thought of them and what came of them; grades are typed, pasted, or taken from the grader. */
export function Returned({ data, typed, put, forget }: Props) {
  const [tracking, setTracking] = useState("");
  const grades = data.grades.length > 0;
  const away = data.cards.filter((it) => it.state === "away");
  const set = (item: number, change: Partial<Came>) =>
    put({ ...typed, [item]: { ...NOTHING, ...typed[item], ...change } });
  const said = toGrades(away, typed, data.subgrades);
  const back = useDayField();
  const send = useAct(
    () =>
      take(
        client.POST("/api/submissions/{number}/grades", {
          params: { path: { number: data.number } },
          body: { day: back.day!, cards: said, tracking: tracking.trim() || null },
        }),
      ),
    {
      keys: KEYS,
      text: (done) => (done.state === "done" ? "All of it is back." : "Taken in."),
      done: () => {
        forget();
        put({});
        setTracking("");
      },
      quiet: true,
    },
  );
  const first = grades ? "grade" : "words";
  const fault = (item: number) =>
    faultAt(send.error, `cards.${item}.grade`) ?? faultAt(send.error, `cards.${item}.subgrades`);
  const likely = (card: SentCard) => likeliest(card.chances)?.[0] ?? "";
  const others = send.isError && !data.cards.some((it) => fault(it.item)) && !faultAt(send.error, "day");
  return (
    <Section title="What came back" point={grades ? "against what was thought of it" : ""}>
      <Table label="Cards of the submission">
        <Heads
          of={[
            { figure: "No." },
            "card",
            ...(grades ? [{ figure: "you said" }, "grade"] : ["came back"]),
            "certificate",
            ...(data.subgrades.length > 0 ? ["subgrades"] : []),
            ...(away.length > 0 ? [grades ? "or in words" : "in words"] : []),
            ...(away.length > 0 && !grades ? ["as another version"] : []),
            { figure: "carries" },
          ]}
        />
        <tbody>
          {data.cards.map((card) => {
            const now = typed[card.item] ?? NOTHING;
            const isAway = card.state === "away";
            const cell = (
              name: "grade" | "certificate" | "subgrades" | "words",
              label: string,
              width: number,
            ) => (
              <TextField
                variant="standard"
                value={now[name]}
                onChange={(event) => set(card.item, { [name]: event.target.value })}
                error={name === first && fault(card.item) !== undefined}
                helperText={name === first ? fault(card.item) : undefined}
                placeholder={PLACES[name]}
                slotProps={{ htmlInput: { "aria-label": `${label} of ${card.name}`, "data-cell": true } }}
                sx={{ width }}
              />
            );
            return (
              <tr key={card.item} data-row>
                <td className="figure">{card.line}</td>
                <td>
                  <Link to={`/stock/${card.item}`}>{card.name}</Link>
                  {card.owner && ` (${card.owner}’s)`}
                  {card.cracked && " cracked out since"}
                  {card.grade && !card.cracked && (
                    <>
                      {" "}
                      <Link to={`/grading/-/opinion/${card.item}`}>what now?</Link>
                    </>
                  )}
                </td>
                {grades && (
                  <td className="figure" title="the likeliest grade, and the chance of the top one">
                    {likely(card)}
                    <Box component="span" sx={{ color: "text.secondary" }}>
                      {" "}
                      top {percent(gemOf(card.chances))}
                    </Box>
                  </td>
                )}
                <td>
                  {isAway && !grades ? (
                    "away"
                  ) : isAway ? (
                    cell("grade", "Grade", 56)
                  ) : (
                    <b>
                      {card.grade ?? (grades ? OUTCOMES : BACK)[card.state] ?? card.state.replace("_", " ")}
                    </b>
                  )}
                </td>
                <td>{isAway ? cell("certificate", "Certificate", 92) : card.certificate}</td>
                {data.subgrades.length > 0 && (
                  <td>
                    {isAway
                      ? cell("subgrades", `Subgrades (${data.subgrades.join(" / ")})`, 104)
                      : data.subgrades.map((part) => card.subgrades?.[part] ?? "").join(" / ")}
                  </td>
                )}
                {away.length > 0 && <td>{isAway ? cell("words", "What came of it, in words:", 104) : ""}</td>}
                {away.length > 0 && !grades && (
                  <td>
                    {isAway && (
                      <CardSearch
                        label={`Another version: ${card.name}`}
                        value={now.called}
                        type={(called) => set(card.item, { called, is: null })}
                        pick={({ release, line, number, variant, ...found }) =>
                          set(card.item, {
                            called: cardName({ release, line, number, variant, ...found }),
                            is: { release, line, number, variant },
                          })
                        }
                        width={220}
                      />
                    )}
                  </td>
                )}
                <td className="figure">
                  {[
                    card.carried === null ? null : money(card.carried),
                    card.value === null ? null : `worth ${money(card.value)}`,
                  ]
                    .filter(Boolean)
                    .join(" · ")}
                </td>
              </tr>
            );
          })}
        </tbody>
      </Table>
      {away.length > 0 && (
        <>
          <FieldRow>
            <ValueField label="Back on" {...back.field(faultAt(send.error, "day"))} width={130} />
            <ValueField
              label="Tracking number back"
              value={tracking}
              commit={setTracking}
              hint="what came in one parcel"
              width={170}
            />
            <Button
              variant="contained"
              disabled={said.length === 0 || back.day === null || send.isPending}
              onClick={() => send.mutate(undefined)}
            >
              Take in {counted(said.length, "card")}
            </Button>
          </FieldRow>
          {others && (
            <Box role="alert" sx={{ color: "error.main" }}>
              {inWords(send.error)}
            </Box>
          )}
          {grades && <Pasting data={data} put={put} />}
        </>
      )}
    </Section>
  );
}

const PLACES: Partial<Record<keyof Came, string>> = { words: "damaged, lost", subgrades: "9/9/9.5/9" };
const OUTCOMES: Record<string, string> = { held: "no grade", sold: "sold" };
const BACK: Record<string, string> = { held: "back", sold: "sold" };

function Pasting({ data, put }: { data: Submission; put: (typed: Record<number, Came>) => void }) {
  const [text, setText] = useDraft(`paste of ${data.number}`, "");
  const read = useAct(
    () =>
      take(
        client.POST("/api/submissions/{number}/read", {
          params: { path: { number: data.number } },
          body: { text },
        }),
      ),
    {
      keys: [],
      quiet: true,
      done: ({ cards }) =>
        put(
          Object.fromEntries(
            cards.map((it) => [
              it.item,
              {
                ...NOTHING,
                grade: it.grade ?? "",
                certificate: it.certificate ?? "",
                subgrades: it.subgrades ? data.subgrades.map((part) => it.subgrades![part]).join("/") : "",
                words: it.words,
              },
            ]),
          ),
        ),
    },
  );
  return (
    <Box sx={{ mt: 1, maxWidth: 560 }}>
      <TextField
        label="Or paste the list: number on the form, grade, certificate"
        value={text}
        onChange={(event) => setText(event.target.value)}
        multiline
        minRows={2}
        fullWidth
        error={read.isError}
        helperText={read.isError ? inWords(read.error) : "1; 9; 47110815"}
      />
      <Button
        color="inherit"
        disabled={!text.trim() || read.isPending}
        onClick={() => read.mutate(undefined)}
      >
        Read it into the fields above
      </Button>
    </Box>
  );
}
