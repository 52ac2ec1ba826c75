import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { Schemas } from "./api/client";

export type Condition = NonNullable<Schemas["ItemIn"]["condition"]>;

interface Props {
  value: string;
  choose: (condition: Condition | null) => void;
  width?: number;
  /** Where something else than the condition of one thing is asked, which cannot be left unsaid. */
  label?: string;
}

/** The condition of a raw card, the best first; it may be left unsaid. */
export const CONDITIONS: readonly Condition[] = ["mint", "NM", "LP", "MP", "HP", "damaged"];

export function ConditionChoice({ value, choose, width = 120, label }: Props) {
  return (
    <TextField
      select
      label={label ?? "Condition"}
      value={value}
      onChange={(event) => choose((event.target.value || null) as Condition | null)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      sx={{ width }}
    >
      {label === undefined && <MenuItem value="">not said</MenuItem>}
      {CONDITIONS.map((condition) => (
        <MenuItem key={condition} value={condition}>
          {condition}
        </MenuItem>
      ))}
    </TextField>
  );
}
