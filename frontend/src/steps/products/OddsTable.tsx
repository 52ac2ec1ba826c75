import Box from "@mui/material/Box";
import type { Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import { Table } from "../../shared/Table";
import type { Corrections } from "./queries";

interface Props {
  release: Schemas["ReleaseOut"];
  lines: Schemas["LineOut"][];
  setOdds: Corrections["setOdds"];
}

/** What each line says of each format, corrected in place. */
export function OddsTable({ release, lines, setOdds }: Props) {
  return (
    <Table label="Odds by line and format">
      <thead>
        <tr>
          <th>Line</th>
          {release.formats.map((format) => (
            <th key={format.id}>{format.name}</th>
          ))}
        </tr>
      </thead>
      <tbody>
        {lines
          .filter((line) => line.kind !== "base")
          .map((line) => (
            <tr key={line.id} data-row>
              <td>
                {line.name}
                <Box component="span" sx={{ color: "text.secondary" }}>
                  {line.print_run !== null && ` /${line.print_run}`}
                  {line.redemption && ", by post"}
                </Box>
              </td>
              {release.formats.map((format) => (
                <td key={format.id}>
                  <OddsCells line={line} format={format} setOdds={setOdds} />
                </td>
              ))}
            </tr>
          ))}
      </tbody>
    </Table>
  );
}

function OddsCells({
  line,
  format,
  setOdds,
}: {
  line: Schemas["LineOut"];
  format: Schemas["FormatOut"];
  setOdds: Props["setOdds"];
}) {
  const guaranteed = line.guaranteed[format.id];
  const here = line.odds.filter((odds) => odds.format === format.id);
  if (guaranteed && here.every((odds) => odds.text === "")) return guaranteed;
  return here.map((odds) => (
    <Box key={odds.pack ?? ""}>
      <EditableCell
        value={odds.text}
        shown={(odds.text || "says nothing") + (odds.pack ? ` (${odds.pack})` : "")}
        label={`Odds of ${line.name} in the ${format.name}`}
        align="left"
        width={150}
        save={(text) => setOdds(line.id, format.id, odds.pack, text)}
      />
    </Box>
  ));
}
