import Box from "@mui/material/Box";
import { Link } from "react-router";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { count, gain, money } from "../../shared/format";
import { EntryRow } from "../../shared/forms/EntryRow";
import { MoneyField } from "../../shared/forms/fields";
import { maybeAmount } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { OFF_PAPER } from "../../shared/print";
import { Section } from "../../shared/Section";
import { keyed } from "../../shared/useOnce";
import { plain } from "../../shared/VerdictLine";
import { type Plan } from "./plans";

const SHARE = z.object({ each: maybeAmount });

/** How the collection does: what it cost, what it is worth sorted, and its cost shared out in the end. */
export function ProjectPart({ plan }: { plan: Plan }) {
  const { project } = plan;
  const path = { number: plan.number };
  const { form, submit, busy, faults } = useEntry({
    empty: { each: "" },
    shape: SHARE,
    send: ({ each }, key) =>
      take(
        client.POST("/api/sorting/plans/{number}/cost", {
          params: { path },
          body: { version: plan.version, each },
          ...keyed(key),
        }),
      ),
    keys: ["sorting", "items", "books"],
    text: "Its cost went to what was entered.",
    undo: (_, { entry }) =>
      take(client.POST("/api/entries/{number}/undo", { params: { path: { number: entry } } })),
  });
  return (
    <Section title="What comes of it" point={plan.item_name ?? "of nothing that was bought"}>
      <Box sx={{ my: 1 }}>
        {plain(plan.project_verdict.sentence)} {plain(plan.project_verdict.rests_on)}
      </Box>
      <Box sx={{ maxWidth: 340 }}>
        <Figures
          rows={[
            ["Entered", `${count(project.entered)} of ${count(project.cards)}`],
            ["Worth sorted, about", money(project.value)],
            ...(plan.item === null ? [] : [["It cost", money(project.cost)] as const]),
            ...(project.expected === null ? [] : [["Thought to be worth", money(project.expected)] as const]),
            ...(project.gain === null ? [] : [["More than its cost", gain(Number(project.gain))] as const]),
            ...(project.per_hour === null
              ? []
              : [["For each hour", gain(Number(project.per_hour))] as const]),
          ]}
        />
      </Box>
      <Box sx={{ mt: 1.5, ...OFF_PAPER }}>
        <Link to="/stock/-/enter">Enter its cards</Link>
      </Box>
      {plan.item !== null && !project.shared && project.entered > 0 && (
        <Box sx={{ mt: 1, ...OFF_PAPER }}>
          <EntryRow submit={submit} busy={busy} faults={faults} act="Share its cost out by value">
            <MoneyField
              control={form.control}
              name="each"
              label="A card without value counts"
              width={190}
              {...(project.unknown > 0 ? { hint: `${count(project.unknown)} rows have none` } : {})}
            />
          </EntryRow>
        </Box>
      )}
      {project.shared && plan.item !== null && (
        <Box sx={{ mt: 1 }}>
          Its cost went to its cards; <Link to={`/stock/${plan.item}`}>it can be taken back</Link> in its
          history.
        </Box>
      )}
    </Section>
  );
}
