import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import * as z from "zod/mini";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { FieldRow } from "../../shared/FieldRow";
import { OtherFaults, CountField, WordsField } from "../../shared/forms/fields";
import { whole, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { SellingTabs } from "./SellingTabs";
import { useWay, WayChoice } from "./WayChoice";

/** How listings are written for a way of selling: titles, and the columns of its files. */
export default function HabitsPage() {
  const { way } = useWay();
  const found = useQuery({
    queryKey: ["listing-habits", way],
    queryFn: () => take(client.GET("/api/listing-habits/{way}", { params: { path: { way } } })),
    enabled: way !== "",
  });
  return (
    <PageTitle
      title="How listings are written"
      plain="Titles and files, as each way of selling wants them."
      crumbs={[
        { name: "Selling", to: "/selling" },
        { name: "Listings", to: "/selling/-/listings" },
        { name: "How they are written" },
      ]}
    >
      <SellingTabs />
      <WayChoice />
      {found.data ? <Said key={way} way={way} data={found.data} /> : <Answer of={found} />}
    </PageTitle>
  );
}

function Said({ way, data }: { way: string; data: Schemas["ListingHabitsOut"] }) {
  const { form, submit, busy, faults } = useEntry({
    empty: { pattern: data.pattern, most: String(data.most), columns: data.columns.join(", ") },
    stays: true,
    shape: z.object({ pattern: words, most: whole, columns: words }),
    send: ({ columns, ...said }) =>
      take(
        client.PUT("/api/listing-habits/{way}", {
          params: { path: { way } },
          body: { version: data.version, ...said, columns: columns.split(",").map((it) => it.trim()) },
        }),
      ),
    keys: ["listing-habits", "listings"],
    text: "Listings are written so now.",
  });
  const { control } = form;
  return (
    <Box component="form" noValidate onSubmit={submit} aria-label="How listings are written" sx={{ mt: 2 }}>
      <Section title="Titles" point="what is not known is left out">
        <FieldRow>
          <WordsField control={control} name="pattern" label="Pattern" width={620} />
          <CountField control={control} name="most" label="Letters at most" width={110} />
        </FieldRow>
        <Aside>There are {data.known_words.map((it) => `{${it}}`).join(", ")}.</Aside>
      </Section>
      <Section title="Files" point="the columns in their order, parted by commas">
        <FieldRow>
          <WordsField control={control} name="columns" label="Columns" width={720} />
        </FieldRow>
        <Aside>There are {data.known_columns.join(", ")}.</Aside>
      </Section>
      <Button type="submit" variant="contained" disabled={busy}>
        Write them so
      </Button>
      <OtherFaults faults={faults} />
    </Box>
  );
}
