import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";

interface SuggestedProps {
  label: string;
  value: string;
  set: (value: string) => void;
  options: readonly string[];
  width: number;
  hint?: string;
  fault?: string;
  autoFocus?: boolean;
  inputRef?: React.Ref<HTMLInputElement>;
}

/** Any words, with those that are known offered while typing. */
export function Suggested({
  label,
  value,
  set,
  options,
  width,
  hint,
  fault,
  autoFocus,
  inputRef,
}: SuggestedProps) {
  const id = `known-${label.toLowerCase().replace(/\W/g, "-")}`;
  return (
    <>
      <TextField
        label={label}
        value={value}
        onChange={(event) => set(event.target.value)}
        error={Boolean(fault)}
        helperText={fault || hint || " "}
        autoFocus={autoFocus ?? false}
        {...(inputRef ? { inputRef } : {})}
        slotProps={{ htmlInput: { list: id, autoComplete: "off", maxLength: 200 } }}
        sx={{ width, maxWidth: 1 }}
      />
      <datalist id={id}>
        {options.map((option) => (
          <option key={option} value={option} />
        ))}
      </datalist>
    </>
  );
}

/** A few choices to tap with a thumb; the one that holds is marked. */
export function Taps({
  label,
  options,
  value,
  set,
}: {
  label: string;
  options: readonly string[];
  value: string;
  set: (value: string) => void;
}) {
  return (
    <Box role="group" aria-label={label} sx={{ display: "flex", flexWrap: "wrap", gap: 0.5 }}>
      {options.map((option) => (
        <Button
          key={option}
          color="inherit"
          aria-pressed={option === value}
          onClick={() => set(option)}
          sx={{
            minWidth: 36,
            minHeight: { xs: 40, sm: 26 },
            py: 0,
            px: 0.75,
            borderRadius: 0,
            borderBottom: 3,
            borderColor: option === value ? "tone.marker" : "transparent",
            fontWeight: option === value ? 700 : 400,
          }}
        >
          {option}
        </Button>
      ))}
    </Box>
  );
}
