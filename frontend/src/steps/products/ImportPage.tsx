import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { inWords, ProblemError, type Problem } from "../../shared/api/client";
import { markOf, useStage, useUploadKey } from "../../shared/api/upload";
import { count } from "../../shared/format";
import { FileDrop } from "../../shared/FileDrop";
import { useNotice } from "../../shared/notices";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { UploadProgress } from "../../shared/UploadProgress";
import { useImport } from "./queries";

interface Confirmed {
  confirmSilent: boolean;
  replace: boolean;
  sameRelease: boolean | null;
}

const NOTHING: Confirmed = { confirmSilent: false, replace: false, sameRelease: null };

/** What can be answered to each question, the first being what is meant most likely. */
const ANSWERS: Record<string, { words: string; answer: Partial<Confirmed> }[]> = {
  replace: [{ words: "Replace it", answer: { replace: true } }],
  confirm_silent: [{ words: "They are not in it: import", answer: { confirmSilent: true } }],
  same_release: [
    { words: "It is the same: its cards go on", answer: { sameRelease: true } },
    { words: "Another release: keep them apart", answer: { sameRelease: false } },
  ],
};

/** Take a product sheet in: all faults at once, questions answered before anything is stored. */
export default function ImportPage() {
  const [file, setFile] = useState<File | null>(null);
  const [confirmed, setConfirmed] = useState<Confirmed>(NOTHING);
  const abort = useRef<AbortController>(null);
  const importing = useImport();
  const keyOf = useUploadKey();
  const [stage, tell] = useStage();
  const navigate = useNavigate();
  const say = useNotice();

  const send = (sheet: File, answers: typeof confirmed) => {
    setFile(sheet);
    setConfirmed(answers);
    abort.current = new AbortController();
    importing.mutate(
      {
        file: sheet,
        ...answers,
        key: keyOf(`${markOf(sheet)} ${JSON.stringify(answers)}`),
        signal: abort.current.signal,
        tell,
      },
      {
        onSuccess: (done) => {
          const what = {
            added: "is here now",
            replaced: "was replaced",
            unchanged: "is unchanged: the sheet says what is here",
          };
          say({ text: `${done.title} ${what[done.outcome]}.` });
          void navigate(`/products/${done.release}`);
        },
      },
    );
  };
  const problem = importing.error instanceof ProblemError ? importing.error.problem : null;
  const stopped = importing.error instanceof DOMException;
  return (
    <PageTitle
      title="Import a product sheet"
      plain={problem ? titleOf(problem) : "Bring a product sheet of your own."}
      crumbs={[{ name: "Products", to: "/products" }, { name: "Import" }]}
    >
      <Box sx={{ mb: 3 }}>
        <FileDrop
          label="Product sheet"
          accept=".json,.xlsx,.zip"
          act={file ? "Choose again" : "Choose a file"}
          strong
          autoFocus
          disabled={importing.isPending}
          choose={(chosen) => send(chosen, NOTHING)}
        >
          {file
            ? `${file.name}, ${count(Math.ceil(file.size / 1024))} kB`
            : "or drop it here: JSON, XLSX or a zip of CSV"}
        </FileDrop>
        {importing.isPending && <UploadProgress stage={stage} stop={() => abort.current?.abort()} />}
        {stopped && (
          <Typography sx={{ mt: 1.5 }}>
            Stopped. If it was through already, the release is in Products.
          </Typography>
        )}
      </Box>
      {problem && file && (
        <Findings problem={problem} confirm={(answer) => send(file, { ...confirmed, ...answer })} />
      )}
      {importing.isError && !problem && !stopped && (
        <Typography role="alert">{inWords(importing.error)}</Typography>
      )}
      {!problem && (
        <Typography variant="body2" sx={{ color: "text.secondary", maxWidth: 740 }}>
          A product sheet describes one release: its formats, the odds of its lines, its cards and their
          prices. The format is open and described in the documents. Begin with{" "}
          <a href="/api/empty-sheet.xlsx" download>
            an empty workbook
          </a>{" "}
          (or <a href="/api/empty-sheet.json">JSON</a>), or{" "}
          <Link to="/products/-/begin">begin a release by hand</Link>.
        </Typography>
      )}
    </PageTitle>
  );
}

function titleOf(problem: Problem): string {
  const faults = problem.faults?.length ?? 0;
  if (problem.flag === "replace") return "This release is here already.";
  if (problem.flag === "same_release") return "Cards of this release were named here before.";
  if (problem.flag)
    return faults === 1
      ? "One question before it is imported."
      : `${count(faults)} questions before it is imported.`;
  if (faults === 0) return "That did not work.";
  return faults === 1 ? "One fault; nothing was imported." : `${count(faults)} faults; nothing was imported.`;
}

function Findings({ problem, confirm }: { problem: Problem; confirm: (answer: Partial<Confirmed>) => void }) {
  const faults = problem.faults ?? [];
  if (faults.length === 0) return <Typography role="alert">{problem.detail}</Typography>;
  return (
    <Section
      title={problem.flag ? "To confirm" : "Faults"}
      point={problem.flag ? undefined : "mend them all in the file, then choose it again"}
    >
      <Table label="What was found">
        <Heads of={["Sheet", { figure: "row" }, "Field", "What is wrong"]} />
        <tbody>
          {faults.map((fault, index) => (
            <tr key={index} data-row>
              <td>{fault.sheet ?? "File"}</td>
              <td className="figure">{fault.row ?? ""}</td>
              <td>{fault.field}</td>
              <td>
                <span data-cell>{fault.message}</span>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 2 }}>
        {ANSWERS[problem.flag ?? ""]?.map(({ words, answer }, at) => (
          <Button
            key={words}
            variant={at === 0 ? "contained" : "outlined"}
            color={at === 0 ? "primary" : "inherit"}
            onClick={() => confirm(answer)}
          >
            {words}
          </Button>
        ))}
      </Box>
    </Section>
  );
}
