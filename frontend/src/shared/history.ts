import { useSyncExternalStore } from "react";

/** Something that was done in this tab and can be taken back. */
export interface Done {
  number: number;
  text: string;
  at: number;
  state: "done" | "going" | "taken back";
  undo: () => Promise<unknown>;
}

const MOST = 100;
let all: readonly Done[] = [];
let count = 0;
const listeners = new Set<() => void>();

function set(fresh: readonly Done[]): void {
  all = fresh;
  listeners.forEach((listener) => listener());
}

function put(number: number, state: Done["state"]): void {
  set(all.map((act) => (act.number === number ? { ...act, state } : act)));
}

/** Keep what was done, with its way back. Returns its number. */
export function record(text: string, undo: () => Promise<unknown>): number {
  count += 1;
  set([...all, { number: count, text, at: Date.now(), state: "done" as const, undo }].slice(-MOST));
  return count;
}

/** Take an act back; a refusal is thrown, and the act stands. Returns it, or null where it is taken back already. */
export async function takeBack(number: number): Promise<Done | null> {
  const act = all.find((item) => item.number === number);
  if (act?.state !== "done") return null;
  put(number, "going");
  try {
    await act.undo();
  } catch (error) {
    put(number, "done");
    throw error;
  }
  put(number, "taken back");
  return act;
}

/** The last act that still stands: what Ctrl Z takes back. */
export function lastDone(): Done | null {
  return all.findLast((act) => act.state === "done") ?? null;
}

/** The owner has left: what was done is nobody's here any more. */
export function forgetHistory(): void {
  set([]);
}

/** What was done in this tab since it was opened, the last one last. */
export function useHistory(): readonly Done[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => all,
  );
}
