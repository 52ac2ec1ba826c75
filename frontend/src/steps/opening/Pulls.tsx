import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Link } from "react-router";
import { useFills } from "../../shared/fills";
import { counted, money } from "../../shared/format";
import { Marked } from "../../shared/Marked";
import { Section } from "../../shared/Section";
import { Table } from "../../shared/Table";
import { type Ahead, type Entered, type Opening, type Pending } from "./entering";

interface PullsProps {
  data: Opening;
  running: boolean;
  ahead: Ahead;
  add: (what: Entered) => void;
}

export function Pulls({ data, running, ahead, add }: PullsProps) {
  const shown = running ? ahead.pulls : data.pulls;
  const logged = running ? ahead.logged : data.pulls.reduce((sum, pull) => sum + pull.count, 0);
  const hits = running ? shown.filter((pull) => pull.card !== null) : [];
  const fills = useFills(
    hits.map((pull) => ({ release: data.release, line: pull.line, number: pull.card ?? "", variant: "" })),
  );
  return (
    <Section
      title={running ? `Pack ${ahead.pack}` : data.state === "done" ? "What came out" : "What was logged"}
      point={running ? `${logged} of ${ahead.size} logged` : counted(logged, "card")}
    >
      {running && logged === 0 ? (
        <Box sx={{ py: 1, color: "text.secondary" }}>Nothing of this pack is logged yet.</Box>
      ) : (
        <Table label="Pulls">
          <thead>
            <tr>
              {!running && (
                <th scope="col" className="figure">
                  pack
                </th>
              )}
              <th scope="col">No.</th>
              <th scope="col">Subject</th>
              <th scope="col">Line</th>
              <th scope="col">serial</th>
              <th scope="col">flaw</th>
              <th scope="col" className="figure">
                about
              </th>
              {running && <th scope="col" aria-label="take back" />}
            </tr>
          </thead>
          <tbody>
            {running &&
              ahead.pending.toReversed().map((entry) => <Coming key={entry.key} data={data} entry={entry} />)}
            {shown.toReversed().map((pull) => (
              <tr key={pull.number} data-row>
                {!running && <td className="figure">{pull.pack}</td>}
                <td>
                  <span data-cell>{pull.card ?? ""}</span>
                </td>
                <td>
                  {pull.count > 1 ? `${counted(pull.count, "card")}, ${pull.subject}` : pull.subject}{" "}
                  {fills[hits.indexOf(pull)] && <Marked>{fills[hits.indexOf(pull)]}</Marked>}
                </td>
                <td>{pull.line_name}</td>
                <td>{pull.serial ?? ""}</td>
                <td>{pull.flaw ?? ""}</td>
                <td className="figure">{money(pull.worth === null ? null : pull.worth * pull.count)}</td>
                {running && (
                  <td className="figure">
                    <Button
                      color="inherit"
                      data-cell
                      aria-label={`Take back: ${pull.card ?? pull.line_name}`}
                      onClick={() => add({ kind: "takeBack", pull: pull.number })}
                      sx={{ py: 0, minWidth: 0 }}
                    >
                      take back
                    </Button>
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {data.state === "done" && (
        <Box sx={{ mt: 1 }}>
          <Link to={`/stock?session=${data.number}`}>What each card carries, in stock</Link>
        </Box>
      )}
    </Section>
  );
}

/** What was entered and is on its way. */
function Coming({ data, entry }: { data: Opening; entry: Pending }) {
  const what = entry.what;
  const line = what.kind === "card" ? data.lines.find((item) => item.id === what.line) : undefined;
  return (
    <Box component="tr" data-row sx={{ color: "text.secondary" }}>
      <td>{what.kind === "card" ? (what.number ?? what.typed) : ""}</td>
      <td>{what.kind === "card" ? (what.subject ?? "…") : "the rest is base"}</td>
      <td>{line?.name ?? ""}</td>
      <td>{what.kind === "card" ? what.serial : ""}</td>
      <td>{what.kind === "card" ? what.flaw : ""}</td>
      <td />
      <td className="figure">on its way</td>
    </Box>
  );
}
