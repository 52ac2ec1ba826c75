import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { FieldRow } from "../../shared/FieldRow";
import { Figures } from "../../shared/Figures";
import { readShare } from "../../shared/forms/reading";
import { begun, toBody, type Lines } from "../../shared/lines";
import { MeasuringPicture } from "../../shared/MeasuringPicture";
import { PageTitle } from "../../shared/PageTitle";
import { fileOf } from "../../shared/photos";
import { Section } from "../../shared/Section";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { useDraft } from "../../shared/useDraft";
import { ValueField } from "../../shared/ValueField";
import { GradingTabs } from "./GradingTabs";

type Training = Schemas["TrainingOut"];

/** Training the eye: borders of simulated scans, and own cards whose grade came back. */
export default function EyePage() {
  const found = useQuery({
    queryKey: ["grading", "training"],
    queryFn: () => take(client.GET("/api/grading/training")),
    staleTime: Infinity, // the next one comes when it is asked for
  });
  if (!found.data) return <Answer of={found} />;
  const data = found.data;
  return (
    <PageTitle
      title="Train your eye"
      verdict={data.verdict}
      crumbs={[{ name: "Grading", to: "/grading" }, { name: "Train your eye" }]}
    >
      <GradingTabs />
      <TwoColumns
        main={
          <>
            <Borders key={data.seed} data={data} />
            {data.replay && <Replay key={data.replay.item} replay={data.replay} />}
          </>
        }
        aside={
          <Section title="So far" point={`${data.eye.trials} scans`}>
            <Figures
              rows={[
                ...(["left_right", "top_bottom"] as const).flatMap((name) => {
                  const bias = data.eye[name];
                  return bias
                    ? [
                        [
                          name === "left_right" ? "At the left" : "At the top",
                          `${bias.mean >= 0 ? "+" : "−"}${Math.abs(bias.mean).toFixed(2)} ± ${bias.half.toFixed(2)}`,
                        ] as const,
                      ]
                    : [];
                }),
                ["Cards judged", String(data.said)],
                ["Their Brier score", data.brier === null ? "none yet" : data.brier.toFixed(3)],
              ]}
            />
            <Errors errors={data.errors} />
          </Section>
        }
      />
    </PageTitle>
  );
}

/** The errors over time, one dot for each scan: left to right as they came. */
function Errors({ errors }: { errors: readonly (readonly number[])[] }) {
  if (errors.length === 0) return null;
  const size = Math.max(...errors.flat().map(Math.abs), 1);
  const last = errors.slice(-40);
  return (
    <Box
      component="svg"
      viewBox="0 -52 284 104"
      role="img"
      aria-label={`Errors at the left of the last ${last.length} scans, within ${size.toFixed(1)} points`}
      sx={{ width: 1, mt: 1.5 }}
    >
      <line x1={0} x2={284} y1={0} y2={0} stroke="var(--mui-palette-tone-rule)" />
      {last.map(([left], at) => (
        <circle
          key={at}
          cx={6 + (at * 272) / Math.max(last.length - 1, 1)}
          cy={-(left! / size) * 46}
          r={3}
          fill="var(--mui-palette-tone-gain)"
        />
      ))}
    </Box>
  );
}

function Borders({ data }: { data: Training }) {
  const [lines, setLines, forget] = useDraft<Lines>(`training ${data.seed}`, begun(data.width, data.height));
  const [truth, setTruth] = useState<Schemas["BordersOut"] | null>(null);
  const judge = useAct(
    () =>
      take(
        client.POST("/api/grading/training/borders", {
          body: { seed: data.seed, ...toBody(lines) },
        }),
      ),
    { keys: [], done: setTruth },
  );
  const next = useAct(() => Promise.resolve(forget()), { keys: ["grading"] });
  return (
    <Section title="Where are the borders?" point="move the lines to the edge and to the printed frame">
      <Box sx={{ maxWidth: 420 }}>
        <MeasuringPicture
          src={`/api/grading/training/${data.seed}`}
          label="A simulated scan"
          width={data.width}
          height={data.height}
          lines={lines}
          set={(fresh) => truth === null && setLines(fresh)}
        />
      </Box>
      {truth === null ? (
        <Button variant="contained" disabled={judge.isPending} onClick={() => judge.mutate(undefined)}>
          That is where they are
        </Button>
      ) : (
        <Box role="status">
          <Figures
            rows={[
              ["You: left, top", `${truth.placed[0]!.toFixed(1)} %, ${truth.placed[1]!.toFixed(1)} %`],
              ["It is", `${truth.known[0]!.toFixed(1)} %, ${truth.known[1]!.toFixed(1)} %`],
            ]}
          />
          <Button variant="contained" onClick={() => next.mutate(undefined)} sx={{ mt: 1 }}>
            The next one
          </Button>
        </Box>
      )}
    </Section>
  );
}

const SHOWN = 4;

function Replay({ replay }: { replay: NonNullable<Training["replay"]> }) {
  const grades = replay.grades.slice(0, SHOWN);
  const [typed, setTyped, forget] = useDraft<Record<string, string>>(`replay ${replay.item}`, {});
  const [fault, setFault] = useState("");
  const [truth, setTruth] = useState<string | null>(null);
  const judge = useAct(
    (chances: Record<string, number>) =>
      take(client.POST("/api/grading/training/card", { body: { item: replay.item, chances } })),
    { keys: [], done: ({ grade }) => setTruth(grade) },
  );
  const next = useAct(() => Promise.resolve(forget()), { keys: ["grading"] });
  const send = () => {
    const chances: Record<string, number> = {};
    for (const grade of grades) {
      const read = readShare(typed[grade] ?? "0");
      if (!("value" in read)) return setFault(`${grade}: ${read.fault}`);
      chances[grade] = Number(read.value);
    }
    setFault("");
    judge.mutate(chances);
  };
  return (
    <Section title="What did it get?" point={`one of yours, at ${replay.grader}`}>
      <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap" }}>
        {[replay.front, replay.back].map(
          (photo, at) =>
            photo !== null && (
              <Box
                key={photo}
                component="img"
                src={fileOf(photo)}
                alt={at === 0 ? "The front" : "The back"}
                sx={{ width: 200, maxWidth: "46%" }}
              />
            ),
        )}
      </Box>
      {truth === null ? (
        <FieldRow>
          {grades.map((grade) => (
            <ValueField
              key={grade}
              label={`${grade}, %`}
              value={typed[grade] ?? ""}
              commit={(text) => setTyped({ ...typed, [grade]: text })}
              inputMode="decimal"
              width={76}
            />
          ))}
          <Button variant="outlined" color="inherit" disabled={judge.isPending} onClick={send}>
            Say so
          </Button>
        </FieldRow>
      ) : (
        <Box role="status" sx={{ mt: 1 }}>
          It came back as <b>{truth}</b>.{" "}
          <Button color="inherit" onClick={() => next.mutate(undefined)}>
            The next one
          </Button>
        </Box>
      )}
      {fault && (
        <Box role="alert" sx={{ color: "error.main", fontSize: 13 }}>
          {fault}
        </Box>
      )}
    </Section>
  );
}
