import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, inWords, take } from "../../shared/api/client";
import { percent } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import type { Opening } from "./entering";

/** Whether this box may be a hot one: by Bayes, from what the owner believes of such boxes. */
export function HotBox({ data }: { data: Opening }) {
  const lines = data.results.filter((item) => item.rate > 0 && item.rate < 1);
  const [line, setLine] = useState("");
  const [oneIn, setOneIn] = useState("20");
  const [times, setTimes] = useState("3");
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
      <Box sx={{ display: "flex", flexWrap: "wrap", columnGap: 1, rowGap: 2, my: 1.5 }}>
        <TextField
          select
          label="Line"
          value={line}
          onChange={(event) => setLine(event.target.value)}
          sx={{ width: "100%" }}
        >
          {lines.map((item) => (
            <MenuItem key={item.line} value={item.line}>
              {item.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          label="One box in"
          value={oneIn}
          onChange={(event) => setOneIn(event.target.value)}
          error={!(Number(oneIn) > 1)}
          sx={{ width: 110 }}
        />
        <TextField
          label="holds times as many"
          value={times}
          onChange={(event) => setTimes(event.target.value)}
          error={!(Number(times) > 1)}
          sx={{ width: 150 }}
        />
      </Box>
      {!fine && <Aside>Both are more than 1.</Aside>}
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
