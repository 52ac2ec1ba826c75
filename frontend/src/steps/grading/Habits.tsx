import { useQuery } from "@tanstack/react-query";
import { client, take, type Schemas } from "../../shared/api/client";
import { faultAt } from "../../shared/faults";
import { FieldRow } from "../../shared/FieldRow";
import { asPercent } from "../../shared/format";
import { readAmount, readShare } from "../../shared/forms/reading";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useAct } from "../../shared/useAct";
import { ValueField } from "../../shared/ValueField";
import { KEYS } from "./queries";

type Said = Schemas["GradingHabitsIn"];

/** By what grading is weighed: corrected where it stands. */
export function Habits() {
  const habits = useQuery({
    queryKey: ["grading", "habits"],
    queryFn: () => take(client.GET("/api/grading/habits")),
  });
  const save = useAct((body: Said) => take(client.PUT("/api/grading/habits", { body })), {
    keys: KEYS,
    text: "Kept.",
    quiet: true,
  });
  const known = habits.data;
  if (!known) return null;
  const field = (name: keyof Omit<Said, "version">, label: string, isShare = false, hint?: string) => (
    <ValueField
      label={label}
      value={isShare ? asPercent(Number(known[name])) : known[name]}
      commit={(text) => {
        const read = isShare ? readShare(text) : readAmount(text);
        save.mutate({ ...known, [name]: "value" in read ? read.value : text });
      }}
      fault={faultAt(save.error, name) ?? null}
      {...(hint ? { hint } : {})}
      inputMode="decimal"
      width={170}
    />
  );
  return (
    <Section title="By what it is weighed" point="your habits">
      <FieldRow>
        {field("per_card", "A card’s part of parcels", false, "and of sleeves, holders")}
        {field("crack_cost", "Cracking one out costs")}
        {field("breakage", "Broken in cracking, %", true)}
        {field("strength", "The population counts", false, "times one grade in two")}
      </FieldRow>
      <Aside>
        Cracking a holder throws splinters and can cut: eye protection, gloves, and nobody near. Grading is an
        opinion, and estimates are not promises.
      </Aside>
    </Section>
  );
}
