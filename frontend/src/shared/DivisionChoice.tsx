import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { inWords } from "./api/client";

interface Props<M extends string> {
  label: string;
  methods: Record<M, string>;
  method: M;
  choose: (method: M) => void;
  /** What divides: first shown, then booked. */
  divide: { data: unknown; error: unknown; mutate: (book: boolean) => void };
}

/** How a cost is divided anew: chosen, shown, and only then booked. */
export function DivisionChoice<M extends string>({ label, methods, method, choose, divide }: Props<M>) {
  return (
    <>
      <Box sx={{ display: "flex", gap: 1.5, mt: 1.5, alignItems: "center", flexWrap: "wrap" }}>
        <TextField
          select
          label={label}
          value={method}
          onChange={(event) => choose(event.target.value as M)}
          sx={{ width: 280 }}
        >
          {Object.entries<string>(methods).map(([name, words]) => (
            <MenuItem key={name} value={name}>
              {words}
            </MenuItem>
          ))}
        </TextField>
        <Button variant="outlined" color="inherit" onClick={() => divide.mutate(false)}>
          Show it
        </Button>
        <Button color="inherit" disabled={!divide.data} onClick={() => divide.mutate(true)}>
          Book the new division
        </Button>
      </Box>
      {Boolean(divide.error) && (
        <Box role="alert" sx={{ color: "error.main", mt: 1 }}>
          {inWords(divide.error)}
        </Box>
      )}
    </>
  );
}
