import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { DAY_FIELD } from "../../shared/dayField";
import { refused } from "../../shared/faults";
import { CHARGES, emptyCharge, type Charge } from "./draft";

interface Props {
  charges: Charge[];
  set: (charges: Charge[]) => void;
  error: unknown;
  home: string;
  boughtOn: string;
}

/** What was paid, a row for each cost: in its currency, on its day, from its purse. */
export function ChargeRows({ charges, set, error, home, boughtOn }: Props) {
  const change = (at: number, part: Partial<Charge>) =>
    set(charges.map((charge, i) => (i === at ? { ...charge, ...part } : charge)));
  return (
    <>
      {charges.map((charge, at) => {
        const field = (name: "amount" | "currency" | "rate" | "purse", label: string, width: number) => (
          <TextField
            label={label}
            value={charge[name]}
            onChange={(event) =>
              change(at, {
                [name]: name === "currency" ? event.target.value.toUpperCase() : event.target.value,
              })
            }
            {...refused(error, `charges[${at}].${name}`)}
            sx={{ width }}
          />
        );
        return (
          <Box
            key={at}
            sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mt: 1.5, alignItems: "flex-start" }}
          >
            <TextField
              select
              label="Kind"
              value={charge.kind}
              onChange={(event) => change(at, { kind: event.target.value as Charge["kind"] })}
              sx={{ width: 125 }}
            >
              {CHARGES.map((kind) => (
                <MenuItem key={kind} value={kind}>
                  {kind}
                </MenuItem>
              ))}
            </TextField>
            {field("amount", "Amount", 120)}
            {field("currency", "Currency", 95)}
            {charge.currency !== home && field("rate", `Rate, ${home} for one`, 150)}
            <TextField
              label="Paid on"
              {...DAY_FIELD}
              value={charge.day || boughtOn}
              onChange={(event) => change(at, { day: event.target.value })}
              {...refused(error, `charges[${at}].day`)}

              sx={{ width: 150 }}
            />
            {field("purse", "Paid from", 120)}
            {charges.length > 1 && (
              <Button
                color="inherit"
                onClick={() => set(charges.filter((_, i) => i !== at))}
                aria-label={`Leave out: ${charge.kind}`}
              >
                Leave out
              </Button>
            )}
          </Box>
        );
      })}
      <Button
        color="inherit"
        sx={{ mt: 1 }}
        onClick={() =>
          set([...charges, emptyCharge("shipping", charges[0]?.currency ?? home, charges[0]?.purse)])
        }
      >
        Another cost
      </Button>
    </>
  );
}
