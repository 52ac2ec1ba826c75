import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { FieldRow } from "../../shared/FieldRow";
import { count, counted } from "../../shared/format";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { useDebounced } from "../../shared/useDebounced";
import { useDraft } from "../../shared/useDraft";
import { useKeepPage } from "./keepPage";
import { takenOf, toRows, type AllSaid } from "./pages";
import { Proposals } from "./Proposals";
import { NOTHING_SAID, WholeFields } from "./WholeFields";

const EMPTY = { ...NOTHING_SAID, text: "" };
const NONE: Schemas["PageOut"]["results"] = [];

/** A page of results, pasted as it is: what it holds is shown first, and kept once the owner says so. */
export default function PastePage() {
  const [params] = useSearchParams();
  const [page, setPage, forget] = useDraft("a page of results", EMPTY);
  const [said, setSaid] = useState<AllSaid>({});
  const field = useRef<HTMLTextAreaElement>(null);
  const text = useDebounced(page.text, 200);
  const release = params.get("release");
  const only = release && {
    release,
    line: params.get("line") ?? "",
    number: params.get("number") ?? "",
    variant: params.get("variant") ?? "",
  };
  const asked = { ...page, text, market: page.market.trim() || null, ...(only ? { only } : {}) };
  const read = useQuery({
    queryKey: ["pasted", asked],
    queryFn: ({ signal }) => take(client.POST("/api/prices/page/reading", { body: asked, signal })),
    enabled: text.trim() !== "",
    placeholderData: (before) => before,
    retry: false,
  });
  const data = text.trim() === "" ? undefined : read.data;
  const results = data?.results ?? NONE;
  const taken = takenOf(results, said);
  const keep = useKeepPage(asked.market, () => {
    forget();
    setPage({ ...page, text: "" });
    setSaid({});
    field.current?.focus();
  });
  const send = () => {
    const rows = toRows(results, said);
    if (rows.length > 0 && !keep.isPending) keep.mutate(rows);
  };
  return (
    <PageTitle
      title="A page of results"
      {...(data
        ? { verdict: data.verdict }
        : { plain: "Copy a list of results where you found it, and paste it here as it is." })}
      crumbs={[{ name: "Pricing", to: "/pricing" }, { name: "A page of results" }]}
    >
      <Box
        onKeyDown={(event) => {
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
            event.preventDefault();
            send();
          }
        }}
      >
        <FieldRow>
          <WholeFields said={page} say={(more) => setPage({ ...page, ...more })} />
        </FieldRow>
        <TextField
          inputRef={field}
          label="The page, as it was copied"
          value={page.text}
          onChange={(event) => {
            setPage({ ...page, text: event.target.value });
            setSaid({});
          }}
          autoFocus
          multiline
          minRows={3}
          maxRows={data ? 5 : 14}
          fullWidth
          sx={{ mt: 1 }}
        />
        {read.isError && (
          <Box role="alert" sx={{ color: "error.main", fontSize: 13, mt: 0.5 }}>
            {inWords(read.error)}
          </Box>
        )}
        {results.length > 0 && (
          <Section title="What it holds" point={`${count(taken.size)} of ${count(results.length)} are taken`}>
            <Proposals results={results} cards={data?.cards ?? []} said={said} setSaid={setSaid} />
            <Button
              variant="contained"
              disabled={taken.size === 0 || keep.isPending}
              onClick={send}
              sx={{ mt: 1 }}
            >
              Keep {counted(taken.size, "price")} (Ctrl Enter)
            </Button>
          </Section>
        )}
      </Box>
    </PageTitle>
  );
}
