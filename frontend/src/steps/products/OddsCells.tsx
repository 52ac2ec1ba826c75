import Box from "@mui/material/Box";
import type { Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import type { Corrections } from "./queries";

interface Props {
  line: Schemas["LineOut"];
  format: Schemas["FormatOut"];
  setOdds: Corrections["setOdds"];
}

/** What a line says of a format, corrected in place: its odds for each kind of pack, or its part in a guarantee. */
export function OddsCells({ line, format, setOdds }: Props) {
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
