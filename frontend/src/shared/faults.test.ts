import { ProblemError } from "./api/client";
import { faultAt, otherFaults, refused } from "./faults";

function problem(...faults: [string, string][]): ProblemError {
  return new ProblemError({
    type: "about:blank",
    title: "Unprocessable",
    status: 422,
    detail: "in all",
    faults: faults.map(([field, message]) => ({ field, message, sheet: null, row: null })),
    flag: null,
  });
}

describe("a refusal, beside its fields", () => {
  const error = problem(["name", "say what it is"], ["count", "must be at least 1"]);

  it("marks the field it names, and no other", () => {
    expect(refused(error, "name")).toEqual({ error: true, helperText: "say what it is" });
    expect(refused(error, "place")).toEqual({ error: false, helperText: undefined });
    expect(faultAt(new Error("name"), "name")).toBeUndefined();
  });

  it("says elsewhere what stands beside no field, and all of what is no refusal", () => {
    expect(otherFaults(error, (field) => field === "name")).toEqual(["count: must be at least 1"]);
    expect(otherFaults(problem(), () => true)).toEqual(["in all"]);
    expect(otherFaults(new Error("gone"), () => true)).toEqual(["Error: gone"]);
    expect(otherFaults(null, () => false)).toEqual([]);
  });
});
