import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";

interface Props {
  label: string;
  value: string;
  set: (value: string) => void;
  /** By what is kept, in words; "" for what is not chosen. */
  choices: Readonly<Record<string, string>>;
  width?: number;
  /** In a table the head names it. */
  bare?: boolean;
}

/** One of a few, that stands in the address or acts at once; in a form it is a ChoiceField. */
export function ChoiceBox({ label, value, set, choices, width = 130, bare = false }: Props) {
  return (
    <TextField
      select
      {...(bare ? { variant: "standard" as const } : { label })}
      value={value in choices ? value : ""}
      onChange={(event) => set(event.target.value)}
      slotProps={{
        select: { displayEmpty: true, ...(bare && { SelectDisplayProps: { "aria-label": label } }) },
      }}
      sx={{ width }}
    >
      {Object.entries(choices).map(([key, words]) => (
        <MenuItem key={key} value={key}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}
