import * as z from "zod/mini";
import { amount, code, day, figure, maybeAmount, maybeDay, maybeWords, share, whole, words } from "./shapes";

const said = (shape: z.ZodMiniType<unknown, string>, text: string) => {
  const found = z.safeParse(shape, text);
  return found.success ? found.data : found.error.issues.map((it) => it.message).join();
};

describe("what a field holds, from its text to what is sent", () => {
  it("keeps money a text, exactly, with a comma or a point", () => {
    expect(said(amount, "12,50")).toBe("12.50");
    expect(said(amount, "0.1")).toBe("0.1");
    expect(said(amount, "a lot")).toContain("write an amount");
    expect(said(figure, "12.5")).toBe(12.5);
    expect(said(figure, "many")).toBe("write a number like 12.5");
  });

  it("sends nothing where a field may be empty, and refuses it where it may not", () => {
    expect([maybeAmount, maybeWords, maybeDay("2026-11-28")].map((it) => said(it, "  "))).toEqual([
      null,
      null,
      null,
    ]);
    expect(said(amount, "")).toContain("write an amount");
    expect(said(maybeAmount, "x")).toContain("write an amount");
  });

  it("reads days, shares, counts, codes and words as people write them", () => {
    expect(said(day("2026-11-28"), "3 Nov 2026")).toBe("2026-11-03");
    expect(said(share, "8,5")).toBe("0.085");
    expect(said(whole, "1200")).toBe(1200);
    expect(said(code, " eur ")).toBe("EUR");
    expect(said(words, " Tove Maribel ")).toBe("Tove Maribel");
  });
});
