import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { useWatch } from "react-hook-form";
import * as z from "zod/mini";
import { CheckField, ChoiceField, MoneyField, OtherFaults } from "../../shared/forms/fields";
import { maybeAmount } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { Aside } from "../../shared/states";
import type { Schemas } from "../../shared/api/client";
import { type Opening } from "./entering";

/** The packs of the box in the hand with nothing logged in them or after them. */
function untouched(data: Opening): number {
  const reached = Math.max(data.gone, ...data.pulls.map((pull) => pull.pack));
  return data.packs - reached;
}

interface Props {
  data: Opening;
  finish: (body: Schemas["FinishIn"]) => Promise<void>;
  /** What was entered is still on its way, or was refused: first that. */
  waits: boolean;
}

export function Finish(props: Props) {
  const [asking, setAsking] = useState(false);
  if (asking) return <Closing {...props} leave={() => setAsking(false)} />;
  return (
    <Button variant="contained" disabled={props.waits} onClick={() => setAsking(true)}>
      Finish
    </Button>
  );
}

const WAYS = { value: "by what each is worth", count: "by count, each alike" };

/** What has to be said before the cost moves: packs with nothing logged, and what cards without a price are worth. */
function Closing({ data, finish, waits, leave }: Props & { leave: () => void }) {
  const left = untouched(data);
  const unvalued = data.unvalued;
  const { form, submit, busy, faults } = useEntry({
    empty: { hot: false, rest: "sealed", by: "value", worths: unvalued.map(() => "") },
    shape: z.pipe(
      z.object({ hot: z.boolean(), rest: z.string(), by: z.string(), worths: z.array(maybeAmount) }),
      z.transform((typed): Schemas["FinishIn"] => {
        const byCount = unvalued.length > 0 && typed.by === "count";
        return {
          rest_is_base: left > 0 && typed.rest === "base",
          stopped_hot: typed.hot,
          by_count: byCount,
          worths: byCount
            ? []
            : unvalued.flatMap(({ line, card }, at) => {
                const worth = typed.worths[at] ?? null;
                return worth === null ? [] : [{ line, card, worth }];
              }),
        };
      }),
    ),
    send: (body) => finish(body),
    keys: [],
  });
  const { control } = form;
  const by = useWatch({ control, name: "by" });
  return (
    <Box component="form" noValidate onSubmit={submit}>
      <Box sx={{ display: "flex", alignItems: "flex-end", gap: 1, flexWrap: "wrap" }}>
        <CheckField control={control} name="hot" label="stopped after a hot run" />
        {left > 0 && (
          <ChoiceField
            control={control}
            name="rest"
            label={`${left === 1 ? "The pack" : `The ${left} packs`} with nothing logged`}
            choices={{ sealed: "stay sealed, with their cost", base: "were opened, base cards only" }}
            width={250}
          />
        )}
        {unvalued.length > 0 && (
          <ChoiceField control={control} name="by" label="Divide the cost" choices={WAYS} width={200} />
        )}
        {by === "value" &&
          unvalued.map((item, at) => (
            <MoneyField
              key={`${item.line} ${item.card}`}
              control={control}
              name={`worths.${at}`}
              label={`${item.name}: worth of one`}
              currency={data.currency}
              width={260}
            />
          ))}
        <Button type="submit" variant="contained" disabled={waits || busy}>
          Move the cost to the cards
        </Button>
        <Button color="inherit" onClick={leave}>
          Not yet
        </Button>
      </Box>
      {unvalued.length > 0 && (
        <Aside>
          Nobody knows what {unvalued.length === 1 ? "this card is" : "these cards are"} worth: say it, or the
          cost goes to all cards alike.
        </Aside>
      )}
      <OtherFaults faults={faults} />
    </Box>
  );
}

/** A way back or on, with what it does. */
export function Way({ name, go, what }: { name: string; go: () => Promise<void>; what: string }) {
  return (
    <Box sx={{ mb: 2 }}>
      <Button color="inherit" variant="outlined" onClick={() => void go()}>
        {name}
      </Button>
      <Aside>{what}</Aside>
    </Box>
  );
}
