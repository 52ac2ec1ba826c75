import { ProblemError } from "./api/client";

/** The server's words about a field of what was sent. */
export function faultAt(error: unknown, field: string): string | undefined {
  if (!(error instanceof ProblemError)) return undefined;
  return error.problem.faults?.find((fault) => fault.field === field)?.message;
}

/** All that was refused, in words, but what stands beside the given fields. */
export function otherFaults(error: unknown, fields: readonly string[]): string[] {
  if (!error) return [];
  if (!(error instanceof ProblemError)) return [String(error)];
  const faults = error.problem.faults ?? [];
  if (!faults.length) return [error.problem.detail];
  return faults
    .filter((fault) => !fields.includes(fault.field))
    .map((fault) => `${fault.field}: ${fault.message}`);
}
