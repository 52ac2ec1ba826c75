import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { client, take } from "../../shared/api/client";
import { useAct } from "../../shared/useAct";

/** What a scanner put down, taken over as the front and the back of a card. */
export function FromScanner({ item }: { item: number }) {
  const [files, setFiles] = useState<readonly string[] | null>(null);
  const look = useAct(() => take(client.POST("/api/scans")), {
    keys: [],
    done: (found) => setFiles(found.files),
  });
  const takeOver = useAct(
    (pair: readonly string[]) =>
      take(
        client.POST("/api/scans/taken", {
          body: {
            files: [...pair],
            items: pair.map(() => item),
            sides: pair.map((_, at) => (at === 0 ? "front" : "back") as "front" | "back"),
          },
        }),
      ),
    { keys: ["items", "grading"], text: "Taken over.", done: () => setFiles(null) },
  );
  return (
    <Box sx={{ mt: 1 }}>
      <Button color="inherit" disabled={look.isPending} onClick={() => look.mutate(undefined)}>
        What the scanner has
      </Button>
      {files?.length === 0 && <Box sx={{ fontSize: 13 }}>It has put nothing down.</Box>}
      {files && files.length > 0 && (
        <Box sx={{ fontSize: 13 }}>
          {files.slice(0, 2).join(", ")}
          {files.length > 2 && ` and ${files.length - 2} more`}{" "}
          <Button
            variant="outlined"
            color="inherit"
            disabled={takeOver.isPending}
            onClick={() => takeOver.mutate(files.slice(0, 2))}
          >
            {files.length > 1 ? "These are its front and back" : "This is its front"}
          </Button>
        </Box>
      )}
    </Box>
  );
}
