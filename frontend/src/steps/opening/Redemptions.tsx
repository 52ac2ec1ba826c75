import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { client, take, type Schemas } from "../../shared/api/client";
import { DAY_FIELD } from "../../shared/dayField";
import { EditableCell } from "../../shared/EditableCell";
import { refused } from "../../shared/faults";
import { day } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { keyed, useOnce } from "../../shared/useOnce";
import { useToday } from "../../shared/useToday";

type Redemption = Schemas["RedemptionOut"];
const EMPTY = { item: "", name: "", code: "", choices: "", posted_on: "", due_on: "" };

/** Cards that come by post: the code, what there is to choose, when it was posted, is due and arrived. */
export function Redemptions() {
  const found = useQuery({ queryKey: ["redemptions"], queryFn: () => take(client.GET("/api/redemptions")) });
  const rows = found.data?.redemptions ?? [];
  return (
    <Section title="Redemptions" point="a print cap is not a count made">
      {rows.length > 0 && (
        <Table label="Redemptions">
          <Heads
            of={["Card", "Code", "To choose", "Chosen", "Posted", "Due", "Arrived", { hidden: "actions" }]}
          />
          <tbody>
            {rows.map((row) => (
              <Row key={row.number} row={row} />
            ))}
          </tbody>
        </Table>
      )}
      <Fresh redeemable={found.data?.redeemable ?? []} />
    </Section>
  );
}

function Row({ row }: { row: Redemption }) {
  const today = useToday();
  const change = useAct(
    (part: Partial<Schemas["RedemptionChange"]>) => {
      const { number, ...rest } = row;
      return take(
        client.PUT("/api/redemptions/{number}", {
          params: { path: { number } },
          body: { ...rest, ...part },
        }),
      );
    },
    { keys: ["redemptions", "items"] },
  );
  const params = { path: { number: row.number } };
  const restore = useAct(() => take(client.POST("/api/redemptions/{number}/restore", { params })), {
    keys: ["redemptions"],
    text: `There again: ${row.name}.`,
  });
  const drop = useAct(() => take(client.DELETE("/api/redemptions/{number}", { params })), {
    keys: ["redemptions"],
    text: `Taken back: ${row.name}.`,
    undo: () => restore.mutateAsync(undefined),
  });
  const cell = (
    name: "choices" | "chosen" | "posted_on" | "due_on",
    label: string,
    width: number,
    empty = "not said",
  ) => (
    <td>
      <EditableCell
        value={row[name] ?? ""}
        shown={row[name] ? (name.endsWith("_on") ? day(row[name]) : row[name]) : empty}
        label={`${label} of ${row.name}`}
        align="left"
        width={width}
        save={(text) => change.mutateAsync({ [name]: text.trim() || null })}
      />
    </td>
  );
  return (
    <tr data-row>
      <td>{row.item ? <Link to={`/stock/${row.item}`}>{row.name}</Link> : row.name}</td>
      <td>{row.code}</td>
      {cell("choices", "Choices", 150)}
      {cell("chosen", "What was chosen", 130, "not yet")}
      {cell("posted_on", "Day of posting", 100, "not yet")}
      {cell("due_on", "Day due", 100)}
      <td>{row.arrived_on ? day(row.arrived_on) : "not yet"}</td>
      <td className="figure">
        <Button
          color="inherit"
          data-cell
          onClick={() => change.mutate({ arrived_on: row.arrived_on ? null : today })}
          sx={{ py: 0 }}
        >
          {row.arrived_on ? "Not arrived" : "It arrived"}
        </Button>
        {!row.arrived_on && (
          <Button
            color="inherit"
            data-cell
            aria-label={`Take back: ${row.name}`}
            onClick={() => drop.mutate(undefined)}
            sx={{ py: 0, minWidth: 0 }}
          >
            take back
          </Button>
        )}
      </td>
    </tr>
  );
}

function Fresh({ redeemable }: { redeemable: Schemas["RedeemableOut"][] }) {
  const [typed, setTyped] = useState(EMPTY);
  const once = useOnce();
  const add = useAct(
    () => {
      const { item, ...words } = typed;
      const orNull = (text: string) => text.trim() || null;
      return take(
        client.POST("/api/redemptions", {
          body: {
            item: item ? Number(item) : null,
            name: words.name.trim(),
            code: words.code.trim(),
            choices: orNull(words.choices),
            posted_on: orNull(words.posted_on),
            due_on: orNull(words.due_on),
          },
          ...keyed(once.key()),
        }),
      );
    },
    {
      keys: ["redemptions"],
      text: "Noted.",
      done: () => {
        setTyped(EMPTY);
        once.made();
      },
      quiet: true,
    },
  );
  const field = (name: Exclude<keyof typeof EMPTY, "item">, label: string, width: number) => (
    <TextField
      label={label}
      value={typed[name]}
      onChange={(event) => setTyped({ ...typed, [name]: event.target.value })}
      {...refused(add.error, name)}
      {...(name.endsWith("_on") ? DAY_FIELD : {})}
      sx={{ width }}
    />
  );
  return (
    <Box sx={{ display: "flex", gap: 1.5, mt: 1.5, flexWrap: "wrap", alignItems: "flex-start" }}>
      {redeemable.length > 0 && (
        <TextField
          select
          label="A card in stock that is exchanged"
          value={typed.item}
          onChange={(event) => {
            const chosen = redeemable.find((card) => String(card.item) === event.target.value);
            setTyped({ ...typed, item: event.target.value, name: chosen?.name ?? typed.name });
          }}
          sx={{ width: 260 }}
        >
          <MenuItem value="">none of them</MenuItem>
          {redeemable.map((card) => (
            <MenuItem key={card.item} value={String(card.item)}>
              {card.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {field("name", "Card", 220)}
      {field("code", "Code", 150)}
      {field("choices", "What there is to choose", 260)}
      {field("posted_on", "Posted on", 150)}
      {field("due_on", "Due on", 150)}
      <Button
        variant="outlined"
        color="inherit"
        disabled={!typed.name.trim() || !typed.code.trim() || add.isPending}
        onClick={() => add.mutate(undefined)}
      >
        Note it
      </Button>
    </Box>
  );
}
