import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { faultAt } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { gain, money } from "../../shared/format";
import { readAmount } from "../../shared/forms/reading";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { ValueField } from "../../shared/ValueField";
import Button from "@mui/material/Button";
import { BooksTabs } from "./BooksTabs";

/** Purses: what should be in each, and what was counted; a difference is booked as one. */
export default function PursesPage() {
  const found = useQuery({ queryKey: ["books", "purses"], queryFn: () => take(client.GET("/api/purses")) });
  if (!found.data) return <Answer of={found} />;
  const { purses, currency } = found.data;
  return (
    <PageTitle
      title="Purses"
      plain={purses.length ? "What should be in each, and what you count." : "No money was ever in a purse."}
      crumbs={[{ name: "Books", to: "/books" }, { name: "Purses" }]}
    >
      <BooksTabs />
      {purses.map((it) => (
        <One key={it.name} it={it} currency={currency} />
      ))}
    </PageTitle>
  );
}

function One({ it, currency }: { it: Schemas["PurseOut"]; currency: string }) {
  const [typed, setTyped] = useState("");
  const read = readAmount(typed);
  const count = useAct(
    (counted: string) =>
      take(
        client.POST("/api/purses/{name}/counted", {
          params: { path: { name: it.name } },
          body: { counted },
        }),
      ),
    {
      keys: ["books"],
      text: ({ difference }) =>
        Number(difference) === 0
          ? "It is as the books say."
          : `A difference of ${gain(Number(difference))} is booked.`,
      done: () => setTyped(""),
      quiet: true,
    },
  );
  const off = "value" in read ? Number(read.value) - Number(it.amount) : null;
  return (
    <Section title={it.name} point={`${money(it.amount)} ${currency} by the books`}>
      <FieldRow>
        <ValueField
          label={`${it.name}, counted`}
          value={typed}
          commit={setTyped}
          fault={typed && "fault" in read ? read.fault : (faultAt(count.error, "counted") ?? null)}
          hint={off === null ? "what lies in it" : off === 0 ? "as the books say" : `off by ${gain(off)}`}
          inputMode="decimal"
          width={150}
        />
        <Button
          variant="outlined"
          color="inherit"
          disabled={count.isPending || off === null}
          onClick={() => "value" in read && count.mutate(read.value)}
          sx={{ mt: "20px" }}
        >
          That is in it
        </Button>
      </FieldRow>
    </Section>
  );
}
