import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { FieldRow } from "../FieldRow";
import { OtherFaults } from "./fields";

interface Props {
  submit: (event?: { preventDefault: () => void }) => void;
  busy: boolean;
  faults: readonly string[];
  /** What sends it. */
  act: string;
  strong?: boolean;
  /** What the form is called, where there are several. */
  label?: string;
  disabled?: boolean;
  /** Other buttons, behind the one that sends. */
  after?: ReactNode;
  children: ReactNode;
}

/** A form of one row: its fields, the button that sends it, and under it what was refused and belongs to no field. */
export function EntryRow({ submit, busy, faults, act, strong, label, disabled, after, children }: Props) {
  return (
    <Box component="form" noValidate onSubmit={submit} aria-label={label}>
      <FieldRow>
        {children}
        <Button
          type="submit"
          variant={strong ? "contained" : "outlined"}
          color={strong ? "primary" : "inherit"}
          disabled={busy || (disabled ?? false)}
        >
          {act}
        </Button>
        {after}
      </FieldRow>
      <OtherFaults faults={faults} />
    </Box>
  );
}
