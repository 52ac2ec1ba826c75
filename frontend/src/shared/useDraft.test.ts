import { act, renderHook } from "@testing-library/react";
import { forgetDrafts, useDraft } from "./useDraft";

describe("a draft", () => {
  afterEach(() => sessionStorage.clear());

  it("outlives a reload until it is forgotten, and ends with the owner's leaving", () => {
    const first = renderHook(() => useDraft("purchase", { name: "" }));
    act(() => first.result.current[1]({ name: "two boxes" }));
    expect(first.result.current[0]).toEqual({ name: "two boxes" });
    first.unmount();
    const again = renderHook(() => useDraft("purchase", { name: "" }));
    expect(again.result.current[0]).toEqual({ name: "two boxes" });
    act(() => again.result.current[2]());
    expect(renderHook(() => useDraft("purchase", { name: "" })).result.current[0]).toEqual({ name: "" });
    act(() => again.result.current[1]({ name: "a lot" }));
    sessionStorage.setItem("of-another", "stays");
    forgetDrafts();
    expect(Object.keys(sessionStorage)).toEqual(["of-another"]);
  });

  it("of a shape that nobody reads is no draft", () => {
    sessionStorage.setItem("tobbix-draft-purchase", "{name");
    expect(renderHook(() => useDraft("purchase", { name: "" })).result.current[0]).toEqual({ name: "" });
  });
});
