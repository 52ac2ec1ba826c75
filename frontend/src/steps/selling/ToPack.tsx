import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { client, take } from "../../shared/api/client";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { Aside } from "../../shared/states";
import { StepList } from "../../shared/StepList";
import { useAct } from "../../shared/useAct";
import { useDraft } from "../../shared/useDraft";
import { askedBy, lineOf } from "./confirming";
import { draw } from "./picture";
import {
  KEYS,
  order as orderQuery,
  packing,
  stepsOf,
  supplies,
  versionOf,
  type Order,
  type Packing,
} from "./queries";

interface Ticked {
  ticked: string[];
  confirmed: number[];
}

/** How just this parcel is packed: each thing confirmed by its number, the steps ticked and kept, then packed. */
export function ToPack({ order, plan }: { order: Order; plan: Packing }) {
  const queries = useQueryClient();
  const path = { number: order.number };
  // What is ticked counts at once and outlives a reload until it is kept; it is kept one after another, each at the
  // version that the one before left, and what a later tick replaced is not sent any more.
  const [unsent, remember, forget] = useDraft<Ticked | null>(stepsOf(order.number), null);
  const newest = useRef<Ticked | null>(null);
  const keep = useAct(
    async (said: Ticked) => {
      if (said !== newest.current) return;
      const version = versionOf(queries, order);
      const done = await take(
        client.PUT("/api/orders/{number}/steps", { params: { path }, body: { version, ...said } }),
      );
      queries.setQueryData(
        orderQuery(order.number).queryKey,
        (now) => now && { ...now, version: done.version },
      );
      if (said === newest.current) forget();
    },
    { keys: [], scope: stepsOf(order.number) },
  );
  const put = (said: Ticked) => {
    newest.current = said;
    remember(said);
    queries.setQueryData(packing(order.number).queryKey, (now) => now && { ...now, ...said });
    keep.mutate(said);
  };
  const before = useRef(unsent); // of before the page was loaded anew
  useEffect(() => {
    if (!before.current) return;
    put(before.current);
    before.current = null;
  });
  const now = () => queries.getQueryData(packing(order.number).queryKey) ?? plan;
  const pack = useAct(
    () => {
      const version = versionOf(queries, order);
      return take(client.POST("/api/orders/{number}/packed", { params: { path }, body: { version } }));
    },
    {
      scope: stepsOf(order.number),
      keys: KEYS,
      text: `${order.reference} is packed.`,
      done: forget,
      undo: () => take(client.DELETE("/api/orders/{number}/packed", { params: { path } })),
    },
  );
  const isReady = (plan.chosen !== null || plan.by_hand) && !pack.isPending && !keep.isPending;
  useKey("p", "it is packed", () => pack.mutate(undefined), { on: isReady });
  const left = order.lines.filter((it) => !plan.confirmed.includes(it.item));
  const packed = (
    <Box sx={{ display: "flex", alignItems: "center", flexWrap: "wrap", gap: 1, my: 1.5 }}>
      <Button variant="contained" disabled={!isReady} onClick={() => pack.mutate(undefined)}>
        Packed
      </Button>
      <Key>P</Key>
      <Box sx={{ fontSize: 13, color: "text.secondary" }}>
        {left.length > 0 &&
          (left.length === 1
            ? "1 thing is not confirmed yet"
            : `${left.length} things are not confirmed yet`)}
      </Box>
    </Box>
  );
  const confirm = (item: number) => {
    const { ticked, confirmed } = now();
    put({ ticked, confirmed: [...new Set([...confirmed, item])] });
  };
  if (plan.by_hand)
    return (
      <>
        <Confirm order={order} plan={plan} confirm={confirm} />
        <Aside>{plan.missing}.</Aside>
        {packed}
      </>
    );
  if (plan.missing)
    return (
      <Aside>
        {plan.missing}: <Link to="/selling/-/supplies">packing supplies</Link>,{" "}
        <Link to="/grading/-/graders">carriers</Link>.
      </Aside>
    );
  return (
    <>
      <Confirm order={order} plan={plan} confirm={confirm} />
      <StepList
        title="Steps for this one"
        letter="t"
        steps={plan.steps.map((text) => ({ id: text, text, done: plan.ticked.includes(text), why: "" }))}
        tick={(step, done) => {
          const { ticked, confirmed } = now();
          put({
            ticked: done ? [...ticked, step.id] : ticked.filter((it) => it !== step.id),
            confirmed,
          });
        }}
      />
      <Picture plan={plan} />
      {packed}
    </>
  );
}

function Confirm(props: { order: Order; plan: Packing; confirm: (item: number) => void }) {
  const { order, plan, confirm } = props;
  const [typed, setTyped] = useState("");
  const [wrong, setWrong] = useState<string | null>(null);
  const left = order.lines.filter((it) => !plan.confirmed.includes(it.item));
  if (left.length === 0)
    return (
      <Box role="status" sx={{ mb: 1, fontSize: 13, color: "text.secondary" }}>
        {order.lines.length === 1 ? "The thing in your hand" : "All that is in your hand"} is what was sold.
      </Box>
    );
  return (
    <TextField
      label="What goes in, by its number"
      value={typed}
      onChange={(event) => {
        setTyped(event.target.value);
        setWrong(null);
      }}
      onKeyDown={(event) => {
        if (event.key !== "Enter" || !typed.trim()) return;
        event.preventDefault();
        const found = lineOf(typed, left);
        if (!found) return setWrong("That is not in this order: look at the copy in your hand.");
        confirm(found.item);
        setTyped("");
      }}
      error={wrong !== null}
      helperText={
        wrong ??
        `of ${left
          .map((it) => askedBy(it, left))
          .slice(0, 6)
          .join(", ")}; Enter confirms it`
      }
      slotProps={{ htmlInput: { autoComplete: "off" } }}
      sx={{ width: 300, mb: 1 }}
    />
  );
}

function Picture({ plan }: { plan: Packing }) {
  const all = useQuery(supplies());
  const way = plan.ways.find((it) => it.mail_class === plan.chosen);
  if (!way) return null;
  const holder = all.data?.supplies.find((it) => it.name === way.holder)?.outside ?? null;
  const drawn = draw(way, holder);
  const size = way.size.map((side) => Number(side).toFixed(1).replace(/\.0$/, "")).join(" × ");
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 3, mt: 1 }}>
      <Box
        component="svg"
        role="img"
        aria-label={`The parcel: ${size} mm`}
        viewBox={`-1 -1 ${drawn.width + 2} ${drawn.height + 2}`}
        sx={{ width: drawn.width, maxWidth: 1, color: "text.primary" }}
      >
        <rect {...drawn.outer} rx={2} fill="var(--mui-palette-background-paper)" stroke="currentColor" />
        {drawn.holder && (
          <>
            <rect {...drawn.holder} fill="none" stroke="currentColor" />
            <rect
              x={drawn.holder.x + drawn.holder.width - 8}
              y={drawn.holder.y - 3}
              width={14}
              height={drawn.holder.height + 6}
              fill="var(--mui-palette-tone-marker)"
              stroke="currentColor"
            />
          </>
        )}
        <rect {...drawn.card} fill="currentColor" opacity={0.55} />
      </Box>
      <Box sx={{ fontSize: 13 }}>
        <div>
          {way.outer}: {size} mm
        </div>
        {way.holder && <div>{way.holder}, its mouth to the right; tape with a tab</div>}
        {way.wrap && <div>{way.wrap} around all of it</div>}
        <b>about {Number(way.weight).toFixed(0)} g</b>
      </Box>
    </Box>
  );
}
