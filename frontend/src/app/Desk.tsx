import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { client, take } from "../shared/api/client";
import { PageTitle } from "../shared/PageTitle";
import { Section } from "../shared/Section";
import { useSpending } from "./Spending";
import { useArrowKeys } from "../shared/useArrowKeys";
import { Answer } from "../shared/Answer";
import { plain } from "../shared/VerdictLine";

/** This month's spending, in words; over the limit it says where to find help. */
function SpentLine() {
  const spending = useSpending();
  if (!spending.data) return null;
  const { verdict, state } = spending.data;
  return (
    <Box
      sx={{
        mb: 3,
        pl: 1.25,
        borderLeft: 3,
        borderColor: state === "over" || state === "near" ? "tone.marker" : "divider",
      }}
    >
      <Link to="/settings#spending" style={{ textDecoration: "none" }}>
        {plain(verdict.sentence)}
      </Link>
      {verdict.rests_on.length > 0 && (
        <Box role="status" sx={{ mt: 0.5 }}>
          {plain(verdict.rests_on)}
        </Box>
      )}
    </Box>
  );
}

/** What to do today. */
export default function Desk() {
  const desk = useQuery({ queryKey: ["desk"], queryFn: () => take(client.GET("/api/desk")) });
  const keys = useArrowKeys<HTMLUListElement>();
  if (!desk.data) return <Answer of={desk} />;
  const { verdict, waiting } = desk.data;
  return (
    <PageTitle title="Desk" verdict={verdict}>
      <SpentLine />
      {waiting.length > 0 && (
        <Section title="Products" point={`${waiting.length} to look up`}>
          <Box component="ul" {...keys} sx={{ listStyle: "none", m: 0, p: 0 }}>
            {waiting.map((item) => (
              <Box
                component="li"
                data-row
                key={item.text + item.release}
                sx={{ borderBottom: 1, borderColor: "divider", py: 0.75 }}
              >
                <Link data-cell to={`/products/${item.release}${item.format ? `/${item.format}` : ""}`}>
                  {item.title}
                </Link>{" "}
                {item.text}.
              </Box>
            ))}
          </Box>
        </Section>
      )}
    </PageTitle>
  );
}
