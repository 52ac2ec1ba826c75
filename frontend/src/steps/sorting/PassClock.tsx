import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useEffect, useState } from "react";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { EntryRow } from "../../shared/forms/EntryRow";
import { CountField } from "../../shared/forms/fields";
import { whole } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { useAct } from "../../shared/useAct";
import { keyed, useOnce } from "../../shared/useOnce";
import { type Plan } from "./plans";

/** The clock over a pass: started, and stopped with how many cards went through. */
export function PassClock({ plan, at }: { plan: Plan; at: number }) {
  const path = { number: plan.number };
  const once = useOnce();
  const start = useAct(
    () =>
      take(
        client.POST("/api/sorting/plans/{number}/clock", {
          params: { path },
          body: { place: at },
          ...keyed(once.key()),
        }),
      ),
    { keys: ["sorting"], done: once.made },
  );
  const isNext =
    plan.running === null && at === plan.passes.findIndex((it) => it.done < it.cards && !it.past);
  useKey("c", "start the clock of the next pass", () => start.mutate(undefined), { on: isNext });
  if (plan.running === at) return <Running plan={plan} since={plan.running_since ?? ""} />;
  if (plan.running !== null) return null;
  return (
    <>
      <Button
        color="inherit"
        data-cell
        aria-label={`start the clock of ${plan.passes[at]?.name}`}
        disabled={start.isPending}
        onClick={() => start.mutate(undefined)}
        sx={{ minWidth: 0, whiteSpace: "nowrap" }}
      >
        start
      </Button>
      {isNext && <Key>C</Key>}
    </>
  );
}

const STOP = z.object({ cards: whole });

function Running({ plan, since }: { plan: Plan; since: string }) {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1_000);
    return () => clearInterval(timer);
  }, []);
  const seconds = Math.max(Math.floor((now - Date.parse(since)) / 1_000), 0);
  const path = { number: plan.number };
  const { form, submit, busy, faults } = useEntry({
    draft: `clock ${plan.number}`,
    empty: { cards: "" },
    shape: STOP,
    send: (body, key) =>
      take(client.PUT("/api/sorting/plans/{number}/clock", { params: { path }, body, ...keyed(key) })),
    keys: ["sorting"],
    text: "The clock stands; the rate has learnt from it.",
    undo: (_, { number }) =>
      take(
        client.DELETE("/api/sorting/plans/{number}/runs/{run}", {
          params: { path: { ...path, run: number } },
        }),
      ),
  });
  return (
    <Box sx={{ textAlign: "left" }}>
      <Box component="span" role="timer" sx={{ fontVariantNumeric: "tabular-nums", fontWeight: 600 }}>
        {Math.floor(seconds / 60)}:{String(seconds % 60).padStart(2, "0")}
      </Box>
      <EntryRow submit={submit} busy={busy} faults={faults} act="Stop" strong>
        <CountField control={form.control} name="cards" label="Cards through" width={90} />
      </EntryRow>
    </Box>
  );
}
