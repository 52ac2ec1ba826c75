import Box from "@mui/material/Box";
import type { Schemas } from "../../shared/api/client";
import { EditableCell } from "../../shared/EditableCell";
import type { Corrections } from "./queries";

interface Props {
  release: Schemas["ReleaseOut"];
  guarantees: Schemas["GuaranteeOut"][];
  setGuarantee: Corrections["setGuarantee"];
}

/** Hits that every box or case holds, from one of several lines; a split that is not known (?) can be assumed here. */
export function Guarantees({ release, guarantees, setGuarantee }: Props) {
  const name = (format: string) => release.formats.find((item) => item.id === format)?.name ?? format;
  return guarantees.map((guarantee) => (
    <Box key={guarantee.number} sx={{ mt: 1 }}>
      Guaranteed in the {name(guarantee.format)}:{" "}
      <EditableCell
        value={guarantee.text}
        label={`Guarantee of the ${name(guarantee.format)}`}
        align="left"
        width={440}
        save={(text) => setGuarantee(guarantee.number, text)}
      />
    </Box>
  ));
}
