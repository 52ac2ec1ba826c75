import { inWords, ProblemError } from "../api/client";

/** Something that was entered: it is on its way until it is answered, or refused in words and kept. */
export interface Entry<W> {
  /** Its key for good: however often it is sent, it is carried out once. */
  key: string;
  what: W;
  state: "waiting" | "sending" | "refused";
  /** How often it was sent; what was never sent can still be dropped. */
  sent: number;
  fault?: string;
}

interface Ways<W, R> {
  send: (what: W, key: string) => Promise<R>;
  /** An answer came: what stands then, before the entry is shown no more. */
  answered: (answer: R) => unknown;
  /** Where entries outlive a reload. */
  keep?: { name: string; store: Storage };
  /** How long to wait after so many failures, in milliseconds. */
  pause?: (failures: number) => number;
}

const SOON = 250;
const LATE = 8_000;

/** Whether a send may succeed when it is sent again as it is: nobody answered, or the server stumbled. */
function passes(error: unknown): boolean {
  if (!(error instanceof ProblemError)) return false;
  const { status } = error.problem;
  return status === 0 || status === 429 || status >= 500;
}

/**
 * Entries in the order in which they were made, sent one after another, each under a key of its own until its answer is
 * known. So entry is as fast as typing whatever the delay, nothing is lost by an answer that does not come, and nothing
 * is done twice. A refusal keeps its entry and holds up no other.
 */
export class EntryQueue<W, R> {
  private all: readonly Entry<W>[];
  private readonly listeners = new Set<() => void>();
  private failures = 0;
  private busy = false;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly ways: Ways<W, R>) {
    this.all = this.read();
    void this.work();
  }

  readonly entries = (): readonly Entry<W>[] => this.all;

  /** How often the entry at the head failed so far without an answer. */
  readonly held = (): number => this.failures;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  add(what: W): Entry<W> {
    const entry: Entry<W> = { key: crypto.randomUUID(), what, state: "waiting", sent: 0 };
    this.set([...this.all, entry]);
    void this.work();
    return entry;
  }

  /** Drop what was never sent, or was refused; what is under way can only be taken back. Says whether it is gone. */
  drop(key: string): boolean {
    const found = this.all.find((entry) => entry.key === key);
    if (!found || (found.state !== "refused" && found.sent > 0)) return false;
    this.set(this.all.filter((entry) => entry !== found));
    return true;
  }

  /** Send now what waits for its next try. */
  readonly hurry = (): void => {
    clearTimeout(this.timer);
    this.timer = undefined;
    void this.work();
  };

  private async work(): Promise<void> {
    if (this.busy || this.timer !== undefined) return;
    const next = this.all.find((entry) => entry.state === "waiting");
    if (!next) return;
    this.busy = true;
    this.put(next.key, { state: "sending", sent: next.sent + 1 });
    try {
      const answer = await this.ways.send(next.what, next.key);
      this.failures = 0;
      await this.ways.answered(answer);
      this.set(this.all.filter((entry) => entry.key !== next.key));
    } catch (error) {
      if (passes(error)) {
        this.failures += 1;
        this.put(next.key, { state: "waiting" });
        const pause = this.ways.pause ?? ((failures) => Math.min(SOON * 2 ** (failures - 1), LATE));
        this.timer = setTimeout(this.hurry, pause(this.failures));
      } else {
        this.failures = 0;
        this.put(next.key, { state: "refused", fault: wordsOf(error) });
      }
    } finally {
      this.busy = false;
    }
    void this.work();
  }

  private put(key: string, change: Partial<Entry<W>>): void {
    this.set(this.all.map((entry) => (entry.key === key ? { ...entry, ...change } : entry)));
  }

  private set(entries: readonly Entry<W>[]): void {
    this.all = entries;
    const keep = this.ways.keep;
    if (keep) {
      if (entries.length) keep.store.setItem(keep.name, JSON.stringify(entries));
      else keep.store.removeItem(keep.name);
    }
    this.listeners.forEach((listener) => listener());
  }

  /** What a reload left behind is sent again under the same keys. */
  private read(): readonly Entry<W>[] {
    const keep = this.ways.keep;
    try {
      const kept = keep ? (JSON.parse(keep.store.getItem(keep.name) ?? "[]") as Entry<W>[]) : [];
      return kept.map((entry) => (entry.state === "sending" ? { ...entry, state: "waiting" } : entry));
    } catch {
      return []; // of an older shape
    }
  }
}

/** All that was refused about an entry, in the words of the server. */
function wordsOf(error: unknown): string {
  const faults = error instanceof ProblemError ? (error.problem.faults ?? []) : [];
  return faults.length ? faults.map((fault) => fault.message).join("; ") : inWords(error);
}
