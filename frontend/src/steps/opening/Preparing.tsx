import { useQuery, useQueryClient } from "@tanstack/react-query";
import { client, take } from "../../shared/api/client";
import { Answer } from "../../shared/Answer";
import { StepList, type Step } from "../../shared/StepList";
import { useAct } from "../../shared/useAct";

const KEY = "session-steps";

/** What is done before the first pack is cut; each tick is kept at once. Its key is no letter: those are cards here. */
export function Preparing({ number }: { number: number }) {
  const queryKey = [KEY, number];
  const queries = useQueryClient();
  const steps = useQuery({
    queryKey,
    queryFn: () => take(client.GET("/api/sessions/{number}/steps", { params: { path: { number } } })),
  });
  const tick = useAct(
    ({ step, done }: { step: Step; done: boolean }) =>
      take(
        client.PUT("/api/sessions/{number}/steps/{step}", {
          params: { path: { number, step: step.id } },
          body: { done },
        }),
      ),
    { keys: [] },
  );
  if (!steps.data) return <Answer of={steps} />;
  return (
    <StepList
      title="Before the first pack"
      steps={steps.data.steps}
      letter="."
      tick={(step, done) => {
        // shown at once, whatever the delay; a refusal asks anew
        queries.setQueryData<typeof steps.data>(queryKey, (now) => ({
          steps: (now ?? steps.data).steps.map((known) =>
            known.id === step.id ? { ...known, done } : known,
          ),
        }));
        tick.mutate({ step, done }, { onError: () => void queries.invalidateQueries({ queryKey }) });
      }}
    />
  );
}
