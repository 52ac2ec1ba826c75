import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { type FormEvent } from "react";
import { useNavigate } from "react-router";
import { client, take, type Schemas } from "../../shared/api/client";
import { DAY_FIELD } from "../../shared/dayField";
import { otherFaults, refused } from "../../shared/faults";
import { money } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { useDraft } from "../../shared/useDraft";
import { useToday } from "../../shared/useToday";
import { ChargeRows } from "./ChargeRows";
import { emptyPurchase, METHODS, toRequest, type Draft } from "./draft";
import { KEYS, usePurchases } from "./queries";
import { ThingRows } from "./ThingRows";
import { keyed, useOnce } from "../../shared/useOnce";
import { Answer } from "../../shared/Answer";

/** Record a purchase: what it cost, what came, and how the cost is divided, shown before it is booked. */
export default function NewPurchasePage() {
  const purchases = usePurchases();
  if (!purchases.data) return <Answer of={purchases} />;
  return <Form home={purchases.data.currency} />;
}

const SHOWN = ["name", "bought_on", "received_on", "due_on", "entertainment"];
const SHOWN_OF_ROWS =
  /^(charges|things)\[\d+\]\.(amount|currency|rate|purse|day|name|count|value|fixed|weight|serial|place)$/;

function Form({ home }: { home: string }) {
  const navigate = useNavigate();
  const today = useToday();
  const [draft, setDraft, forget] = useDraft<Draft>("purchase-2", emptyPurchase(today, home));
  const once = useOnce(); // a form that is sent twice is kept once
  const preview = useAct(
    (body: Schemas["PurchaseIn"]) => take(client.POST("/api/purchases/preview", { body })),
    { keys: [], quiet: true },
  );
  const record = useAct(
    (body: Schemas["PurchaseIn"]) => take(client.POST("/api/purchases", { body, ...keyed(once.key()) })),
    {
      keys: KEYS,
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
  const submit = (event: FormEvent) => {
    event.preventDefault();
    record.mutate(toRequest(draft));
  };
  const text = (
    name: "name" | "seller" | "bought_on" | "received_on" | "due_on" | "tracking" | "carrier" | "note",
    label: string,
    width: number,
  ) => ({
    label,
    value: draft[name],
    onChange: (event: { target: { value: string } }) => set({ [name]: event.target.value }),
    ...refused(error, name),
    sx: { width },
    ...(name.endsWith("_on") ? DAY_FIELD : {}),
  });
  return (
    <PageTitle
      title="Record a purchase"
      plain="What did you buy, and what did it really cost?"
      crumbs={[{ name: "Buying", to: "/buying" }, { name: "Record a purchase" }]}
    >
      <Box component="form" onSubmit={submit} noValidate sx={{ maxWidth: 1052 }}>
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mb: 3 }}>
          <TextField autoFocus {...text("name", "What, in words", 300)} />
          <TextField {...text("seller", "From whom", 190)} />
          <TextField {...text("bought_on", "Bought on", 150)} />
          <TextField {...text("received_on", "Here since, if it is here", 200)} />
          <TextField
            label="For fun when opened, %"
            value={draft.fun}
            onChange={(event) => set({ fun: event.target.value })}
            {...refused(error, "entertainment")}
            sx={{ width: 190 }}
          />
          {!draft.received_on && (
            <>
              <TextField {...text("carrier", "Carrier", 190)} />
              <TextField {...text("tracking", "Tracking number", 220)} />
              <TextField {...text("due_on", "Due on", 150)} />
            </>
          )}
          <TextField {...text("note", "Note", 300)} />
        </Box>
        <Section
          title="What it cost"
          point="each in its currency, at the rate of its day unless you give one"
        >
          <ChargeRows
            charges={draft.charges}
            set={(charges) => set({ charges })}
            error={error}
            home={home}
            boughtOn={draft.bought_on}
          />
        </Section>
        <Section
          title="What came for it"
          point="what it is worth decides what it carries, unless you choose otherwise"
        >
          <ThingRows
            things={draft.things}
            set={(things) => set({ things })}
            method={draft.method}
            error={error}
            shares={preview.data?.shares}
          />
          <Box sx={{ mt: 1.5 }}>
            <TextField
              select
              label="Divide the cost"
              value={draft.method}
              onChange={(event) => set({ method: event.target.value as Draft["method"] })}
              sx={{ width: 290 }}
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
          otherFaults(error, (field) => SHOWN.includes(field) || SHOWN_OF_ROWS.test(field)).map((words) => (
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
          <Button color="inherit" onClick={() => set(emptyPurchase(today, home))}>
            Empty the form
          </Button>
        </Box>
      </Box>
    </PageTitle>
  );
}
