import Box from "@mui/material/Box";
import type { Schemas } from "../../shared/api/client";
import { Table } from "../../shared/Table";
import { OddsCells } from "./OddsCells";
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
          <th scope="col">Line</th>
          {release.formats.map((format) => (
            <th scope="col" key={format.id}>
              {format.name}
            </th>
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
