import { EntryRow } from "../../shared/forms/EntryRow";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import * as z from "zod/mini";
import { client, take, type Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import { day } from "../../shared/format";
import { ChoiceField, DayField, WordsField } from "../../shared/forms/fields";
import { maybeDay, maybeWords, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { useAct } from "../../shared/useAct";
import { keyed } from "../../shared/useOnce";
import { useToday } from "../../shared/useToday";

type Redemption = Schemas["RedemptionOut"];
const EMPTY = { item: "", name: "", code: "", choices: "", posted_on: "", due_on: "" };

/** Cards that come by post: the code, what there is to choose, when it was posted, is due and arrived. */
export function Redemptions() {
  const found = useQuery({ queryKey: ["redemptions"], queryFn: () => take(client.GET("/api/redemptions")) });
  const rows = found.data?.redemptions ?? [];
  return (
    <Section id="redemptions" title="Redemptions" point="a print cap is not a count made">
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
  const drop = useAct(() => take(client.DELETE("/api/redemptions/{number}", { params })), {
    keys: ["redemptions"],
    text: `Taken back: ${row.name}.`,
    undo: () => take(client.POST("/api/redemptions/{number}/restore", { params })),
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
  const today = useToday();
  const [shape] = useState(() =>
    z.object({
      item: z.pipe(
        z.string(),
        z.transform((text) => (text ? Number(text) : null)),
      ),
      name: words,
      code: words,
      choices: maybeWords,
      posted_on: maybeDay(today),
      due_on: maybeDay(today),
    }),
  );
  const { form, submit, busy, faults } = useEntry({
    draft: "redemption",
    empty: EMPTY,
    shape,
    send: (body, key) => take(client.POST("/api/redemptions", { body, ...keyed(key) })),
    keys: ["redemptions"],
    text: "Noted.",
  });
  const { control } = form;
  const cards = Object.fromEntries(redeemable.map((card) => [String(card.item), card.name]));
  return (
    <EntryRow submit={submit} busy={busy} faults={faults} act="Note it">
      {redeemable.length > 0 && (
        <ChoiceField
          control={control}
          name="item"
          label="A card in stock that is exchanged"
          choices={{ "": "none of them", ...cards }}
          onChosen={(item) => cards[item] && form.setValue("name", cards[item])}
          width={260}
        />
      )}
      <WordsField control={control} name="name" label="Card" width={220} />
      <WordsField control={control} name="code" label="Code" width={150} />
      <WordsField control={control} name="choices" label="What there is to choose" width={240} />
      <DayField control={control} name="posted_on" label="Posted on" />
      <DayField control={control} name="due_on" label="Due on" />
    </EntryRow>
  );
}
