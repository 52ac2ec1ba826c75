import Box from "@mui/material/Box";
import { money } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Settle } from "../../shared/Settle";
import type { Submission } from "./submission";

/** Friends whose cards went along: what each owes, a statement, and settling with them. */
export function Owners({ data }: { data: Submission }) {
  const owners = [...new Set(data.cards.flatMap((it) => (it.owner ? [it.owner] : [])))];
  if (owners.length === 0) return null;
  return (
    <Section title="Friends’ cards" point={data.currency}>
      {owners.map((owner) => (
        <Box key={owner} sx={{ mb: 1 }}>
          <b>{owner}</b>{" "}
          {data.state === "drafted"
            ? `will owe about ${money(data.per_owner[owner])}`
            : `owes ${money(data.owed.find((it) => it.owner === owner)?.amount ?? "0")} for this`}
          {data.state !== "drafted" && (
            <>
              {" "}
              <a href={`/api/submissions/${data.number}/statement?owner=${encodeURIComponent(owner)}`}>
                statement (PDF)
              </a>
            </>
          )}
        </Box>
      ))}
      {data.owed.length > 0 && <Settle friends={owners} comesIn />}
    </Section>
  );
}
