import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useRef, type FormEvent } from "react";
import { useNavigate } from "react-router";
import { client, take, type Schemas } from "../../shared/api/client";
import { faultAt, otherFaults } from "../../shared/faults";
import { money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { useDraft } from "../../shared/useDraft";
import { useToday } from "../../shared/useToday";
import { emptyPurchase, METHODS, toRequest, type Charge, type Draft, type Thing } from "./draft";
import { useFormats } from "./queries";

const CHARGES = ["price", "premium", "shipping", "tax", "duty", "other"] as const;

/** Record a purchase: what it cost, what came, and how the cost is divided, shown before it is booked. */
export default function NewPurchasePage() {
  const navigate = useNavigate();
  const today = useToday();
  const [draft, setDraft, forget] = useDraft<Draft>("purchase", emptyPurchase(today));
  const formats = useFormats();
  const once = useRef(crypto.randomUUID()); // a form that is sent twice is kept once
  const preview = useAct(
    (body: Schemas["PurchaseIn"]) => take(client.POST("/api/purchases/preview", { body })),
    { keys: [], quiet: true },
  );
  const record = useAct(
    (body: Schemas["PurchaseIn"]) =>
      take(client.POST("/api/purchases", { body: { ...body, once: once.current } })),
    {
      keys: ["purchases", "items", "books", "sessions"],
      text: "Booked.",
      quiet: true,
      done: ({ number }) => {
        forget();
        void navigate(`/buying/${number}`);
      },
    },
  );
  const error = record.error ?? preview.error;
  const set = (change: Partial<Draft>) => {
    setDraft({ ...draft, ...change });
    preview.reset();
    record.reset();
  };
  const setCharge = (at: number, change: Partial<Charge>) =>
    set({ charges: draft.charges.map((item, i) => (i === at ? { ...item, ...change } : item)) });
  const setThing = (at: number, change: Partial<Thing>) =>
    set({ things: draft.things.map((item, i) => (i === at ? { ...item, ...change } : item)) });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    record.mutate(toRequest(draft));
  };
  const shown = [
    "name",
    "bought_on",
    "received_on",
    "entertainment",
    ...draft.charges.flatMap((_, i) => [
      `charges[${i}].amount`,
      `charges[${i}].currency`,
      `charges.${i}.amount`,
    ]),
    ...draft.things.flatMap((_, i) => [`things[${i}].value`, `things[${i}].name`, `things[${i}].fixed`]),
  ];
  const text = (
    name: "name" | "seller" | "bought_on" | "received_on" | "due_on" | "tracking" | "carrier" | "fun",
    label: string,
    width: number,
  ) => ({
    label,
    value: draft[name],
    onChange: (event: { target: { value: string } }) => set({ [name]: event.target.value }),
    error: faultAt(error, name) !== undefined,
    helperText: faultAt(error, name) ?? " ",
    sx: { width },
    ...(name.endsWith("_on") ? { type: "date", slotProps: { inputLabel: { shrink: true } } } : {}),
  });
  return (
    <PageTitle
      title="Record a purchase"
      plain="What did you buy, and what did it really cost?"
      crumbs={[{ name: "Buying", to: "/buying" }, { name: "Record a purchase" }]}
    >
      <Box component="form" onSubmit={submit} noValidate sx={{ maxWidth: 1052 }}>
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2 }}>
          <TextField autoFocus {...text("name", "What", 320)} />
          <TextField {...text("seller", "From whom", 200)} />
          <TextField {...text("bought_on", "Bought on", 160)} />
          <TextField {...text("received_on", "Received on, if it is here", 200)} />
          <TextField
            {...text("fun", "For fun when it is opened, %", 220)}
            error={faultAt(error, "entertainment") !== undefined}
            helperText={faultAt(error, "entertainment") ? "0 to 100" : " "}
          />
        </Box>
        {!draft.received_on && (
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2 }}>
            <TextField {...text("carrier", "Carrier", 200)} />
            <TextField {...text("tracking", "Tracking number", 240)} />
            <TextField {...text("due_on", "Due on", 160)} />
          </Box>
        )}
        <Section title="What it cost" point="each in its currency, on the day it was paid">
          {draft.charges.map((charge, at) => (
            <Box key={at} sx={{ display: "flex", flexWrap: "wrap", gap: 2, mt: 1.5 }}>
              <TextField
                select
                label="Kind"
                value={charge.kind}
                onChange={(event) => setCharge(at, { kind: event.target.value as Charge["kind"] })}
                sx={{ width: 130 }}
              >
                {CHARGES.map((kind) => (
                  <MenuItem key={kind} value={kind}>
                    {kind}
                  </MenuItem>
                ))}
              </TextField>
              <TextField
                label="Amount"
                value={charge.amount}
                onChange={(event) => setCharge(at, { amount: event.target.value })}
                error={
                  (faultAt(error, `charges[${at}].amount`) ?? faultAt(error, `charges.${at}.amount`)) !==
                  undefined
                }
                helperText={
                  faultAt(error, `charges[${at}].amount`) ??
                  (faultAt(error, `charges.${at}.amount`) && "an amount like 12.50")
                }
                sx={{ width: 130 }}
              />
              <TextField
                label="Currency"
                value={charge.currency}
                onChange={(event) => setCharge(at, { currency: event.target.value.toUpperCase() })}
                error={faultAt(error, `charges[${at}].currency`) !== undefined}
                helperText={faultAt(error, `charges[${at}].currency`)}
                sx={{ width: 110 }}
              />
              <TextField
                label="Paid from"
                value={charge.purse}
                onChange={(event) => setCharge(at, { purse: event.target.value })}
                sx={{ width: 130 }}
              />
              {draft.charges.length > 1 && (
                <Button
                  color="inherit"
                  onClick={() => set({ charges: draft.charges.filter((_, i) => i !== at) })}
                  aria-label={`Leave out: ${charge.kind}`}
                >
                  Leave out
                </Button>
              )}
            </Box>
          ))}
          <Button
            color="inherit"
            sx={{ mt: 1 }}
            onClick={() =>
              set({ charges: [...draft.charges, { ...draft.charges[0]!, kind: "shipping", amount: "" }] })
            }
          >
            Another cost
          </Button>
        </Section>
        <Section title="What came for it" point="the value of all of them; gifts carry no cost">
          {draft.things.map((thing, at) => (
            <Box
              key={at}
              sx={{ display: "flex", flexWrap: "wrap", gap: 2, mt: 1.5, alignItems: "flex-start" }}
            >
              <TextField
                select
                label="What it is"
                value={thing.what}
                onChange={(event) => {
                  const found = formats.data?.find(
                    (item) => `${item.release}/${item.format}` === event.target.value,
                  );
                  setThing(at, { what: event.target.value, ...(found ? { name: found.name } : {}) });
                }}
                sx={{ width: 250 }}
              >
                <MenuItem value="card">a single card</MenuItem>
                <MenuItem value="stack">a stack of cards</MenuItem>
                <MenuItem value="other">something else</MenuItem>
                {formats.data?.map((item) => (
                  <MenuItem key={`${item.release}/${item.format}`} value={`${item.release}/${item.format}`}>
                    {item.name}
                  </MenuItem>
                ))}
              </TextField>
              <TextField
                label="In words"
                value={thing.name}
                onChange={(event) => setThing(at, { name: event.target.value })}
                error={faultAt(error, `things[${at}].name`) !== undefined}
                helperText={faultAt(error, `things[${at}].name`)}
                sx={{ width: 240 }}
              />
              <TextField
                label="How many"
                value={thing.count}
                onChange={(event) => setThing(at, { count: event.target.value })}
                sx={{ width: 90 }}
              />
              <TextField
                label={
                  draft.method === "hand" || draft.method === "residual"
                    ? "Its part, by hand"
                    : "Value of all"
                }
                value={
                  draft.method === "hand"
                    ? thing.fixed
                    : draft.method === "residual" && thing.fixed
                      ? thing.fixed
                      : thing.value
                }
                onChange={(event) =>
                  setThing(
                    at,
                    draft.method === "hand" ? { fixed: event.target.value } : { value: event.target.value },
                  )
                }
                error={
                  faultAt(error, `things[${at}].value`) !== undefined ||
                  faultAt(error, `things[${at}].fixed`) !== undefined
                }
                helperText={faultAt(error, `things[${at}].value`) ?? faultAt(error, `things[${at}].fixed`)}
                sx={{ width: 140 }}
              />
              <FormControlLabel
                control={
                  <Checkbox
                    size="small"
                    checked={thing.gift}
                    onChange={(event) => setThing(at, { gift: event.target.checked })}
                  />
                }
                label="gift"
              />
              <Box sx={{ alignSelf: "center", minWidth: 70, textAlign: "right" }}>
                {preview.data && <b>{money(preview.data.shares[at])}</b>}
              </Box>
              {draft.things.length > 1 && (
                <Button
                  color="inherit"
                  onClick={() => set({ things: draft.things.filter((_, i) => i !== at) })}
                  aria-label={`Leave out: ${thing.name || "thing"}`}
                >
                  Leave out
                </Button>
              )}
            </Box>
          ))}
          <Box sx={{ display: "flex", gap: 2, mt: 1.5, alignItems: "center" }}>
            <Button
              color="inherit"
              onClick={() =>
                set({
                  things: [
                    ...draft.things,
                    { what: "card", name: "", count: "1", value: "", fixed: "", gift: false },
                  ],
                })
              }
            >
              Another thing
            </Button>
            <TextField
              select
              label="Divide the cost"
              value={draft.method}
              onChange={(event) => set({ method: event.target.value as Draft["method"] })}
              sx={{ width: 220 }}
            >
              {Object.entries(METHODS).map(([method, words]) => (
                <MenuItem key={method} value={method}>
                  {words}
                </MenuItem>
              ))}
            </TextField>
          </Box>
        </Section>
        {preview.data && (
          <Box role="status" sx={{ mb: 2 }}>
            Landed <b>{money(preview.data.landed)}</b> {preview.data.currency}
            {preview.data.charges
              .filter((charge) => charge.currency !== preview.data.currency)
              .map(
                (charge) =>
                  `; ${charge.kind} ${money(charge.amount)} ${charge.currency} at ${charge.rate} (${charge.source})`,
              )
              .join("")}
            . Nothing is booked yet.
          </Box>
        )}
        {error &&
          otherFaults(error, shown).map((words) => (
            <Box key={words} role="alert" sx={{ color: "error.main", mb: 1 }}>
              {words}
            </Box>
          ))}
        <Box sx={{ display: "flex", gap: 1.5 }}>
          <Button variant="outlined" color="inherit" onClick={() => preview.mutate(toRequest(draft))}>
            Show the division
          </Button>
          <Button type="submit" variant="contained" disabled={record.isPending}>
            Book it
          </Button>
          <Button color="inherit" onClick={() => set(emptyPurchase(today))}>
            Empty the form
          </Button>
        </Box>
      </Box>
    </PageTitle>
  );
}
