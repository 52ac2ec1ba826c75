import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { Ask } from "../../shared/Ask";
import { askAnew } from "../../shared/api/forget";
import { client, take, type Schemas } from "../../shared/api/client";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { CONDITIONS } from "../../shared/ConditionChoice";
import { FieldRow } from "../../shared/FieldRow";
import { counted } from "../../shared/format";
import { useAct } from "../../shared/useAct";
import { keyed } from "../../shared/useOnce";
import { LEAVE_WORDS, LEAVES, type Leaves } from "./leaving";

type Item = Schemas["ItemOut"];
type Change = Omit<Schemas["TogetherIn"], "items">;

/** What is done with all that are chosen at once: they are corrected, put together, or leave the stock. */
export function Chosen({ items, done }: { items: readonly Item[]; done: () => void }) {
  const queries = useQueryClient();
  const [place, setPlace] = useState("");
  const [out, setOut] = useState<{ how: Leaves; why: string } | null>(null);
  const many = counted(items.length, "row");
  const which = items.map(({ number, version }) => ({ number, version }));
  const correct = useAct(
    (change: Change) => take(client.PUT("/api/items", { body: { ...change, items: which } as never })),
    {
      keys: ["items"],
      text: `Kept of ${many}.`,
      undo: async (change) => {
        // each as it was, at the version that the change made of it
        for (const item of items) {
          const before = Object.fromEntries(
            Object.keys(change).map((name) => [name, item[name as keyof Item]]),
          );
          await take(
            client.PUT("/api/items/{number}", {
              params: { path: { number: item.number } },
              body: { ...before, version: item.version + 1 } as never,
            }),
          );
        }
        await askAnew(queries, ["items"]);
      },
      done,
    },
  );
  const leave = useAct(
    (said: { how: Leaves; why: string }) =>
      take(
        client.POST("/api/items/out", { body: { items: which, ...LEAVES[said.how].sent, why: said.why } }),
      ),
    {
      keys: ["items", "books"],
      text: `${many} left the stock.`,
      undo: async () => {
        // what took each out made a version of it
        const back = which.map(({ number, version }) => ({ number, version: version + 1 }));
        await take(client.POST("/api/items/back", { body: { items: back } }));
        await askAnew(queries, ["items", "books"]);
      },
      done: () => {
        setOut(null);
        done();
      },
    },
  );
  const join = useAct(
    () =>
      take(
        client.POST("/api/items/join", {
          body: { numbers: items.map((item) => item.number) },
          ...keyed(crypto.randomUUID()),
        }),
      ),
    { keys: ["items", "books"], text: "Put together on the first of them.", done },
  );
  if (items.length === 0) return null;
  const busy = correct.isPending || leave.isPending || join.isPending;
  return (
    <Box
      role="region"
      aria-label="The chosen rows"
      sx={{ borderLeft: 3, borderColor: "tone.marker", pl: 1.5, mb: 1 }}
    >
      <b>{many} chosen</b>
      <FieldRow>
        <TextField
          label="Place of all"
          value={place}
          onChange={(event) => setPlace(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && correct.mutate({ place: place.trim() || null })}
          sx={{ width: 130 }}
        />
        <Button
          variant="outlined"
          color="inherit"
          disabled={busy}
          onClick={() => correct.mutate({ place: place.trim() || null })}
        >
          Put there
        </Button>
        <TextField
          select
          label="Condition of all"
          value=""
          disabled={busy}
          onChange={(event) => correct.mutate({ condition: event.target.value as Change["condition"] })}
          sx={{ width: 120 }}
        >
          {CONDITIONS.map((state) => (
            <MenuItem key={state} value={state}>
              {state}
            </MenuItem>
          ))}
        </TextField>
        <Button
          variant="outlined"
          color="inherit"
          disabled={busy}
          onClick={() => correct.mutate({ never_for_sale: true })}
        >
          Never for sale
        </Button>
        <Button color="inherit" disabled={busy} onClick={() => correct.mutate({ never_for_sale: false })}>
          For sale
        </Button>
        {items.every((item) => item.state === "held" && item.kind !== "supply") && (
          <Button
            variant="outlined"
            color="inherit"
            component={Link}
            to={`/selling/-/new?items=${items.map((item) => item.number).join(",")}`}
          >
            Sell
          </Button>
        )}
        {items.every((item) => item.state === "held") && (
          <Button
            color="inherit"
            component={Link}
            to={`/selling/-/list?items=${items.map((item) => item.number).join(",")}`}
          >
            List
          </Button>
        )}
        {items.every((item) => item.state === "held") && items.length <= 200 && (
          <>
            <Button
              color="inherit"
              href={`/api/price-list.pdf?items=${items.map((item) => item.number).join(",")}`}
              download
            >
              Price list (PDF)
            </Button>
            <Button
              color="inherit"
              href={`/api/price-list.pdf?own=true&items=${items.map((item) => item.number).join(",")}`}
              download
            >
              with floors, for you
            </Button>
          </>
        )}
        {items.length > 1 && (
          <Button color="inherit" disabled={busy} onClick={() => join.mutate(undefined)}>
            Join them
          </Button>
        )}
        <Button color="inherit" disabled={busy} onClick={() => setOut({ how: "gift", why: "" })}>
          Take out
        </Button>
        <Button color="inherit" onClick={done}>
          Choose none
        </Button>
      </FieldRow>
      {out && (
        <Ask
          title={`Take ${many} out of the stock?`}
          act="Take them out"
          busy={leave.isPending}
          go={() => leave.mutate(out)}
          close={() => setOut(null)}
        >
          <FieldRow>
            <ChoiceBox
              label="They are"
              value={out.how}
              set={(value) => setOut({ ...out, how: value as Leaves })}
              choices={LEAVE_WORDS}
              width={170}
            />
            <TextField
              label="Why, to whom"
              value={out.why}
              onChange={(event) => setOut({ ...out, why: event.target.value })}
              sx={{ width: 240 }}
            />
          </FieldRow>
          Their cost goes with them, into the books. Each can be taken back, in the books or on its own page.
        </Ask>
      )}
    </Box>
  );
}
