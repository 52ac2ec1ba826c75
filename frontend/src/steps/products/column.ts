import { readAmount } from "../../shared/forms/reading";

export interface ColumnRow {
  row: number;
  number: string;
  price: string;
  fault?: string;
}

/** Rows as they come out of a table or are typed: a number, then its price, with a tab, a semicolon or spaces between. */
export function readColumn(text: string): ColumnRow[] {
  return text.split(/\r?\n/).flatMap((line, at): ColumnRow[] => {
    if (!line.trim()) return [];
    const row = at + 1;
    const marked = line.includes("\t") || line.includes(";");
    const parts = marked ? line.split(/[\t;]/) : (/^\s*(\S+)(?:\s+(.*?))?\s*$/.exec(line)?.slice(1) ?? []);
    const number = (parts[0] ?? "").trim();
    const said = (parts[1] ?? "").trim();
    if (!number) return [{ row, number, price: said, fault: "it names no card" }];
    if (!said) return [{ row, number, price: "" }];
    const read = readAmount(said);
    return "value" in read
      ? [{ row, number, price: read.value }]
      : [{ row, number, price: said, fault: read.fault }];
  });
}
