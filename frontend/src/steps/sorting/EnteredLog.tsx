import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Link } from "react-router";
import { inWords } from "../../shared/api/client";
import { count } from "../../shared/format";
import { Marked } from "../../shared/Marked";
import { useNotice } from "../../shared/notices";
import { Section } from "../../shared/Section";
import { type Sending } from "./sending";

/** What was entered lately, the newest first, with what matters of it. */
export function EnteredLog({ sending }: { sending: Sending }) {
  const say = useNotice();
  const waiting = sending.entries.filter((entry) => entry.state !== "refused").length;
  if (sending.done.length === 0 && waiting === 0) return null;
  return (
    <Section title="Entered" point={waiting > 0 ? `${count(waiting)} on the way` : "the newest first"}>
      <Box component="ol" aria-label="Entered" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {sending.done.slice(0, 30).map((it) => (
          <Box
            component="li"
            key={it.entry}
            sx={{
              display: "flex",
              flexWrap: "wrap",
              columnGap: 1.5,
              borderBottom: 1,
              borderColor: "divider",
              py: 0.5,
              ...(it.gone ? { color: "text.secondary", textDecoration: "line-through" } : {}),
            }}
          >
            <Link to={`/stock/${it.item}`}>{it.said}</Link>
            {it.matters.length > 0 && <Marked>{it.matters.map((part) => part.text).join("")}</Marked>}
            {it.new_card && <span>first seen</span>}
            {!it.gone && (
              <Button
                color="inherit"
                aria-label={`take back: ${it.said}`}
                onClick={() =>
                  sending
                    .takeBack(it.entry)
                    .catch((error: unknown) => say({ text: inWords(error), isError: true }))
                }
                sx={{ ml: "auto", py: 0 }}
              >
                take back
              </Button>
            )}
          </Box>
        ))}
      </Box>
    </Section>
  );
}
