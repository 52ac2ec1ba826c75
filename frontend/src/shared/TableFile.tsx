import Box from "@mui/material/Box";
import type { Schemas } from "./api/client";
import { markOf, send as upload, useStage, useUploadKey } from "./api/upload";
import { FileDrop } from "./FileDrop";
import { UploadProgress } from "./UploadProgress";
import { useAct } from "./useAct";

interface Props {
  label: string;
  /** What may be chosen. */
  said: string;
  done: (text: string) => void;
}

/** A file whose table is read into text with tabs. */
export function TableFile({ label, said, done }: Props) {
  const keyOf = useUploadKey();
  const [stage, tell] = useStage();
  const bring = useAct(
    (file: File) => {
      const form = new FormData();
      form.set("file", file);
      return upload<Schemas["TableTextOut"]>(
        { path: "/api/prices/table/file", form, key: keyOf(markOf(file)) },
        tell,
      );
    },
    { keys: [], done: (found) => done(found.text) },
  );
  return (
    <>
      <FileDrop
        label={label}
        accept=".csv,.tsv,.txt,.xlsx,.json"
        act={bring.isPending ? "Reading it …" : "Choose a file"}
        disabled={bring.isPending}
        choose={(file) => bring.mutate(file)}
      >
        <Box component="span" sx={{ fontSize: 13, color: "text.secondary" }}>
          {said}
        </Box>
      </FileDrop>
      {bring.isPending && <UploadProgress stage={stage} />}
    </>
  );
}
