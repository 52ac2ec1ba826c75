import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import * as z from "zod/mini";
import { client, take, type Schemas } from "../../shared/api/client";
import { FieldRow } from "../../shared/FieldRow";
import { day, money } from "../../shared/format";
import { MoneyField, OtherFaults, WordsField } from "../../shared/forms/fields";
import { amount, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useAct } from "../../shared/useAct";
import { KEYS, type Order } from "./queries";

type View = Schemas["ClaimViewOut"];

/** What the carrier owes for a parcel that was lost or came broken. */
export function Claim({ data }: { data: Order }) {
  const found = useQuery({
    queryKey: ["orders", "claim", data.number],
    queryFn: () =>
      take(client.GET("/api/orders/{number}/claim", { params: { path: { number: data.number } } })),
    retry: false,
  });
  if (!found.data) return null;
  const view = found.data;
  return (
    <Section title="A claim" point={view.until ? `until ${day(view.until)}` : ""}>
      {view.claim === null ? (
        <File data={data} view={view} />
      ) : view.claim.state === "filed" ? (
        <Settle data={data} claim={view.claim} view={view} />
      ) : (
        <Box>
          Filed on {day(view.claim.filed_on)} for {money(view.claim.amount)}: {view.claim.state}.
        </Box>
      )}
      {view.claim?.state !== "paid" && (
        <>
          <Box component="ul" sx={{ m: 0, mt: 1, pl: 2.25, fontSize: 13 }} aria-label="Papers of a claim">
            {view.papers.map((paper) => (
              <li key={paper}>{paper}</li>
            ))}
          </Box>
          <Aside>What the carrier asks for decides; keep the packing until it is settled.</Aside>
        </>
      )}
    </Section>
  );
}

function File({ data, view }: { data: Order; view: View }) {
  const { form, submit, busy, faults } = useEntry({
    draft: `claim of ${data.number}`,
    empty: { amount: Number(view.most).toFixed(2), words: data.complaint ?? "" },
    shape: z.object({ amount, words }),
    send: (body) =>
      take(
        client.PUT("/api/orders/{number}/claim", {
          params: { path: { number: data.number } },
          body: { version: 0, ...body },
        }),
      ),
    keys: KEYS,
    text: "The claim is filed.",
  });
  return (
    <Box component="form" noValidate onSubmit={submit} aria-label="A claim">
      <FieldRow>
        <MoneyField control={form.control} name="amount" label="Claim" hint={`at most ${money(view.most)}`} />
        <WordsField control={form.control} name="words" label="For what" width={260} />
        <Button type="submit" variant="outlined" color="inherit" disabled={busy} sx={{ mt: "20px" }}>
          File it
        </Button>
      </FieldRow>
      <OtherFaults faults={faults} />
    </Box>
  );
}

function Settle({ data, claim, view }: { data: Order; claim: Schemas["ClaimOut"]; view: View }) {
  const path = { number: data.number };
  const settle = (paid: string | null) =>
    take(
      client.POST("/api/orders/{number}/claim/settled", {
        params: { path },
        body: { version: claim.version, paid, purse: "bank" },
      }),
    );
  const { form, submit, busy, faults } = useEntry({
    empty: { paid: Number(claim.amount).toFixed(2) },
    shape: z.object({ paid: amount }),
    send: ({ paid }) => settle(paid),
    keys: KEYS,
    text: "The claim is paid.",
  });
  const refuse = useAct(() => settle(null), { keys: KEYS, text: "The claim was refused." });
  const withdraw = useAct(() => take(client.DELETE("/api/orders/{number}/claim", { params: { path } })), {
    keys: KEYS,
    text: "The claim is withdrawn.",
  });
  return (
    <Box component="form" noValidate onSubmit={submit} aria-label="What came of the claim">
      <Box>
        Filed on {day(claim.filed_on)} for {money(claim.amount)} {view.currency}: {claim.words}
      </Box>
      <FieldRow>
        <MoneyField control={form.control} name="paid" label="Paid" />
        <Button type="submit" variant="outlined" color="inherit" disabled={busy} sx={{ mt: "20px" }}>
          It is in the bank
        </Button>
        <Button
          color="inherit"
          disabled={refuse.isPending}
          onClick={() => refuse.mutate(undefined)}
          sx={{ mt: "20px" }}
        >
          It was refused
        </Button>
        <Button
          color="inherit"
          disabled={withdraw.isPending}
          onClick={() => withdraw.mutate(undefined)}
          sx={{ mt: "20px" }}
        >
          Withdraw it
        </Button>
      </FieldRow>
      <OtherFaults faults={faults} />
    </Box>
  );
}
