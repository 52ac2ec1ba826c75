import Box from "@mui/material/Box";
import { Section } from "../../shared/Section";
import type { Submission } from "./submission";

/** The papers of a submission, as files. */
export function Papers({ data }: { data: Submission }) {
  if (data.cards.length === 0) return null;
  const base = `/api/submissions/${data.number}`;
  return (
    <Section title="Papers" point="in the grader’s order">
      <Box sx={{ display: "flex", flexDirection: "column", alignItems: "flex-start", gap: 0.5 }}>
        <a href={`${base}/form.pdf`}>Form, steps and packing list (PDF)</a>
        <a href={`${base}/form.csv`}>Form (CSV)</a>
        <a href={`${base}/label`}>Label (PDF, A6)</a>
      </Box>
      {data.packing.length > 0 && (
        <Box component="ol" sx={{ pl: 2.25, mt: 1, fontSize: 13 }}>
          {data.packing.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </Box>
      )}
    </Section>
  );
}
