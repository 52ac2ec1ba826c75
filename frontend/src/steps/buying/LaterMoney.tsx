import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { client, take } from "../../shared/api/client";
import { DAY_FIELD } from "../../shared/dayField";
import { otherFaults, refused } from "../../shared/faults";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { useToday } from "../../shared/useToday";
import { CHARGES } from "./draft";
import { KEYS, type Purchase } from "./queries";

const KINDS = { refund: "a refund", ...Object.fromEntries(CHARGES.map((kind) => [kind, kind])) };
const SHOWN = ["amount", "currency", "day", "purse", "rate"];

/** Money that moves after a purchase was booked: a refund lowers what is left of its cost, duty that comes later raises it. */
export function LaterMoney({ data, home }: { data: Purchase; home: string }) {
  const today = useToday();
  const empty = { kind: "refund", amount: "", currency: data.charges[0]?.currency ?? home, rate: "" };
  const [typed, setTyped] = useState({ ...empty, day: today, purse: data.charges[0]?.purse ?? "bank" });
  const book = useAct(
    () => {
      const { kind, rate, ...rest } = typed;
      const params = { path: { number: data.number } };
      const body = {
        ...rest,
        amount: typed.amount.trim(),
        version: data.version,
        rate: typed.currency !== home && rate.trim() ? rate.trim() : null,
      };
      return kind === "refund"
        ? take(client.POST("/api/purchases/{number}/refund", { params, body }))
        : take(
            client.POST("/api/purchases/{number}/charges", {
              params,
              body: { ...body, kind: kind as (typeof CHARGES)[number] },
            }),
          );
    },
    {
      keys: KEYS,
      text: typed.kind === "refund" ? "Refund booked." : "Booked.",
      done: () => setTyped({ ...typed, amount: "" }),
      quiet: true,
    },
  );
  const field = (name: "amount" | "currency" | "rate" | "day" | "purse", label: string, width: number) => (
    <TextField
      label={label}
      value={typed[name]}
      onChange={(event) =>
        setTyped({
          ...typed,
          [name]: name === "currency" ? event.target.value.toUpperCase() : event.target.value,
        })
      }
      {...refused(book.error, name)}
      {...(name === "day" ? DAY_FIELD : {})}
      sx={{ width }}
    />
  );
  return (
    <Section title="Money that moves later" point="refund, duty, return postage">
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.25, mt: 1.5, alignItems: "flex-start" }}>
        <TextField
          select
          label="What"
          value={typed.kind}
          onChange={(event) => setTyped({ ...typed, kind: event.target.value })}
          sx={{ width: 135 }}
        >
          {Object.entries(KINDS).map(([kind, words]) => (
            <MenuItem key={kind} value={kind}>
              {words}
            </MenuItem>
          ))}
        </TextField>
        {field("amount", "Amount", 105)}
        {field("currency", "in", 72)}
        {typed.currency !== home && field("rate", `Rate, ${home} for one`, 150)}
        {field("day", "On", 150)}
        {field("purse", typed.kind === "refund" ? "Into" : "Paid from", 110)}
        <Button
          variant="outlined"
          color="inherit"
          disabled={!typed.amount.trim() || book.isPending}
          onClick={() => book.mutate(undefined)}
        >
          Book it
        </Button>
      </Box>
      {otherFaults(book.error, (name) => SHOWN.includes(name)).map((words) => (
        <Box key={words} role="alert" sx={{ color: "error.main", mt: 1 }}>
          {words}
        </Box>
      ))}
    </Section>
  );
}
