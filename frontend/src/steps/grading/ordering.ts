/** Rows by one of their fields; what is not known comes last either way, and rows that are alike keep their order. */
export function inOrder<R>(rows: readonly R[], by: keyof R, descending: boolean): R[] {
  const value = (row: R): string | number | null => {
    const found = row[by];
    if (found === null || found === undefined) return null;
    if (typeof found === "number") return found;
    const text = String(found);
    return text !== "" && Number.isFinite(Number(text)) ? Number(text) : text.toLowerCase();
  };
  return [...rows].sort((one, other) => {
    const [a, b] = [value(one), value(other)];
    if (a === null || b === null) return Number(a === null) - Number(b === null);
    const order = typeof a === "number" && typeof b === "number" ? a - b : String(a).localeCompare(String(b));
    return descending ? -order : order;
  });
}
