import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { client, inWords, ProblemError, take, type Schemas } from "../shared/api/client";
import { markOf, send, useStage, useUploadKey } from "../shared/api/upload";
import { count, day } from "../shared/format";
import { FileDrop } from "../shared/FileDrop";
import { useNotice } from "../shared/notices";
import { Section } from "../shared/Section";
import { Aside } from "../shared/states";
import { UploadProgress } from "../shared/UploadProgress";
import { leave } from "./session";

/** Everything that is stored as one file, and back: what is replaced is said and asked about first. */
export function Backups() {
  const [file, setFile] = useState<File | null>(null);
  const [stage, tell] = useStage();
  const keyOf = useUploadKey();
  const queries = useQueryClient();
  const say = useNotice();
  const restore = useMutation({
    mutationFn: ({ chosen, confirmed }: { chosen: File; confirmed: boolean }) => {
      const form = new FormData();
      form.set("file", chosen);
      form.set("confirmed", String(confirmed));
      const key = keyOf(`${markOf(chosen)} ${confirmed}`);
      return send<Schemas["RestoredOut"]>({ path: "/api/backup", form, key }, tell);
    },
    onSuccess: (done) => {
      say({ text: `Restored: ${done.words}. Sign in again.` });
      leave(); // its sessions and drafts belong to what was there before
      queries.clear();
    },
  });
  const problem = restore.error instanceof ProblemError ? restore.error.problem : null;
  const isQuestion = problem?.flag === "confirmed";
  return (
    <Section id="backup" title="Backup" point="one file with everything, for you to keep elsewhere">
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 2, mt: 1.5 }}>
        <Button variant="outlined" color="inherit" href="/api/backup" download>
          Save a backup
        </Button>
      </Box>
      <Box sx={{ mt: 1.5 }}>
        <FileDrop
          label="Backup to restore"
          accept=".zip,.gz"
          act="Restore from a backup"
          disabled={restore.isPending}
          choose={(chosen) => {
            setFile(chosen);
            restore.mutate({ chosen, confirmed: false });
          }}
        >
          or drop it here; what it replaces is said first
        </FileDrop>
      </Box>
      {restore.isPending && <UploadProgress stage={stage} />}
      {problem && file && isQuestion && (
        <Box role="alert" sx={{ mt: 2, borderLeft: 3, borderColor: "tone.marker", pl: 1.5, maxWidth: 740 }}>
          {problem.faults?.map((fault) => (
            <Box key={fault.field}>{fault.message}</Box>
          ))}
          <Box sx={{ display: "flex", gap: 2, mt: 1.5 }}>
            <Button variant="contained" onClick={() => restore.mutate({ chosen: file, confirmed: true })}>
              Replace everything
            </Button>
            <Button color="inherit" autoFocus onClick={() => restore.reset()}>
              Leave it as it is
            </Button>
          </Box>
        </Box>
      )}
      {restore.isError && !isQuestion && (
        <Box role="alert" sx={{ color: "error.main", mt: 1.5 }}>
          {problem?.faults?.[0]?.message ?? inWords(restore.error)}
        </Box>
      )}
      <Daily />
      <Aside>
        A backup holds all that you entered and the check of your passphrase. Keep it where only you can read
        it.
      </Aside>
    </Section>
  );
}

/** The backups that are made by themselves, where they lie, and how old the newest is. */
function Daily() {
  const found = useQuery({ queryKey: ["backups"], queryFn: () => take(client.GET("/api/backups")) });
  if (!found.data?.folder) return null;
  const { folder, backups } = found.data;
  const [newest] = backups;
  const oldest = backups.at(-1);
  return (
    <Box sx={{ mt: 1.5 }}>
      One is made every day in <code>{folder}</code>:{" "}
      {newest && oldest ? (
        <>
          {count(backups.length)} {backups.length === 1 ? "is" : "are"} there, the newest of {day(newest.day)}{" "}
          with {count(Math.max(1, Math.round(newest.size / 1000)))} kB, the oldest of {day(oldest.day)}. Seven
          days, five weeks and twelve months are kept. <code>make drill</code> restores the newest where
          nothing can be hurt, and compares.
        </>
      ) : (
        "none is there yet."
      )}
    </Box>
  );
}
