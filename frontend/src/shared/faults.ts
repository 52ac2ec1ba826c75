import { inWords, ProblemError } from "./api/client";

/** The server's words about a field of what was sent. */
export function faultAt(error: unknown, field: string): string | undefined {
  if (!(error instanceof ProblemError)) return undefined;
  return error.problem.faults?.find((fault) => fault.field === field)?.message;
}

/** What a text field shows of a refusal: nothing, or the words with the field marked. */
export function refused(error: unknown, field: string) {
  const words = faultAt(error, field);
  return { error: words !== undefined, helperText: words };
}

/** All that was refused of the one field that there is, in the server's words. */
export function messagesOf(error: unknown): string[] {
  if (!(error instanceof ProblemError)) return [inWords(error)];
  const faults = error.problem.faults ?? [];
  return faults.length ? faults.map(({ message }) => message) : [error.problem.detail];
}

/** All that was refused, in words, but what stands beside the given fields. */
export function otherFaults(error: unknown, isShown: (field: string) => boolean): string[] {
  if (!error) return [];
  if (!(error instanceof ProblemError)) return [String(error)];
  const faults = error.problem.faults ?? [];
  if (!faults.length) return [error.problem.detail];
  return faults.filter((fault) => !isShown(fault.field)).map((fault) => `${fault.field}: ${fault.message}`);
}
