import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { FieldRow } from "../../shared/FieldRow";

interface Props {
  name: string;
  /** What is said beside its name. */
  more?: string;
  leave: () => void;
  /** The field of it, if it has one. */
  children?: ReactNode;
}

/** A thing of a form, with what is said of it, and a way to leave it out. */
export function ThingRow({ name, more = "", leave, children }: Props) {
  const beside = children !== undefined;
  return (
    <FieldRow>
      <Box sx={{ mt: beside ? "24px" : "8px", width: 360, maxWidth: 1 }}>
        {name}
        {more}
      </Box>
      {children}
      <Button
        color="inherit"
        aria-label={`Leave out: ${name}`}
        onClick={leave}
        sx={beside ? { mt: "20px" } : {}}
      >
        Leave out
      </Button>
    </FieldRow>
  );
}
