import type { Schemas } from "../../shared/api/client";
import type { Entry } from "../../shared/entries/queue";

export type Opening = Schemas["OpeningOut"];
type Pull = Opening["pulls"][number];

/** What is entered in a session: a card, the rest of a pack as base, another pack, or the last thing taken back. */
export type Entered =
  | {
      kind: "card";
      pack: number;
      /** As typed: what is shown until the answer comes, and what is searched if no card was chosen. */
      typed: string;
      /** Which of those that are called so, 1 for the first. */
      place: number;
      line?: string;
      number?: string;
      subject?: string;
      serial: string;
      flaw: string;
    }
  | { kind: "rest"; pack: number; next: number }
  | { kind: "turn"; pack: number }
  | { kind: "takeBack"; pull?: number; of?: string };

export type Pending = Entry<Entered>;

/** Where a session stands once all that is under way has arrived. */
export interface Ahead {
  pack: number;
  /** How many cards of the pack at hand are logged, and how many it holds. */
  logged: number;
  size: number;
  /** What of the pack at hand is logged already, and what is on its way to be. */
  pulls: readonly Pull[];
  pending: readonly Pending[];
  /** The cards logged so far by pack, and how many of them are hits. */
  byPack: ReadonlyMap<number, { cards: number; hits: number }>;
  /** Whether there is something that could be taken back. */
  some: boolean;
}

/**
 * The session as whoever types sees it: what the server answered last, and all that is on its way. A pack that is full
 * moves on to the next one, here as there.
 */
export function lookAhead(data: Opening, entries: readonly Pending[]): Ahead {
  const bases = new Set(data.lines.filter((line) => line.is_base).map((line) => line.id));
  const sizeOf = (pack: number) => data.pack_sizes[pack - 1] ?? 0;
  interface Row {
    pack: number;
    count: number;
    isHit: boolean;
    pull?: Pull;
    entry?: Pending;
  }
  let rows: Row[] = data.pulls.map((pull) => ({
    pack: pull.pack,
    count: pull.count,
    isHit: !bases.has(pull.line),
    pull,
  }));
  const loggedOf = (pack: number) =>
    rows.reduce((sum, row) => (row.pack === pack ? sum + row.count : sum), 0);
  let pack = data.current_pack;
  for (const entry of entries) {
    if (entry.state === "refused") continue;
    const what = entry.what;
    if (what.kind === "card") {
      rows.push({ pack: what.pack, count: 1, isHit: what.line ? !bases.has(what.line) : false, entry });
      pack = loggedOf(what.pack) >= sizeOf(what.pack) ? Math.min(what.pack + 1, data.packs) : what.pack;
    } else if (what.kind === "rest") {
      const room = sizeOf(what.pack) - loggedOf(what.pack);
      if (room > 0) rows.push({ pack: what.pack, count: room, isHit: false, entry });
      pack = what.next;
    } else if (what.kind === "turn") {
      pack = what.pack;
    } else {
      const last =
        what.of === undefined
          ? rows.find((row) => row.pull?.number === what.pull)
          : (rows.find((row) => row.entry?.key === what.of) ?? null);
      if (!last) continue;
      rows = rows.filter((row) => row !== last);
      pack = last.pack;
    }
  }
  const byPack = new Map<number, { cards: number; hits: number }>();
  for (const row of rows) {
    const found = byPack.get(row.pack) ?? { cards: 0, hits: 0 };
    byPack.set(row.pack, {
      cards: found.cards + row.count,
      hits: found.hits + (row.isHit ? row.count : 0),
    });
  }
  const here = rows.filter((row) => row.pack === pack);
  return {
    pack,
    logged: byPack.get(pack)?.cards ?? 0,
    size: sizeOf(pack),
    pulls: here.flatMap((row) => (row.pull ? [row.pull] : [])),
    pending: here.flatMap((row) => (row.entry ? [row.entry] : [])),
    byPack,
    some: rows.length > 0,
  };
}

/**
 * What was entered last and not taken back yet: what takes it back, and the key of what can be dropped instead, since it
 * was never sent.
 */
export function lastToTakeBack(
  data: Opening,
  entries: readonly Pending[],
): { drop: string | null; what: Entered | null } {
  const under = entries.filter((entry) => entry.state !== "refused");
  const gone = new Set(under.flatMap(({ what }) => (what.kind === "takeBack" ? [what.of ?? what.pull] : [])));
  const last = under.findLast(
    ({ key, what }) => (what.kind === "card" || what.kind === "rest") && !gone.has(key),
  );
  if (last) {
    const isLoose = last === under.at(-1) && last.sent === 0;
    return { drop: isLoose ? last.key : null, what: { kind: "takeBack", of: last.key } };
  }
  const pull = data.pulls.findLast((item) => !gone.has(item.number));
  return { drop: null, what: pull ? { kind: "takeBack", pull: pull.number } : null };
}

/** A number and one digit after it: "44 2" is the second of the cards that have number 44. */
export function readTyped(text: string): { find: string; place: number } {
  const found = /^(\S*\d\S*)\s+([1-9])$/.exec(text.trim());
  return found ? { find: found[1] ?? "", place: Number(found[2]) } : { find: text.trim(), place: 0 };
}
