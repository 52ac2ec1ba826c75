import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { cardName, CardSearch } from "../../shared/CardSearch";
import { ConditionChoice } from "../../shared/ConditionChoice";
import { faultAt, refused } from "../../shared/faults";
import { money } from "../../shared/format";
import { asksFor, EMPTY_THING, type Draft, type Thing } from "./draft";
import { useFormats } from "../../shared/useFormats";

interface Props {
  things: Thing[];
  set: (things: Thing[]) => void;
  method: Draft["method"];
  error: unknown;
  shares: readonly string[] | undefined;
}

/** What came for the money, a row for each thing, with what a division needs to know of it. */
export function ThingRows({ things, set, method, error, shares }: Props) {
  const change = (at: number, part: Partial<Thing>) =>
    set(things.map((thing, i) => (i === at ? { ...thing, ...part } : thing)));
  return (
    <>
      {things.map((thing, at) => (
        <ThingRow
          key={at}
          thing={thing}
          place={`things[${at}]`}
          method={method}
          error={error}
          share={shares?.[at]}
          change={(part) => change(at, part)}
          leaveOut={things.length > 1 ? () => set(things.filter((_, i) => i !== at)) : undefined}
        />
      ))}
      <Button
        color="inherit"
        sx={{ mt: 1 }}
        onClick={() => set([...things, { ...EMPTY_THING, what: "card" }])}
      >
        Another thing
      </Button>
    </>
  );
}

interface RowProps {
  thing: Thing;
  place: string;
  method: Draft["method"];
  error: unknown;
  share: string | undefined;
  change: (part: Partial<Thing>) => void;
  leaveOut: (() => void) | undefined;
}

function ThingRow({ thing, place, method, error, share, change, leaveOut }: RowProps) {
  const formats = useFormats();
  const asked = asksFor(method);
  const isCard = thing.what === "card" || thing.what === "stack";
  const field = (
    name: "name" | "count" | "value" | "fixed" | "weight" | "serial" | "place",
    label: string,
    width: number,
  ) => (
    <TextField
      label={label}
      value={thing[name]}
      onChange={(event) => change({ [name]: event.target.value })}
      {...refused(error, `${place}.${name}`)}
      sx={{ width }}
    />
  );
  const choose = (what: string) => {
    const found = formats.data?.find((item) => `${item.release}/${item.format}` === what);
    change({
      what,
      release: null,
      line: null,
      number: null,
      variant: null,
      ...(found ? { name: found.name, value: found.price ?? "" } : {}),
    });
  };
  return (
    <Box
      sx={{
        display: "flex",
        flexWrap: "wrap",
        gap: 1.5,
        py: 1.5,
        alignItems: "flex-start",
        borderBottom: 1,
        borderColor: "divider",
      }}
    >
      <TextField
        select
        label="What it is"
        value={thing.what}
        onChange={(event) => choose(event.target.value)}
        sx={{ width: 240 }}
      >
        <MenuItem value="card">a single card</MenuItem>
        <MenuItem value="stack">a stack of cards</MenuItem>
        <MenuItem value="other">something else</MenuItem>
        {formats.data?.map((item) => (
          <MenuItem key={`${item.release}/${item.format}`} value={`${item.release}/${item.format}`}>
            {item.name}
          </MenuItem>
        ))}
      </TextField>
      {isCard ? (
        <CardSearch
          label="Card, by number or subject"
          value={thing.name}
          type={(name) => change({ name, release: null, line: null, number: null, variant: null })}
          pick={(card) =>
            change({
              name: cardName(card),
              release: card.release,
              line: card.line,
              number: card.number,
              variant: card.variant || null,
              value: thing.value || (card.price ?? ""),
            })
          }
          fault={faultAt(error, `${place}.name`)}
        />
      ) : (
        field("name", "In words", 250)
      )}
      {thing.what !== "card" && field("count", "How many", 90)}
      {field("value", thing.what === "card" ? "Worth, about" : "Worth of all, about", 140)}
      {asked.fixed && field("fixed", "Its part, by hand", 130)}
      {asked.weight && field("weight", "Weight of each", 120)}
      {isCard && (
        <>
          <ConditionChoice
            value={thing.condition}
            choose={(condition) => change({ condition: condition ?? "" })}
          />
          {thing.what === "card" && field("serial", "Serial number", 120)}
        </>
      )}
      {field("place", "Place", 120)}
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={thing.gift}
            onChange={(event) => change({ gift: event.target.checked })}
          />
        }
        label="a gift: carries no cost"
      />
      <Box sx={{ flex: 1 }} />
      {share !== undefined && (
        <Box sx={{ alignSelf: "center", textAlign: "right" }}>
          carries <b>{money(share)}</b>
        </Box>
      )}
      {leaveOut && (
        <Button
          color="inherit"
          onClick={leaveOut}
          sx={{ alignSelf: "center" }}
          aria-label={`Leave out: ${thing.name || "thing"}`}
        >
          Leave out
        </Button>
      )}
    </Box>
  );
}
