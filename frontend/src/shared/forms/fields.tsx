import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField, { type TextFieldProps } from "@mui/material/TextField";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useRef, type ReactNode } from "react";
import { useController, type Control, type FieldPath, type FieldValues } from "react-hook-form";
import { day } from "../format";
import { useToday } from "../useToday";
import { readDay } from "./reading";

interface Base<In extends FieldValues> {
  control: Control<In>;
  name: FieldPath<In>;
  label: string;
  width?: number | string;
  hint?: string;
  autoFocus?: boolean;
}

/** Any words: label above, the field, and beneath it what is wrong or a hint. */
export function WordsField<In extends FieldValues>(props: Base<In> & { more?: TextFieldProps }) {
  const { field, fieldState } = useController({ control: props.control, name: props.name });
  const { more, hint, width, label, autoFocus } = props;
  const { ref, ...rest } = field;
  return (
    <TextField
      {...rest}
      {...more}
      value={(field.value as string | undefined) ?? ""}
      inputRef={ref}
      label={label}
      autoFocus={autoFocus ?? false}
      error={fieldState.invalid}
      helperText={fieldState.error?.message ?? hint ?? more?.helperText}
      sx={{ width: width ?? 200, maxWidth: 1 }}
    />
  );
}

/** An amount; the keyboard of a phone shows figures, and its currency stands beside it. */
export function MoneyField<In extends FieldValues>(props: Base<In> & { currency?: string }) {
  return (
    <WordsField
      {...props}
      width={props.width ?? 120}
      more={{
        slotProps: {
          htmlInput: { inputMode: "decimal", className: "figure" },
          ...(props.currency ? { input: { endAdornment: <Unit>{props.currency}</Unit> } } : {}),
        },
      }}
    />
  );
}

/** A share, typed and refused in per cent. */
export function PercentField<In extends FieldValues>(props: Base<In>) {
  return (
    <WordsField
      {...props}
      width={props.width ?? 110}
      more={{
        slotProps: {
          htmlInput: { inputMode: "decimal", className: "figure" },
          input: { endAdornment: <Unit>%</Unit> },
        },
      }}
    />
  );
}

/** A count: a whole number. */
export function CountField<In extends FieldValues>(props: Base<In>) {
  return (
    <WordsField
      {...props}
      width={props.width ?? 80}
      more={{ slotProps: { htmlInput: { inputMode: "numeric", className: "figure" } } }}
    />
  );
}

function Unit({ children }: { children: ReactNode }) {
  return (
    <Box component="span" sx={{ color: "text.secondary", fontSize: 13, pl: 0.5 }}>
      {children}
    </Box>
  );
}

/** A day, typed as people write it or picked; it is shown in one way everywhere once it is read. */
export function DayField<In extends FieldValues>(props: Base<In> & { placeholder?: string }) {
  const today = useToday();
  const { field, fieldState } = useController({ control: props.control, name: props.name });
  const picker = useRef<HTMLInputElement>(null);
  const value = (field.value as string | undefined) ?? "";
  const read = readDay(value, today);
  const iso = "value" in read ? read.value : "";
  return (
    <Box sx={{ position: "relative", width: props.width ?? 160 }}>
      <TextField
        name={field.name}
        inputRef={field.ref}
        label={props.label}
        autoFocus={props.autoFocus ?? false}
        placeholder={props.placeholder ? day(props.placeholder) : ""}
        value={/^\d{4}-\d\d-\d\d$/.test(value) && iso ? day(iso) : value}
        onChange={field.onChange}
        onBlur={() => {
          if (iso && iso !== value) field.onChange(iso);
          field.onBlur();
        }}
        error={fieldState.invalid}
        helperText={fieldState.error?.message ?? props.hint}
        fullWidth
        slotProps={{
          input: {
            endAdornment: (
              <Button
                color="inherit"
                tabIndex={-1}
                aria-label={`Pick a day: ${props.label}`}
                onClick={() => picker.current?.showPicker()}
                sx={{ minWidth: 0, p: 0, pr: 0.5, fontSize: 12, color: "text.secondary" }}
              >
                pick
              </Button>
            ),
          },
        }}
      />
      <Box
        component="input"
        ref={picker}
        type="date"
        tabIndex={-1}
        aria-hidden
        value={iso}
        onChange={(event: { target: HTMLInputElement }) => field.onChange(event.target.value)}
        sx={{ position: "absolute", right: 0, bottom: 0, width: 1, height: 0, border: 0, p: 0, opacity: 0 }}
      />
    </Box>
  );
}

/** One of a few. */
export function ChoiceField<In extends FieldValues>(
  props: Base<In> & { choices: Readonly<Record<string, string>>; onChosen?: (value: string) => void },
) {
  const { field, fieldState } = useController({ control: props.control, name: props.name });
  const { ref, ...rest } = field;
  const value = (field.value as string | undefined) ?? "";
  return (
    <TextField
      {...rest}
      select
      inputRef={ref}
      label={props.label}
      value={value in props.choices ? value : ""}
      onChange={(event) => {
        field.onChange(event);
        props.onChosen?.(event.target.value);
      }}
      error={fieldState.invalid}
      helperText={fieldState.error?.message ?? props.hint}
      slotProps={{ select: { displayEmpty: true } }}
      sx={{ width: props.width ?? 200, maxWidth: 1 }}
    >
      {Object.entries(props.choices).map(([key, text]) => (
        <MenuItem key={key} value={key}>
          {text}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Yes or no. */
export function CheckField<In extends FieldValues>({ control, name, label }: Base<In>) {
  const { field } = useController({ control, name });
  return (
    <FormControlLabel
      label={label}
      control={
        <Checkbox
          size="small"
          checked={Boolean(field.value)}
          onChange={(event) => field.onChange(event.target.checked)}
          slotProps={{ input: { ref: field.ref } }}
        />
      }
    />
  );
}

/** What was refused and belongs to no field. */
export function OtherFaults({ faults }: { faults: readonly string[] }) {
  return faults.map((fault) => (
    <Box key={fault} role="alert" sx={{ color: "error.main", my: 1 }}>
      {fault}
    </Box>
  ));
}
