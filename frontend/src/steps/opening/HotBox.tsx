import Box from "@mui/material/Box";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, inWords, take } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { FieldRow } from "../../shared/FieldRow";
import { percent } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { ValueField } from "../../shared/ValueField";
import type { Opening } from "./entering";

const wrong = (text: string) => (text === "" || Number(text) > 1 ? null : "more than 1");

/** Whether this box may be a hot one: by Bayes, from what the owner believes of such boxes. */
export function HotBox({ data }: { data: Opening }) {
  const lines = data.results.filter((item) => item.rate > 0 && item.promised === null);
  const [line, setLine] = useState("");
  const [oneIn, setOneIn] = useState("");
  const [times, setTimes] = useState("");
  const fine = Number(oneIn) > 1 && Number(times) > 1;
  const query = { line, one_in: Number(oneIn), times: Number(times) };
  const packs = `${data.current_pack} ${data.pulls.length}`; // asked anew as the session goes on
  const hot = useQuery({
    queryKey: ["sessions", data.number, "hot", query, packs],
    queryFn: () =>
      take(client.GET("/api/sessions/{number}/hot", { params: { path: { number: data.number }, query } })),
    enabled: line !== "" && fine,
    placeholderData: keepPreviousData,
    retry: false,
  });
  if (lines.length === 0) return null;
  return (
    <Section title="Is it a hot box?" point="if you believe in them">
      <FieldRow>
        <ChoiceBox
          label="Line"
          value={line}
          set={setLine}
          width={240}
          choices={Object.fromEntries(lines.map((item) => [item.line, item.name]))}
        />
        <ValueField
          label="One box in"
          value={oneIn}
          commit={setOneIn}
          fault={wrong(oneIn)}
          hint="usually 20 or so"
          inputMode="decimal"
          width={120}
        />
        <ValueField
          label="holds times as many"
          value={times}
          commit={setTimes}
          fault={wrong(times)}
          hint="usually 2 to 4"
          inputMode="decimal"
          width={150}
        />
      </FieldRow>
      {hot.isError && <Aside>{inWords(hot.error)}</Aside>}
      {hot.data && line !== "" && fine && (
        <Box>
          <b>{percent(hot.data.chance)}</b> that it is one: {hot.data.hits} of {hot.data.packs} packs held
          one.
        </Box>
      )}
    </Section>
  );
}
