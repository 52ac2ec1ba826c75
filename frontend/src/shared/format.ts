const MINUS = "\u2212";
const NARROW = "\u00a0"; // a sign stays with its figure
const UNKNOWN = "unknown";

const twoDigits = new Intl.NumberFormat("en-GB", { minimumFractionDigits: 2, maximumFractionDigits: 2 });
const short = new Intl.NumberFormat("en-GB", { maximumFractionDigits: 2 });
const oneDigit = new Intl.NumberFormat("en-GB", { minimumFractionDigits: 1, maximumFractionDigits: 1 });
const whole = new Intl.NumberFormat("en-GB", { maximumFractionDigits: 0 });

function signed(text: string): string {
  return text.replace("-", MINUS);
}

/** An amount with two digits, a real minus sign, and "unknown" for what is not known. */
export function money(value: number | string | null | undefined): string {
  if (value === null || value === undefined) return UNKNOWN;
  return signed(twoDigits.format(Number(value)));
}

/** A gain or loss with its sign, so that it does not hang on colour. */
export function gain(value: number | null | undefined): string {
  if (value === null || value === undefined) return UNKNOWN;
  return `${value > 0 ? "+" : ""}${money(value)}`;
}

/** A share as a field holds it: 0.085 is "8.5". */
export function asPercent(value: number): string {
  return String(Math.round(value * 1e6) / 1e4);
}

/** What a field of per cent holds, as a share; null for what is no number. */
export function fromPercent(text: string): number | null {
  return /^-?\d{1,6}(\.\d{1,4})?$/.test(text.trim()) ? Number(text) / 100 : null;
}

/** A count to three digits, as an estimate is said. */
export function roughly(value: number | null | undefined): string {
  if (value === null || value === undefined) return UNKNOWN;
  return value >= 100
    ? whole.format(Number(value.toPrecision(3)))
    : short.format(Number(value.toPrecision(3)));
}

/** An amount for an axis: no digits where there are none to show. */
export function axisMoney(value: number): string {
  return signed(short.format(value));
}

/** A chance or share: 83 %, 0.4 %, and never a certainty that it is not. */
export function percent(value: number | null | undefined): string {
  if (value === null || value === undefined) return UNKNOWN;
  const shown = value * 100;
  if (shown > 0 && shown < 0.1) return `< 0.1${NARROW}%`;
  if (shown < 100 && shown > 99.9) return `> 99.9${NARROW}%`;
  const digits = shown !== 0 && shown !== 100 && (shown < 10 || shown > 99) ? 1 : 0;
  return `${shown.toFixed(digits)}${NARROW}%`;
}

/** Expected hits: two digits, more where they would vanish. */
export function hits(value: number | null | undefined): string {
  if (value === null || value === undefined) return UNKNOWN;
  if (value !== 0 && value < 0.01) return value.toPrecision(1);
  return value >= 100 ? oneDigit.format(value) : value.toFixed(2);
}

/** "1 in 14 boxes", from the number of boxes a copy takes. */
export function oneIn(value: number | null | undefined, many: string): string {
  if (value === null || value === undefined) return UNKNOWN;
  if (value <= 1) return `${short.format(1 / value)} in each`;
  return `1 in ${value < 10 ? value.toFixed(1) : whole.format(value)} ${many}`;
}

/** A date as people write it: 1 Nov 2026. */
export function day(iso: string): string {
  return new Date(`${iso}T00:00:00`).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "short",
    year: "numeric",
  });
}

/** How many days ago a date was, as an age. */
export function age(iso: string, now: Date): string {
  const days = Math.round((now.getTime() - new Date(`${iso}T00:00:00`).getTime()) / 86_400_000);
  if (days <= 0) return "today";
  return days === 1 ? "a day old" : `${days} days old`;
}

export function count(value: number): string {
  return whole.format(value);
}

/** So many of something: "1 card", "1,200 cards"; `several` where it is not said with an s. */
export function counted(value: number, one: string, several = `${one}s`): string {
  return `${count(value)} ${value === 1 ? one : several}`;
}

const momentFormat = new Intl.DateTimeFormat("en-GB", {
  day: "numeric",
  month: "short",
  year: "numeric",
  hour: "2-digit",
  minute: "2-digit",
});

const clockFormat = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

/** The time of a day by the local clock: 07:04. */
export function clock(time: number): string {
  return clockFormat.format(time);
}

/** A moment by the local clock: 26 Nov 2026, 07:04. */
export function moment(iso: string): string {
  return momentFormat.format(new Date(iso));
}
