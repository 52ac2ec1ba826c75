import type { Schemas } from "../../shared/api/client";

export type Goal = Schemas["GoalOut"];
export type Slot = Goal["slots"][number];

export const KINDS: Record<Goal["kind"], string> = { set: "set", rainbow: "rainbow", slots: "slots" };

/** Names between commas or lines, each once. */
export function subjectsOf(text: string): string[] {
  return [
    ...new Set(
      text
        .split(/[,\n]/)
        .map((name) => name.trim())
        .filter(Boolean),
    ),
  ];
}

export type Shown = "all" | "missing" | "doubles";

/** The slots that are shown. */
export function shownOf(slots: readonly Slot[], shown: Shown): Slot[] {
  if (shown === "missing") return slots.filter((slot) => slot.item === null);
  return shown === "doubles" ? slots.filter((slot) => slot.spare > 0) : [...slots];
}

/** What a slot is, in words, for who cannot see the grid. */
export function sayOf(slot: Slot): string {
  const name = slot.card && slot.card.subject !== slot.name ? `${slot.name} ${slot.card.subject}` : slot.name;
  const state = slot.item === null ? "missing" : "here";
  return `${name}: ${state}${slot.spare > 0 ? `, ${slot.spare} double` : ""}`;
}
