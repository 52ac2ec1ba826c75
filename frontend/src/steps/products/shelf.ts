import type { Schemas } from "../../shared/api/client";

export interface ShelfRow {
  release: Schemas["ReleaseOut"];
  format: Schemas["FormatOut"];
}

export interface ShelfAsked {
  find: string;
  show: string;
  sort: string;
}

const num = (text: string | null): number | null => (text === null ? null : Number(text));

/** How far today's price is under the most to pay; null where either is not known. */
function under({ format }: ShelfRow): number | null {
  const price = num(format.price);
  return price === null || !format.figures ? null : format.figures.most.sticker - price;
}

const ORDERS: Record<string, (row: ShelfRow) => number | null> = {
  loss: ({ format }) => format.figures?.loss ?? null,
  under: (row) => {
    const found = under(row);
    return found === null ? null : -found;
  },
  price: ({ format }) => num(format.price),
};

/** The formats of all releases that are asked for, in the order asked for; what is not known comes last. */
export function listFormats(releases: readonly Schemas["ReleaseOut"][], asked: ShelfAsked): ShelfRow[] {
  const words = asked.find.toLowerCase().split(/\s+/).filter(Boolean);
  const rows = releases
    .flatMap((release) => release.formats.map((format) => ({ release, format })))
    .filter(({ release, format }) => {
      const name = `${release.title} ${format.name} ${release.publisher}`.toLowerCase();
      if (!words.every((word) => name.includes(word))) return false;
      if (asked.show === "rule") return format.figures?.meets_rule === true;
      if (asked.show === "dear") return format.figures?.meets_rule === false && format.price !== null;
      return asked.show !== "unpriced" || format.price === null;
    });
  const order = ORDERS[asked.sort];
  if (!order) return rows;
  return rows.sort((a, b) => (order(a) ?? Infinity) - (order(b) ?? Infinity) || 0);
}

/** The same rows under their releases. */
export function byRelease(rows: readonly ShelfRow[]): { release: Schemas["ReleaseOut"]; rows: ShelfRow[] }[] {
  const found = new Map<string, { release: Schemas["ReleaseOut"]; rows: ShelfRow[] }>();
  for (const row of rows) {
    const group = found.get(row.release.id) ?? { release: row.release, rows: [] };
    group.rows.push(row);
    found.set(row.release.id, group);
  }
  return [...found.values()];
}
