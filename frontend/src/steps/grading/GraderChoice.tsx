import { useQuery } from "@tanstack/react-query";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { FieldRow } from "../../shared/FieldRow";
import { useAddress } from "../../shared/useAddress";
import { graders, thatGrade, type Asked } from "./queries";

/** What is asked of graders, as it stands in the address. */
export function useAsked(): Asked {
  const [params] = useAddress();
  return {
    grader: Number(params.get("grader")) || null,
    tier: params.get("tier"),
    lenient: params.get("read") === "lenient",
  };
}

/** Which grader, which tier, and how strictly marks are read. */
export function GraderChoice({ grader, tier }: { grader: number; tier: string }) {
  const [params, change] = useAddress();
  const all = useQuery(graders());
  const known = thatGrade(all.data?.graders);
  const chosen = known.find((it) => it.number === grader);
  return (
    <FieldRow>
      <ChoiceBox
        label="Grader"
        value={String(grader)}
        set={(value) => change({ grader: value, tier: null })}
        choices={Object.fromEntries(known.map((it) => [String(it.number), it.name]))}
        width={150}
      />
      <ChoiceBox
        label="Tier"
        value={tier}
        set={(value) => change({ tier: value, grader: String(grader) })}
        choices={Object.fromEntries((chosen?.tiers ?? []).map((it) => [it.id, it.name]))}
        width={150}
      />
      <ChoiceBox
        label="Flaws are read"
        value={params.get("read") ?? "strict"}
        set={(value) => change({ read: value === "strict" ? null : value })}
        choices={{ strict: "strictly", lenient: "leniently" }}
        width={130}
      />
    </FieldRow>
  );
}
