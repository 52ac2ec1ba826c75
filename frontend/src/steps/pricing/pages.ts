import type { Schemas } from "../../shared/api/client";

export type Result = Schemas["ProposedOut"];

/** What the owner said of a result, where it differs from what was read. */
export interface Said {
  taken?: boolean;
  version?: number;
  /** What that version is called. */
  name?: string;
  state?: string;
}

export type AllSaid = Readonly<Record<number, Said>>;

/** Which version a result is of by now; null: not known. */
export function versionOf(result: Result, said: AllSaid): number | null {
  return said[result.row]?.version ?? result.version;
}

/** The results that will be kept: what is ready, and what the owner took, unless it cannot be. */
export function takenOf(results: readonly Result[], said: AllSaid): ReadonlySet<number> {
  const taken = results.filter(
    (result) => canBeTaken(result, said) && (said[result.row]?.taken ?? result.ready),
  );
  return new Set(taken.map((result) => result.row));
}

/** Whether a result has all that a price needs. */
export function canBeTaken(result: Result, said: AllSaid): boolean {
  const state = said[result.row]?.state ?? result.state;
  return result.price !== null && Boolean(state) && versionOf(result, said) !== null;
}

/** What to look at before a result is taken, or why it is not; nothing if there is nothing to say. */
export function doubtOf(result: Result, said: AllSaid): string {
  const isSaid = said[result.row]?.version !== undefined;
  const parts = [
    result.known && "there already",
    result.refused && !isSaid ? `not taken: ${result.refused}` : result.doubt,
  ];
  return parts
    .filter((part) => part !== null && part !== false)
    .map((part) => `${part.charAt(0).toUpperCase()}${part.slice(1)}.`)
    .join(" ");
}

/** What is said once some are chosen: whoever is no longer chosen is left out, whoever is new is taken. */
export function choose(results: readonly Result[], said: AllSaid, chosen: ReadonlySet<number>): AllSaid {
  const now = takenOf(results, said);
  const fresh = { ...said };
  for (const { row } of results) {
    if (chosen.has(row) !== now.has(row)) fresh[row] = { ...fresh[row], taken: chosen.has(row) };
  }
  return fresh;
}

/** The results as they are sent. */
export function toRows(results: readonly Result[], said: AllSaid): Schemas["RowIn"][] {
  const taken = takenOf(results, said);
  return results.flatMap((result) => {
    const { kind, day, price, currency, row } = result;
    const state = said[row]?.state ?? result.state;
    const version = versionOf(result, said);
    if (!taken.has(row) || version === null) return [];
    if (kind === null || day === null || price === null || currency === null || state === null) return [];
    return [
      {
        version,
        kind,
        day,
        price,
        currency,
        state,
        shipping: result.shipping,
        bids: result.bids,
        lot: result.lot,
        market: result.market,
        tax: result.tax,
        title: result.title,
        own_id: result.own_id,
        subgrades: result.subgrades,
        photo: result.photo,
      },
    ];
  });
}
