import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { client, take } from "./api/client";
import { faultAt } from "./faults";
import { FieldRow } from "./FieldRow";
import { count } from "./format";
import { readAmount } from "./forms/reading";
import { Section } from "./Section";
import { useAct } from "./useAct";
import { useDraft } from "./useDraft";
import { ValueField } from "./ValueField";

/** Time that a document took: by a clock that runs on over reloads, or by hand. */
export function Minutes({ document }: { document: number }) {
  const [begun, begin, forget] = useDraft<number | null>(`clock of ${document}`, null);
  const [typed, setTyped] = useState("");
  const [now, setNow] = useState(() => Date.now());
  const found = useQuery({
    queryKey: ["minutes", document],
    queryFn: () =>
      take(client.GET("/api/documents/{number}/minutes", { params: { path: { number: document } } })),
  });
  useEffect(() => {
    if (begun === null) return undefined;
    const timer = setInterval(() => setNow(Date.now()), 1000);
    return () => clearInterval(timer);
  }, [begun]);
  const log = useAct(
    (minutes: string) =>
      take(
        client.POST("/api/documents/{number}/minutes", {
          params: { path: { number: document } },
          body: { minutes, what: "" },
        }),
      ),
    { keys: ["minutes", "books"], text: "It is logged.", done: () => setTyped(""), quiet: true },
  );
  const read = readAmount(typed);
  const stop = () => {
    if (begun === null) return;
    const minutes = Math.max((Date.now() - begun) / 60_000, 0.1);
    begin(null);
    forget();
    log.mutate(minutes.toFixed(1));
  };
  const running = begun === null ? null : Math.max(Math.floor((now - begun) / 1000), 0);
  return (
    <Section title="Time" point={found.data ? `${Number(found.data.minutes)} minutes so far` : ""}>
      <FieldRow>
        <Button
          color="inherit"
          variant="outlined"
          disabled={log.isPending}
          onClick={() => {
            setNow(Date.now());
            if (begun === null) begin(Date.now());
            else stop();
          }}
          sx={{ mt: "20px" }}
        >
          {running === null
            ? "Start the clock"
            : `Stop it at ${count(Math.floor(running / 60))}:${String(running % 60).padStart(2, "0")}`}
        </Button>
        <ValueField
          label="Minutes, by hand"
          value={typed}
          commit={(text) => {
            setTyped(text);
            const said = readAmount(text);
            if ("value" in said) log.mutate(said.value);
          }}
          fault={typed && "fault" in read ? read.fault : (faultAt(log.error, "minutes") ?? null)}
          inputMode="decimal"
          width={120}
        />
      </FieldRow>
      {log.error && !faultAt(log.error, "minutes") && <Box role="alert">{log.error.message}</Box>}
    </Section>
  );
}
