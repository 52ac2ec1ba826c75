import { shape } from "./forms/shapes";

/** A size as it is shown; an outer's thickness that is not said grows with its content. */
export function inSizes(sides: readonly (string | null)[]): string {
  return sides.map((it) => (it === null ? "content" : String(Number(it)))).join(" x ");
}

/** Width, height and thickness in mm as they are typed: "70 x 95 x 1", with commas or points, any sign between. */
export function readSizes(text: string): { value: (string | null)[] | null } | { fault: string } {
  if (!text.trim()) return { value: null };
  const sides = text
    .trim()
    .split(/\s*[x×*;/]\s*|\s+/i)
    .filter(Boolean)
    .map((it) => it.replace(",", "."));
  const open = sides.length === 2 ? [...sides, null] : sides;
  if (open.length !== 3 || open.some((it) => it !== null && !/^\d{1,5}(\.\d{1,2})?$/.test(it)))
    return { fault: "write it like 70 x 95 x 1" };
  return { value: open };
}

export const maybeSizes = shape(readSizes);
