import type { Schemas } from "../../shared/api/client";

export type Sets = Schemas["KnownSetsOut"];
export type Entered = Schemas["EnteredOut"];

/** What is chosen once for a pile: the set as it is typed, its line, where it lies, the condition of what says none. */
export interface Pile {
  set: string;
  line: string;
  place: string;
  condition: string;
  plan: string;
}

export const EMPTY_PILE: Pile = { set: "", line: "Base", place: "", condition: "", plan: "" };

/** A set that is known, one that is named by a title with its year, or why it is neither. */
export type SetRead =
  { release: string; lines: readonly string[] } | { fresh: Schemas["SeenReleaseIn"] } | { fault: string };

/** What is typed of a set: its title as it is known, or the name and year of one that nobody has named yet. */
export function readSet(text: string, sets: Sets["sets"]): SetRead {
  const said = text.trim().replace(/\s+/g, " ");
  if (said === "") return { fault: "choose a set first" };
  const known = sets.find(({ key, title }) => [key, title.toLowerCase()].includes(said.toLowerCase()));
  if (known) return { release: known.key, lines: known.lines };
  const fresh = /^(.*\S) (\d{4})$/.exec(said);
  if (!fresh) return { fault: "that set is not known: type its name and year to begin it" };
  return {
    fresh: { name: fresh[1]!, year: Number(fresh[2]), series: null, publisher: null, code: null },
  };
}

/** The lines of a paste or a scan, each an entry of its own. */
export function linesOf(text: string): string[] {
  return text
    .split(/\r?\n/)
    .map((line) => line.trim().replace(/\t+/g, " "))
    .filter(Boolean);
}

/** How many of a card, and in which condition, are added to what is typed of it by the buttons for the thumb. */
export function withChoices(text: string, count: number, condition: string): string {
  return [text.trim(), count > 1 ? `x${count}` : "", condition].filter(Boolean).join(" ");
}

/** Cards an hour by when they were entered (milliseconds); null while there are too few to say. */
export function perHour(entries: readonly { at: number; count: number }[]): number | null {
  const first = entries[0];
  const last = entries.at(-1);
  if (entries.length < 5 || !first || !last || last.at <= first.at) return null;
  const cards = entries.slice(1).reduce((sum, { count }) => sum + count, 0); // of the first nobody knows how long it took
  return Math.round((cards * 3_600_000) / (last.at - first.at));
}
