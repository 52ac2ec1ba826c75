import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Schemas } from "./api/client";

/** The parts of a sentence as plain words. */
export function plain(parts: readonly Schemas["VerdictOut"]["sentence"][number][]): string {
  return parts.map((part) => part.text).join("");
}

/** A verdict as plain words, where it stands in a row. */
export function words(verdict: Schemas["VerdictOut"]): string {
  return [verdict.sentence, verdict.rests_on].map(plain).filter(Boolean).join(" ");
}

/** To a place on this page, or to another one. */
function Lead({ to, children }: { to: string; children: string }) {
  return to.startsWith("#") ? <a href={to}>{children}</a> : <Link to={to}>{children}</Link>;
}

/** The sentence that a page opens with; what matters most is underlined with the marker. */
export function VerdictLine({
  verdict,
  links = {},
}: {
  verdict: Schemas["VerdictOut"];
  links?: Record<string, string>;
}) {
  return (
    <Box aria-live="polite">
      <Typography variant="h1">
        {verdict.sentence.map((part, index) => (
          <Box
            key={index}
            component="span"
            data-part={part.name ?? undefined}
            sx={
              part.marked
                ? {
                    textDecoration: "underline",
                    textDecorationColor: "var(--mui-palette-tone-marker)",
                    textDecorationThickness: "5px",
                    textUnderlineOffset: "5px",
                    textDecorationSkipInk: "none",
                  }
                : undefined
            }
          >
            {part.text}
          </Box>
        ))}
      </Typography>
      {verdict.rests_on.length > 0 && (
        <Typography sx={{ color: "text.secondary", mt: 0.5 }}>
          {verdict.rests_on.map((part, index) =>
            part.name && links[part.name] ? (
              <Lead key={index} to={links[part.name]!}>
                {part.text}
              </Lead>
            ) : part.name ? (
              <Box
                key={index}
                component="b"
                data-part={part.name}
                sx={{ color: "text.primary", fontWeight: 600 }}
              >
                {part.text}
              </Box>
            ) : (
              <span key={index}>{part.text}</span>
            ),
          )}
        </Typography>
      )}
    </Box>
  );
}

/** A verdict within a page, under a section's title: its sentence, and what it rests on. */
export function SmallVerdict({ verdict }: { verdict: Schemas["VerdictOut"] }) {
  return (
    <Box role="status" sx={{ my: 0.5 }}>
      <Box sx={{ fontWeight: 600 }}>{plain(verdict.sentence)}</Box>
      {verdict.rests_on.length > 0 && (
        <Box sx={{ fontSize: 13, color: "text.secondary" }}>{plain(verdict.rests_on)}</Box>
      )}
    </Box>
  );
}
