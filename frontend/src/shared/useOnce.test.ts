import { renderHook } from "@testing-library/react";
import { keyed, useOnce } from "./useOnce";

describe("what is to be made once", () => {
  it("has one key however often it is sent, over renders too, and a fresh one after it was made", () => {
    const { result, rerender } = renderHook(() => useOnce());
    const first = result.current.key();
    rerender();
    expect(result.current.key()).toBe(first);
    result.current.made();
    expect(result.current.key()).not.toBe(first);
    expect(keyed(first)).toEqual({ headers: { "Idempotency-Key": first } });
  });
});
