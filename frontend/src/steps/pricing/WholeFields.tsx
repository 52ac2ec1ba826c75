import TextField from "@mui/material/TextField";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { ConditionChoice, type Condition } from "../../shared/ConditionChoice";

/** What is said of all that comes in together. */
export interface Whole {
  market: string;
  raw_state: Condition;
  unsaid: "sold" | "ask";
  month_first: boolean;
}

export const NOTHING_SAID: Whole = { market: "", raw_state: "NM", unsaid: "sold", month_first: false };
const UNSAID = { sold: "was sold", ask: "is asked for" };

interface Props {
  said: Whole;
  say: (more: Partial<Whole>) => void;
}

/** Where it is from, and how what it does not say is meant. */
export function WholeFields({ said, say }: Props) {
  return (
    <>
      <TextField
        label="Where it is from"
        value={said.market}
        onChange={(event) => say({ market: event.target.value.slice(0, 60) })}
        sx={{ width: 180 }}
      />
      <ConditionChoice
        label="Raw, if not said"
        value={said.raw_state}
        choose={(raw_state) => raw_state && say({ raw_state })}
        width={140}
      />
      <ChoiceBox
        label="What is not said to be either"
        value={said.unsaid}
        set={(unsaid) => say({ unsaid: unsaid === "ask" ? "ask" : "sold" })}
        choices={UNSAID}
        width={190}
      />
      <ChoiceBox
        label="3/11 is"
        value={said.month_first ? "m" : "d"}
        set={(way) => say({ month_first: way === "m" })}
        choices={{ d: "3 November", m: "11 March" }}
        width={150}
      />
    </>
  );
}
