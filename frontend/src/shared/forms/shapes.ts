import * as z from "zod/mini";
import { readAmount, readDay, readShare, readWhole, type Read } from "./reading";

/** The shape of what a field holds, from its text to what is sent; the rules are the server's. */
type Shape<T> = z.ZodMiniType<T, string>;

export function shape<T>(read: (text: string) => Read<T>): Shape<T> {
  return z.pipe(
    z.string(),
    z.transform((text, context) => {
      const found = read(text);
      if ("value" in found) return found.value;
      context.issues.push({ code: "custom", message: found.fault, input: text });
      return z.NEVER;
    }),
  );
}

/** The same, where the field may be left empty: null is sent then. */
function maybe<T>(read: (text: string) => Read<T>): Shape<T | null> {
  return shape<T | null>((text) => (text.trim() === "" ? { value: null } : read(text)));
}

const anyWords = (text: string): Read<string> => ({ value: text.trim() });

export const words = shape(anyWords);
/** A code of capitals, however it is typed. */
export const code = shape((text) => ({ value: text.trim().toUpperCase() }));
export const maybeWords = maybe(anyWords);
export const amount = shape(readAmount);
/** A figure that is no money that happened: sent as a number. */
export const figure = shape<number>((text) => {
  const read = readAmount(text);
  return "value" in read ? { value: Number(read.value) } : { fault: "write a number like 12.5" };
});
export const maybeAmount = maybe(readAmount);
export const whole = shape(readWhole);
export const maybeWhole = maybe(readWhole);
export const share = shape(readShare);
export const maybeShare = maybe(readShare);
export const day = (today: string) => shape((text) => readDay(text, today));
export const maybeDay = (today: string) => maybe((text) => readDay(text, today));
