import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { client, inWords, take } from "../../shared/api/client";
import { FieldRow } from "../../shared/FieldRow";
import { asPercent } from "../../shared/format";
import { readShare } from "../../shared/forms/reading";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { useDraft } from "../../shared/useDraft";
import { ValueField } from "../../shared/ValueField";
import { falling } from "./chances";
import type { Close } from "./queries";

const SHOWN = 5;

/** What the owner says of the grades, in place of what follows from the pictures. */
export function Chances({ data }: { data: Close }) {
  const view = data.graders.find((it) => it.grader === data.grader)!;
  const grades = falling(view.chances)
    .slice(0, SHOWN)
    .map(([grade]) => grade);
  const [typed, setTyped, forget] = useDraft<Record<string, string>>(
    `chances of ${data.item} at ${data.grader}`,
    {},
  );
  const [fault, setFault] = useState("");
  const shown = (grade: string) => typed[grade] ?? asPercent(round(view.chances[grade] ?? 0));
  const say = useAct(
    (chances: Record<string, number> | null) =>
      take(
        client.PUT("/api/items/{number}/grading", {
          params: { path: { number: data.item } },
          body: { grader: data.grader, version: view.said_version, chances },
        }),
      ),
    {
      keys: ["grading"],
      text: "Kept.",
      done: () => {
        forget();
        setTyped({});
      },
      quiet: true,
    },
  );
  const send = () => {
    const chances: Record<string, number> = {};
    for (const grade of grades) {
      const read = readShare(shown(grade));
      if (!("value" in read)) return setFault(`${grade}: ${read.fault}`);
      chances[grade] = Number(read.value);
    }
    setFault("");
    say.mutate(chances);
  };
  return (
    <Section
      title="What you say"
      point={view.said ? "you said so" : "by the pictures, the population and your record"}
    >
      <FieldRow>
        {grades.map((grade) => (
          <ValueField
            key={grade}
            label={`${grade}, %`}
            value={shown(grade)}
            commit={(text) => setTyped({ ...typed, [grade]: text })}
            fault={null}
            inputMode="decimal"
            width={76}
          />
        ))}
        <Button variant="outlined" color="inherit" disabled={say.isPending} onClick={send}>
          Go by these
        </Button>
        {view.said && (
          <Button color="inherit" disabled={say.isPending} onClick={() => say.mutate(null)}>
            By the pictures again
          </Button>
        )}
      </FieldRow>
      {(fault || say.isError) && (
        <Box role="alert" sx={{ color: "error.main", fontSize: 13 }}>
          {fault || inWords(say.error)}
        </Box>
      )}
    </Section>
  );
}

const round = (share: number) => Math.round(share * 1000) / 1000;
