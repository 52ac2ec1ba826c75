import { act, renderHook } from "@testing-library/react";
import { around } from "./around";
import { useDayField } from "./useDayField";

test("a day is today until another is typed, in any way that days are written; what is none is said and stays", () => {
  vi.useFakeTimers({ now: new Date("2026-11-28T12:00:00Z"), toFake: ["Date"] });
  const { result } = renderHook(() => useDayField(), { wrapper: around() });
  expect([result.current.day, result.current.field().value]).toEqual(["2026-11-28", "28 Nov 2026"]);
  const type = (text: string) => act(() => result.current.field().commit(text));
  for (const text of ["1 Dec 2027", "2027-12-01", "1.12.2027"]) {
    type(text);
    expect([result.current.day, result.current.field().value]).toEqual(["2027-12-01", text]);
  }
  type("soon");
  expect(result.current.day).toBeNull();
  expect(result.current.field("is after today")).toMatchObject({
    value: "soon",
    fault: "write a day like 3 Nov 2026",
  });
  type("yesterday");
  expect(result.current.day).toBe("2026-11-27");
  expect(result.current.field("is before it was posted").fault).toBe("is before it was posted");
  vi.useRealTimers();
});
