import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { client, take } from "./api/client";

const KINDS = { fault: "a known fault", telling: "how to tell", other: "note" } as const;

interface Props {
  release: string;
  /** Only what is of this line, or of no line. */
  line?: string | null;
  /** Only what is of this card, or of no card. */
  card?: string | null;
}

/** What the owner noted of a release, a line or a card, where it is bought, opened and held; nothing if nothing was. */
export function KnownNotes({ release, line, card }: Props) {
  const known = useQuery({
    queryKey: ["description", release],
    queryFn: () => take(client.GET("/api/releases/{release}/description", { params: { path: { release } } })),
    staleTime: 60_000,
    retry: false,
  });
  const notes = (known.data?.notes ?? []).filter(
    (note) => (!line || !note.line || note.line === line) && (!card || !note.card || note.card === card),
  );
  if (notes.length === 0) return null;
  return (
    <Box
      role="note"
      aria-label="Notes on this release"
      sx={{ borderLeft: 3, borderColor: "tone.marker", pl: 1.25, my: 1.5, fontSize: 13 }}
    >
      {notes.slice(0, 6).map((note) => (
        <Box key={note.number} sx={{ py: 0.25 }}>
          <Box component="span" sx={{ color: "text.secondary" }}>
            {KINDS[note.kind]}
            {note.line && `, ${[note.line, note.card].filter(Boolean).join(" ")}`}:{" "}
          </Box>
          {note.text}
        </Box>
      ))}
      {notes.length > 6 && <Link to={`/products/${release}/-/seen`}>{notes.length - 6} more</Link>}
    </Box>
  );
}
