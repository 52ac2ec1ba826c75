import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, take, type Schemas } from "../../shared/api/client";
import { day } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Table } from "../../shared/Table";
import { useToday } from "../../shared/useToday";
import { useAct } from "../../shared/useAct";

/** Cards that come by post: the code, when it was posted and is due, and whether it arrived. */
export function Redemptions() {
  const today = useToday();
  const found = useQuery({ queryKey: ["redemptions"], queryFn: () => take(client.GET("/api/redemptions")) });
  const [draft, setDraft] = useState({ name: "", code: "", due_on: "" });
  const add = useAct(
    () =>
      take(
        client.POST("/api/redemptions", {
          body: { name: draft.name, code: draft.code, due_on: draft.due_on || null },
        }),
      ),
    { keys: ["redemptions"], done: () => setDraft({ name: "", code: "", due_on: "" }) },
  );
  const arrive = useAct(
    (row: Schemas["RedemptionOut"]) => {
      const { number, ...rest } = row;
      return take(
        client.PUT("/api/redemptions/{number}", {
          params: { path: { number } },
          body: { ...rest, arrived_on: row.arrived_on ? null : today },
        }),
      );
    },
    { keys: ["redemptions"] },
  );
  return (
    <Section title="Redemptions" point="a print cap is not a count made">
      {found.data && found.data.redemptions.length > 0 && (
        <Table label="Redemptions">
          <thead>
            <tr>
              <th>Card</th>
              <th>Code</th>
              <th>Due</th>
              <th>Arrived</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {found.data.redemptions.map((row) => (
              <tr key={row.number} data-row>
                <td>{row.name}</td>
                <td>{row.code}</td>
                <td>{row.due_on ? day(row.due_on) : "not said"}</td>
                <td>{row.arrived_on ? day(row.arrived_on) : "not yet"}</td>
                <td className="figure">
                  <Button color="inherit" data-cell onClick={() => arrive.mutate(row)} sx={{ py: 0 }}>
                    {row.arrived_on ? "Not arrived" : "It arrived"}
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <Box sx={{ display: "flex", gap: 2, mt: 1.5, flexWrap: "wrap" }}>
        <TextField
          label="Card"
          value={draft.name}
          onChange={(event) => setDraft({ ...draft, name: event.target.value })}
        />
        <TextField
          label="Code"
          value={draft.code}
          onChange={(event) => setDraft({ ...draft, code: event.target.value })}
        />
        <TextField
          label="Due on"
          type="date"
          value={draft.due_on}
          onChange={(event) => setDraft({ ...draft, due_on: event.target.value })}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <Button
          variant="outlined"
          color="inherit"
          disabled={!draft.name.trim() || !draft.code.trim()}
          onClick={() => add.mutate(undefined)}
        >
          Note it
        </Button>
      </Box>
    </Section>
  );
}
