import type { Schemas } from "./api/client";
import { money, percent } from "./format";

type Prospect = Schemas["ProspectOut"];

/** What it holds opened: at least that, where something in it is unknown. */
export function holds({ mean, lower_bound }: Prospect): string {
  return lower_bound && mean !== null ? `≥ ${money(mean)}` : money(mean);
}

/** How often it holds less than was paid: at most that, where something in it is unknown. */
export function losesIn({ loss, lower_bound }: Prospect): string {
  return lower_bound && loss !== null ? `≤ ${percent(loss)}` : percent(loss);
}
