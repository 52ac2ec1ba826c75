import Box from "@mui/material/Box";
import type { Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import { counted, hits, money, percent } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Table } from "../../shared/Table";
import { OddsCells } from "./OddsCells";
import { useAssume, useAssumptions } from "./planning";
import type { Corrections } from "./queries";

interface Props {
  answer: Schemas["AnswerOut"];
  lines: Schemas["LineOut"][];
  corrections: Corrections;
}

/** Value by line, with the odds of this format beside it: a correction redraws the answer. */
export function LineShares({ answer, lines, corrections }: Props) {
  const shares = new Map(answer.by_line.map((share) => [share.line, share]));
  const moved = new Set(answer.assumed.filter((item) => item.matter === "results").map((item) => item.line));
  const isNet = answer.basis.basis !== "gross";
  const most = Math.max(...answer.by_line.map((share) => share.share ?? 0), 1e-9);
  const unit = answer.unit === "pack" || answer.boxes === 1 ? "a box" : `${answer.boxes} boxes`;
  const present = lines.filter(
    (line) => shares.has(line.id) || line.odds.some((odds) => isUnsure(odds, answer)),
  );
  return (
    <Section title="What carries the value" point={carried(answer.top_heavy)}>
      <Table label="Value by line">
        <thead>
          <tr>
            <th scope="col">Line</th>
            <th scope="col">odds</th>
            {isNet && (
              <th scope="col" className="figure">
                sells
              </th>
            )}
            <th scope="col" className="figure">
              hits, {unit}
            </th>
            <th scope="col" className="figure">
              value, {answer.currency}
            </th>
            <th scope="col" aria-label="actions" />
            <th scope="col" className="figure">
              share
            </th>
          </tr>
        </thead>
        <tbody>
          {present.map((line) => {
            const share = shares.get(line.id);
            return (
              <tr key={line.id} data-row>
                <td>
                  {line.name}
                  {line.print_run !== null && <Soft> /{line.print_run}</Soft>}
                  {line.kind === "base" && <Soft>, {counted(line.cards, "card")}</Soft>}
                </td>
                <td>
                  {line.kind === "base" ? (
                    <Soft>all other slots</Soft>
                  ) : (
                    <>
                      <OddsCells line={line} format={answer.format} setOdds={corrections.setOdds} />
                      {moved.has(line.id) && share?.hits ? (
                        <Soft>with yours {asCame(share.hits, answer)}</Soft>
                      ) : null}
                    </>
                  )}
                </td>
                {isNet && (
                  <td className="figure">
                    <SellsCell release={answer.release} line={line} />
                  </td>
                )}
                <td className="figure">{hits(share?.hits)}</td>
                <td className="figure">{money(share?.value)}</td>
                <td style={{ width: "24%" }}>
                  <Box
                    sx={{
                      height: 10,
                      width: `${((share?.share ?? 0) / most) * 100}%`,
                      bgcolor: "tone.gain",
                      transition: "width 150ms",
                    }}
                  />
                </td>
                <td className="figure">{percent(share?.share)}</td>
              </tr>
            );
          })}
        </tbody>
      </Table>
    </Section>
  );
}

/** How much of a line's hits sells; empty is as usual. */
function SellsCell({ release, line }: { release: string; line: Schemas["LineOut"] }) {
  const assumptions = useAssumptions(release);
  const assume = useAssume(release);
  const said = assumptions.data?.assumptions.find((item) => item.kind === "sells" && item.line === line.id);
  return (
    <EditableCell
      value={said?.text ?? ""}
      shown={said?.text ?? "as usual"}
      label={`How much of ${line.name} sells`}
      width={70}
      save={(text) => assume({ kind: "sells", line: line.id, format: null, text }, said?.text ?? "")}
    />
  );
}

/** How often a line comes by the owner's own results and the odds together: 1:31 packs. */
function asCame(hitsPerUnit: number, answer: Schemas["AnswerOut"]): string {
  const boxes = answer.unit === "pack" ? 1 : answer.boxes;
  const packs = (answer.format.packs_per_box * boxes) / hitsPerUnit;
  return packs >= 100 ? `1:${packs.toFixed(0)}` : `1:${packs.toFixed(1)}`;
}

function isUnsure(odds: Schemas["OddsOut"], answer: Schemas["AnswerOut"]): boolean {
  return odds.format === answer.format.id && (odds.text === "unstated" || odds.text === "");
}

function carried(top: Schemas["TopHeavyOut"]): string {
  if (top.best_five === null) return "";
  return `the best card carries ${percent(top.best_one)}, five ${percent(top.best_five)}, ten ${percent(top.best_ten)}`;
}

function Soft({ children }: { children: React.ReactNode }) {
  return (
    <Box component="span" sx={{ color: "text.secondary" }}>
      {children}
    </Box>
  );
}
