import Button from "@mui/material/Button";
import { client, take } from "./api/client";
import { useAct } from "./useAct";

/** What may be another thing once something that was booked is taken back. */
const TOUCHED = [
  "purchases",
  "items",
  "books",
  "sessions",
  "redemptions",
  "spending",
  "grading",
  "orders",
  "parcels",
  "supplies",
];

interface Booked {
  text: string;
  taken_back: boolean;
  can_be_taken_back: boolean;
}

/** A row's way back: what was booked is taken back by itself; what stands in the way is said. */
export function TakeBack({ entry, booked }: { entry: number | null; booked: Booked }) {
  const undo = useAct(
    (number: number) => take(client.POST("/api/entries/{number}/undo", { params: { path: { number } } })),
    { keys: TOUCHED, text: (done) => `Taken back: ${done.text}.` },
  );
  if (booked.taken_back) return <>taken back</>;
  if (entry === null || !booked.can_be_taken_back) return null;
  return (
    <Button
      color="inherit"
      data-cell
      aria-label={`Take back: ${booked.text}`}
      disabled={undo.isPending}
      onClick={() => undo.mutate(entry)}
      sx={{ py: 0, minWidth: 0 }}
    >
      take back
    </Button>
  );
}
