import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { client, take, type Schemas } from "../../shared/api/client";
import { counted, day, money } from "../../shared/format";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { useDayField } from "../../shared/useDayField";
import { useToday } from "../../shared/useToday";
import { ValueField } from "../../shared/ValueField";
import { FieldRow } from "../../shared/FieldRow";
import { KEYS } from "./queries";
import { NOTHING, type Came, type Submission } from "./submission";

type News = Schemas["NewsOut"];

/** How far it is at the grader: its stages, what it asks, and what it says when it is asked. */
export function Under({ data, put }: { data: Submission; put: (typed: Record<number, Came>) => void }) {
  const today = useToday();
  const [news, setNews] = useState<News | null>(null);
  const path = { number: data.number };
  const asOf = useDayField();
  const ask = useAct(
    () => take(client.POST("/api/submissions/{number}/news", { params: { path }, body: { on: asOf.day } })),
    { keys: ["grading"], done: setNews },
  );
  const answer = useAct(
    () =>
      take(client.PUT("/api/submissions/{number}/question", { params: { path }, body: { question: null } })),
    { keys: KEYS, text: "Answered." },
  );
  const bill = useAct(
    (said: News) =>
      take(
        client.POST("/api/submissions/{number}/bills", {
          params: { path },
          body: {
            charges: said.bill.map(({ kind, amount, over }) => ({
              kind,
              amount,
              currency: data.grader_currency,
              day: today,
              purse: "bank",
              rate: null,
              over,
            })),
          },
        }),
      ),
    { keys: KEYS, text: "The bill is booked.", done: () => setNews((now) => now && { ...now, bill: [] }) },
  );
  return (
    <Section
      title="Where it is"
      point={[data.reference, data.tracking && `tracked ${data.tracking}`].filter(Boolean).join(", ")}
    >
      <Box component="ol" sx={{ m: 0, pl: 2.5 }}>
        {data.sent_on && <li>posted on {day(data.sent_on)}</li>}
        {data.stages
          .filter((it) => it.stage !== "on its way there")
          .map((it) => (
            <li key={it.stage}>
              {it.stage} on {day(it.day)}
            </li>
          ))}
      </Box>
      {data.question && (
        <Box role="status" sx={{ mt: 1, borderLeft: 3, borderColor: "tone.marker", pl: 1.25 }}>
          {data.grader_name} asks: {data.question}{" "}
          <Button color="inherit" disabled={answer.isPending} onClick={() => answer.mutate(undefined)}>
            It is answered
          </Button>
        </Box>
      )}
      {data.can_be_asked && data.state === "sent" && (
        <>
          <FieldRow>
            <ValueField
              label="As of"
              {...asOf.field()}
              hint="a later day shows what a simulated grader will say"
              width={150}
            />
            <Button
              variant="outlined"
              color="inherit"
              disabled={ask.isPending || asOf.day === null}
              onClick={() => ask.mutate(undefined)}
            >
              Ask {data.grader_name}
            </Button>
          </FieldRow>
          {/* Its stages come anew first: they stand above, and would move these buttons from under a finger. */}
          {news && !ask.isPending && (
            <Box role="status" sx={{ fontSize: 14 }}>
              {news.grades.length === 0 && <>It is {news.stage ?? "not there yet"}; no grades yet.</>}
              {news.grades.length > 0 && (
                <Button
                  variant="contained"
                  onClick={() =>
                    put(
                      Object.fromEntries(
                        news.grades.map((it) => [
                          it.item,
                          {
                            ...NOTHING,
                            grade: it.grade ?? "",
                            certificate: it.certificate ?? "",
                            subgrades: it.subgrades
                              ? data.subgrades.map((part) => it.subgrades![part]).join("/")
                              : "",
                            words: it.words,
                          },
                        ]),
                      ),
                    )
                  }
                >
                  Write its {counted(news.grades.length, "grade")} below
                </Button>
              )}
              {news.bill.length > 0 && (
                <Box sx={{ mt: 1 }}>
                  It bills {news.bill.map((it) => `${it.name} ${money(it.amount)}`).join("; ")}{" "}
                  {data.grader_currency}.{" "}
                  <Button
                    variant="outlined"
                    color="inherit"
                    disabled={bill.isPending}
                    onClick={() => bill.mutate(news)}
                  >
                    Book the bill
                  </Button>
                </Box>
              )}
              {news.parcels.map((it) => (
                <Box key={it.day}>
                  {counted(it.items.length, "card")} on the way back since {day(it.day)}.
                </Box>
              ))}
            </Box>
          )}
        </>
      )}
    </Section>
  );
}
