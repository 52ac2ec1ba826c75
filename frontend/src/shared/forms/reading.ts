/** What a field holds, read as people write it: the value that is sent, or what is wrong in words. */
export type Read<T> = { value: T } | { fault: string };

const wrong = (fault: string): { fault: string } => ({ fault });

/**
 * An amount with point or comma: "1.50", "1,50", "1 234,50", "1,234.50". A lone mark before three digits could mean a
 * thousand or a fraction: that is asked about, not guessed.
 */
export function readAmount(text: string): Read<string> {
  const plain = text.trim().replace(/[\s\u00a0’']/g, "");
  if (!/^[-\u2212]?[\d.,]+$/.test(plain) || !/\d/.test(plain)) return wrong("write an amount like 12.50");
  const mark = Math.max(plain.lastIndexOf("."), plain.lastIndexOf(","));
  const sign = plain.replace("\u2212", "-");
  if (mark < 0) return { value: sign };
  const [before, after] = [sign.slice(0, mark), sign.slice(mark + 1)];
  const grouped = /[.,]/.test(before);
  if (!grouped && after.length === 3 && plain[mark] === "," && before.replace("-", "") !== "0")
    return wrong(`write ${before}${after} or ${before}.00: “${text.trim()}” could mean either`);
  if (grouped) {
    const group = before.includes(",") ? "," : ".";
    const one = new RegExp(`^-?\\d{1,3}(\\${group}\\d{3})+$`);
    if (!one.test(before)) return wrong("write an amount like 1234.50");
    if (plain[mark] === group)
      return after.length === 3
        ? { value: sign.replace(/[.,]/g, "") }
        : wrong("write an amount like 1234.50");
  }
  return { value: `${before.replace(/[.,]/g, "") || "0"}.${after || "0"}` };
}

/** A count: a whole number, grouped or not. */
export function readWhole(text: string): Read<number> {
  const plain = text.trim().replace(/[\s\u00a0’',.](?=\d{3}\b)/g, "");
  return /^\d{1,9}$/.test(plain) ? { value: Number(plain) } : wrong("write a whole number");
}

/** A share, typed and refused in per cent: "12", "12.5 %"; sent as a share with six decimals at most. */
export function readShare(text: string): Read<string> {
  const read = readAmount(text.replace("%", ""));
  const share = "value" in read ? Number(read.value) : NaN;
  if (!(share >= 0 && share <= 100)) return wrong("write a share from 0 to 100 per cent");
  return { value: String(Math.round(share * 1e4) / 1e6) };
}

const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];

/** A day as it is typed, by today's date: "3 nov", "3 Nov 2025", "2025-11-03", "3.11.", "today", "yesterday". */
export function readDay(text: string, today: string): Read<string> {
  const plain = text.trim().toLowerCase();
  if (plain === "today") return { value: today };
  if (plain === "yesterday") return { value: shift(today, -1) };
  if (plain === "tomorrow") return { value: shift(today, 1) };
  const fault = wrong("write a day like 3 Nov 2026");
  const year = Number(today.slice(0, 4));
  let found = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(plain);
  if (found) return dayOf(Number(found[1]), Number(found[2]), Number(found[3])) ?? fault;
  found = /^(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4})?$/.exec(plain);
  if (found) return dayOf(Number(found[3] ?? year), Number(found[2]), Number(found[1])) ?? fault;
  found = /^(\d{1,2})\.?\s+([a-z]{3})[a-z]*\.?,?\s*(\d{4})?$/.exec(plain);
  if (found) {
    const month = MONTHS.indexOf(found[2] ?? "") + 1;
    return dayOf(Number(found[3] ?? year), month, Number(found[1])) ?? fault;
  }
  if (/^\d{1,2}\/\d{1,2}/.test(plain)) return wrong("write the month as a word: 3 Nov 2026");
  return fault;
}

function dayOf(year: number, month: number, day: number): { value: string } | null {
  const date = new Date(Date.UTC(year, month - 1, day));
  if (date.getUTCMonth() !== month - 1 || date.getUTCDate() !== day) return null;
  return { value: date.toISOString().slice(0, 10) };
}

function shift(iso: string, days: number): string {
  return new Date(Date.parse(`${iso}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);
}
